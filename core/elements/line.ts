/** A line along a curve, or along the outline of a subject: on it or beside it, whole or a stretch of it. */
import { type Descriptions, POINT, type ValuesOf } from '../effects/settings.ts';
import type { Rgba } from '../image/picture.ts';
import { defineFree, type Scene } from './element.ts';
import { layOver, lightSettings } from './paint.ts';
import { linesOf } from './source.ts';
import { addGlow, type Stroke, strokeLines } from './stroke.ts';

const SETTINGS = {
  from: { kind: 'number', label: 'From', about: 'Where along the outline it begins.', unit: '%', min: 0, max: 100, step: 0.5, start: 0 },
  to: { kind: 'number', label: 'To', about: 'Where along the outline it ends; keyed, it draws itself.', unit: '%', min: 0, max: 100, step: 0.5, start: 100 },
  width: { kind: 'number', label: 'Width', about: 'How thick it is.', unit: 'px', min: 0, max: 1000, step: 0.5, start: 6, usual: [0, 60] },
  beside: {
    kind: 'number',
    label: 'Offset',
    about: 'How far outside the outline it runs; below zero, inside.',
    unit: 'px',
    min: -500,
    max: 500,
    step: 0.5,
    start: 0,
    usual: [-60, 60],
  },
  corners: {
    kind: 'choice',
    label: 'Corners',
    about: 'How it turns sharp corners.',
    options: [
      { id: 'round', label: 'Round' },
      { id: 'square', label: 'Square' },
    ],
    start: 'round',
  },
  begins: {
    kind: 'choice',
    label: 'Begins',
    about: 'Where a closed outline begins: always at the same place of what it goes round, or where it comes nearest to a place of yours.',
    options: [
      { id: 'same', label: 'At the same place' },
      { id: 'near', label: 'Nearest to the place below' },
    ],
    start: 'same',
  },
  beginX: { ...POINT.x, label: 'Begin X', about: 'From the left side of the plate, where a place of yours is taken.' },
  beginY: { ...POINT.y, label: 'Begin Y', about: 'From the top of the plate, where a place of yours is taken.' },
  ...lightSettings(0, 0, 60),
} as const satisfies Descriptions;

type V = ValuesOf<typeof SETTINGS>;

async function render(layer: Rgba, scene: Scene<V>): Promise<void> {
  const { values, scale } = scene;
  const { begins, beginX, beginY } = values;
  const lines = await linesOf(scene, begins === 'near' ? [beginX, beginY] : null);
  const alpha = new Float32Array(layer.width * layer.height);
  const px = (key: 'width' | 'beside' | 'softness' | 'glow') => values[key] * scale;
  const stroke: Stroke = {
    width: px('width'),
    beside: px('beside'),
    from: values.from / 100,
    to: values.to / 100,
    square: values.corners === 'square',
    softness: px('softness'),
  };
  strokeLines(lines, stroke, layer, alpha);
  if (px('glow') > 0) addGlow(alpha, layer, stroke.width, px('glow'), values.glowStrength / 100);
  const [red, green, blue] = values.colour;
  for (let p = 0; p < alpha.length; p++) if (alpha[p] > 0) layOver(layer.data, 4 * p, red, green, blue, alpha[p]);
}

export const lineElement = defineFree({
  id: 'line',
  label: 'Line',
  about: 'A line along a curve or the outline of a subject, that can draw itself.',
  has: 'outline',
  settings: SETTINGS,
  render,
});
