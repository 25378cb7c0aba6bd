/** A card: a rectangle of one colour, or of several that go into one another. */
import type { Descriptions, ValuesOf } from '../effects/settings.ts';
import type { Rgba } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { inverseOf } from '../math/homography.ts';
import { definePlaced, type PlacedScene } from './element.ts';
import { coverage, visibleBox } from './paint.ts';

const NUMBERS = ['1', '2', '3', '4'] as const;

const SETTINGS = {
  width: { kind: 'number', label: 'Width', about: 'Before it is scaled.', unit: 'px', min: 0, max: 20_000, step: 1, start: 640, usual: [0, 2000] },
  height: { kind: 'number', label: 'Height', about: 'Before it is scaled.', unit: 'px', min: 0, max: 20_000, step: 1, start: 360, usual: [0, 2000] },
  roundness: { kind: 'number', label: 'Corners', about: 'Radius of the corners.', unit: 'px', min: 0, max: 5000, step: 1, start: 0, usual: [0, 200] },
  softness: { kind: 'number', label: 'Softness', about: 'How far the edge fades.', unit: 'px', min: 0, max: 1000, step: 0.5, start: 0, usual: [0, 100] },
  colours: {
    kind: 'choice',
    label: 'Colours',
    about: 'How many colours go into one another.',
    options: NUMBERS.map((id) => ({ id, label: id })),
    start: '2',
  },
  form: {
    kind: 'choice',
    label: 'Gradient',
    about: 'Which way the colours go.',
    options: [
      { id: 'linear', label: 'Across' },
      { id: 'radial', label: 'From the middle' },
    ],
    start: 'linear',
  },
  angle: {
    kind: 'number',
    label: 'Angle',
    about: 'Direction of the gradient; 90 is downwards.',
    unit: '°',
    min: -36_000,
    max: 36_000,
    step: 1,
    start: 90,
    usual: [-180, 180],
  },
  colour1: { kind: 'colour', label: 'Colour 1', about: 'Where the gradient begins.', start: [0.1, 0.22, 0.3] },
  colour2: { kind: 'colour', label: 'Colour 2', about: 'The second colour.', start: [0.86, 0.66, 0.42] },
  colour3: { kind: 'colour', label: 'Colour 3', about: 'The third colour.', start: [0.93, 0.86, 0.74] },
  colour4: { kind: 'colour', label: 'Colour 4', about: 'The fourth colour.', start: [0.3, 0.34, 0.38] },
} as const satisfies Descriptions;

type V = ValuesOf<typeof SETTINGS>;

/** The share of the way through the gradient at a place of the card. */
function gradientOf(values: V, halfWidth: number, halfHeight: number): (x: number, y: number) => number {
  if (values.form === 'radial') return (x, y) => Math.sqrt((x / halfWidth) ** 2 + (y / halfHeight) ** 2);
  const angle = (values.angle * Math.PI) / 180;
  const [dx, dy] = [Math.cos(angle), Math.sin(angle)];
  const reach = Math.abs(dx) * halfWidth + Math.abs(dy) * halfHeight;
  return (x, y) => 0.5 + (x * dx + y * dy) / (2 * reach);
}

async function render(layer: Rgba, { values, box, motion }: PlacedScene<V>): Promise<void> {
  const back = inverseOf(motion);
  if (!back) return;
  const halfWidth = box.width / 2;
  const halfHeight = box.height / 2;
  const radius = Math.min(values.roundness, halfWidth, halfHeight);
  const softness = values.softness;
  const colours = NUMBERS.slice(0, Number(values.colours)).map((n) => values[`colour${n}`]);
  const share = gradientOf(values, halfWidth, halfHeight);
  const { left, top, right, bottom } = visibleBox(layer, motion, { width: box.width + 2 * softness, height: box.height + 2 * softness });
  const [a, b, c, d, e, f, g, h, i] = back;
  const { data } = layer;
  for (let y = top; y < bottom; y++)
    for (let x = left; x < right; x++) {
      const w = g * (x + 0.5) + h * (y + 0.5) + i;
      if (w <= 0) continue;
      const u = (a * (x + 0.5) + b * (y + 0.5) + c) / w;
      const v = (d * (x + 0.5) + e * (y + 0.5) + f) / w;
      // How much of the layer one pixel of the card takes across its two directions here.
      const growsX = w / Math.sqrt((a - u * g) ** 2 + (b - u * h) ** 2);
      const growsY = w / Math.sqrt((d - v * g) ** 2 + (e - v * h) ** 2);
      const qx = Math.abs(u) - halfWidth + radius;
      const qy = Math.abs(v) - halfHeight + radius;
      let beyond: number;
      let grows: number;
      if (qx > 0 && qy > 0) {
        // By the round corner, across its arc.
        const far = Math.hypot(qx, qy);
        grows = far / Math.hypot(qx / growsX, qy / growsY);
        beyond = (far - radius) * grows;
      } else {
        beyond = Math.max((qx - radius) * growsX, (qy - radius) * growsY);
        grows = (qx - radius) * growsX > (qy - radius) * growsY ? growsX : growsY;
      }
      const alpha = coverage(beyond, softness * grows);
      if (alpha <= 0) continue;
      const t = clamp(share(u, v), 0, 1) * (colours.length - 1);
      const first = Math.min(colours.length - 1, Math.floor(t));
      const from = colours[first];
      const to = colours[Math.min(colours.length - 1, first + 1)];
      const o = (y * layer.width + x) * 4;
      for (let k = 0; k < 3; k++) data[o + k] = (from[k] + (to[k] - from[k]) * (t - first)) * alpha;
      data[o + 3] = alpha;
    }
}

export const cardElement = definePlaced({
  id: 'card',
  label: 'Card',
  about: 'A rectangle of one colour, or of several that go into one another.',
  has: null,
  settings: SETTINGS,
  async boxOf({ values }) {
    const [width, height] = [values.width, values.height];
    return width > 0 && height > 0 ? { width, height } : null;
  },
  beyond: ({ softness }) => softness,
  render,
});
