/** A patch painted over the picture: where its lines go it shows the same shot on another frame, or beside. */
import { choice, number, type ValuesOf } from '../effects/settings.ts';
import { gaussianBlur } from '../image/gaussian.ts';
import { copyIn } from '../image/in-room.ts';
import { newRgba, type Rgba } from '../image/picture.ts';
import { warpInto } from '../image/warp.ts';
import { clamp } from '../math/clamp.ts';
import { type Homography, inverseOf, multiply, translation } from '../math/homography.ts';
import { defineFree, type Scene } from './element.ts';
import { fillOver } from './paint.ts';
import { ledOnLayer } from './place.ts';
import { linesOf } from './source.ts';
import { strokeLines } from './stroke.ts';

const SETTINGS = {
  takes: choice('Takes', 'From which frame of this shot it is.', { frame: 'The frame below', away: 'The one that is so many frames away' }),
  frame: number('Its frame', 'The frame that shows what is wanted; keys can change it.', 'fr', [0, 1_000_000, 1], 0, [0, 200]),
  away: number(
    'Away',
    'How many frames later; below zero, earlier. Before the first frame and after the last, that one.',
    'fr',
    [-100_000, 100_000, 1],
    12,
    [-60, 60],
  ),
  shiftX: number('Source X', 'How far right of it lies what it shows; below zero, left.', 'px', [-20_000, 20_000, 0.5], 0, [-400, 400]),
  shiftY: number('Source Y', 'How far below it lies what it shows; below zero, above.', 'px', [-20_000, 20_000, 0.5], 0, [-400, 400]),
  width: number('Brush', 'How wide its lines are.', 'px', [0.5, 2000, 0.5], 60, [0, 300]),
  softness: number('Softness', 'How far its edge fades.', 'px', [0, 500, 0.5], 16, [0, 80]),
} as const;
type V = ValuesOf<typeof SETTINGS>;

/** How much of the patch there is at each pixel: along open lines as wide as the brush, within closed ones, which fade alike. */
async function painted(scene: Scene<V>, layer: Rgba): Promise<Float32Array> {
  const { values, scale } = scene;
  const lines = await linesOf(scene, null);
  const { width, height } = layer;
  const alpha = new Float32Array(width * height);
  const softness = values.softness * scale;
  strokeLines(
    lines.filter((l) => !l.closed),
    { width: values.width * scale, beside: 0, from: 0, to: 1, square: false, softness },
    layer,
    alpha,
  );
  const closed = lines.filter((l) => l.closed).map((l) => l.points.slice());
  if (closed.length === 0) return alpha;
  const filled = newRgba(width, height);
  fillOver(filled, closed, [1, 1, 1]);
  if (softness > 0) gaussianBlur(filled.data, width, height, 4, softness / 2, softness / 2);
  for (let p = 0; p < alpha.length; p++) alpha[p] = Math.max(alpha[p], filled.data[4 * p + 3]);
  return alpha;
}

/** Takes places of the layer to those of the frame that is shown: that moves as what the patch follows does, and is taken from beside. */
function wayToSource(scene: Scene<V>, frame: number): Homography | null {
  const { values, time, scale } = scene;
  const [here, there] = [ledOnLayer(scene, time), ledOnLayer(scene, frame)];
  const back = here && inverseOf(here);
  const moved = back && there ? multiply(there, back) : null;
  const [x, y] = [values.shiftX * scale, values.shiftY * scale];
  if (x === 0 && y === 0) return moved;
  return moved ? multiply(moved, translation(x, y)) : translation(x, y);
}

async function render(layer: Rgba, scene: Scene<V>): Promise<void> {
  const { document, sources, size, values, time } = scene;
  const alpha = await painted(scene, layer);
  if (!alpha.some((a) => a > 0)) return;
  const frame = clamp(Math.round(values.takes === 'frame' ? values.frame : time + values.away), 0, document.plate.frames - 1);
  const picture = await sources.plate(frame, size);
  const way = wayToSource(scene, frame);
  if (way) warpInto(layer, copyIn(null, picture), way);
  else layer.data.set(picture.data);
  const { data } = layer;
  for (let p = 0; p < alpha.length; p++) for (let k = 4 * p; k < 4 * p + 4; k++) data[k] *= alpha[p];
}

export const patchElement = defineFree({
  id: 'patch',
  label: 'Patch',
  about: 'Painted over what should not be there: shows the same place on another frame, or the place beside it. Its own effects match its light.',
  has: 'outline',
  brush: true,
  shows: 'pictures',
  settings: SETTINGS,
  render,
});
