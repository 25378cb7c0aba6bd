/** A curve, or the outline of a subject, filled and stroked. */
import { choice, colour, number, type ValuesOf } from '../effects/settings.ts';
import { gaussianBlur } from '../image/gaussian.ts';
import { newRgba, type Rgba } from '../image/picture.ts';
import { defineFree, type Scene } from './element.ts';
import { fillOver, layOver } from './paint.ts';
import { linesOf } from './source.ts';
import { strokeLines } from './stroke.ts';

const SETTINGS = {
  fill: colour('Fill', 'What colour it is filled with.', [0.86, 0.66, 0.42]),
  fillAlpha: number('Fill alpha', 'How much the filling covers; open curves are not filled.', '%', [0, 100, 1], 100),
  softness: number('Softness', 'How far its edge fades.', 'px', [0, 500, 0.5], 0, [0, 60]),
  stroke: colour('Line', 'What colour the line round it is.', [0.98, 0.95, 0.88]),
  strokeAlpha: number('Line alpha', 'How much the line covers.', '%', [0, 100, 1], 100),
  width: number('Line width', 'How thick the line is; 0 is none.', 'px', [0, 1000, 0.5], 4, [0, 60]),
  corners: choice('Corners', 'How the line turns sharp corners.', { round: 'Round', square: 'Square' }),
} as const;
type V = ValuesOf<typeof SETTINGS>;

async function render(layer: Rgba, scene: Scene<V>): Promise<void> {
  const { values, scale } = scene;
  const lines = await linesOf(scene, null);
  const { width, height, data } = layer;
  const closed = lines.filter((l) => l.closed).map((l) => l.points.slice());
  if (closed.length > 0 && values.fillAlpha > 0) {
    const filled = newRgba(width, height);
    fillOver(filled, closed, values.fill);
    const share = values.fillAlpha / 100;
    const sigma = (values.softness * scale) / 2;
    if (sigma > 0) gaussianBlur(filled.data, width, height, 4, sigma, sigma);
    for (let i = 0; i < data.length; i++) data[i] = filled.data[i] * share;
  }
  const alpha = new Float32Array(width * height);
  const stroke = { width: values.width * scale, beside: 0, from: 0, to: 1, square: values.corners === 'square', softness: values.softness * scale };
  strokeLines(lines, stroke, layer, alpha);
  const [red, green, blue] = values.stroke;
  const share = values.strokeAlpha / 100;
  for (let p = 0; p < alpha.length; p++) if (alpha[p] > 0) layOver(data, 4 * p, red, green, blue, alpha[p] * share);
}

export const shapeElement = defineFree({
  id: 'shape',
  label: 'Shape',
  about: 'A curve, or the outline of a subject, filled with a colour and with a line round it.',
  has: 'outline',
  settings: SETTINGS,
  render,
});
