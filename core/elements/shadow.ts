/** The shadow of a subject: cast onto the ground, and dark where it stands. */
import { angle, colour, number, type ValuesOf } from '../effects/settings.ts';
import { gaussianBlur } from '../image/gaussian.ts';
import { extentOfGray, type Gray, isEmpty, newGray, type Rgba } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { defineFree, type Scene } from './element.ts';
import { subjectOf } from './source.ts';

const SETTINGS = {
  colour: colour('Colour', 'What colour the shadow is.', [0.04, 0.06, 0.1]),
  strength: number('Strength', 'How much of the ground the cast shadow covers.', '%', [0, 100, 1], 55),
  direction: angle('Direction', 'Which way it falls from where the subject stands; 90 is downwards in the picture.', 30),
  length: number('Length', 'How long it is, against the height of the subject.', '%', [0, 1000, 1], 60, [0, 200]),
  softness: number('Softness', 'How far its edge fades where the subject stands.', 'px', [0, 500, 0.5], 2, [0, 60]),
  softer: number('Softer far off', 'How far its edge fades at its far end.', 'px', [0, 500, 0.5], 14, [0, 100]),
  fades: number('Fades far off', 'How much weaker it is at its far end.', '%', [0, 100, 1], 40),
  ground: number('Ground', 'How far above the lowest place of the subject it stands.', 'px', [-2000, 2000, 0.5], 2, [-60, 60]),
  contact: number('Contact', 'How dark it is right where the subject stands.', '%', [0, 100, 1], 60),
  contactHeight: number('Contact height', 'How high above the ground what touches it counts.', 'px', [0, 2000, 1], 14, [0, 100]),
  contactSoftness: number('Contact softness', 'How far that fades.', 'px', [0, 500, 0.5], 6, [0, 60]),
} as const;
type V = ValuesOf<typeof SETTINGS>;

/** A direction along the ground would be no area: at least so much of it goes up or down. */
const LEAST = 0.06;

/** A matte laid flat from a line of the picture on: what lies `h` above that goes `h` times the length along the direction. */
function laidFlat(matte: Gray, foot: number, dx: number, dy: number): Gray {
  const { width, height, data } = matte;
  const out = newGray(width, height);
  for (let y = 0; y < height; y++) {
    const h = (y + 0.5 - foot) / dy;
    if (h < 0 || h > foot + 1) continue;
    const v = foot - h - 0.5;
    const y0 = Math.floor(v);
    const fy = v - y0;
    const shift = h * dx;
    const x0 = Math.floor(-shift);
    const fx = -shift - x0;
    const read = (x: number, row: number) => (x < 0 || row < 0 || x >= width || row >= height ? 0 : data[row * width + x]);
    for (let x = 0; x < width; x++) {
      const upper = read(x + x0, y0) * (1 - fx) + read(x + x0 + 1, y0) * fx;
      const lower = read(x + x0, y0 + 1) * (1 - fx) + read(x + x0 + 1, y0 + 1) * fx;
      out.data[y * width + x] = upper * (1 - fy) + lower * fy;
    }
  }
  return out;
}

async function render(layer: Rgba, { values: v, document, item, time, mattes, scale }: Scene<V>): Promise<void> {
  const subject = subjectOf(document, item);
  if (!subject) return;
  const frame = clamp(Math.round(time), 0, document.plate.frames - 1);
  const matte = await mattes(subject.id, frame);
  const extent = extentOfGray(matte);
  if (isEmpty(extent)) return;
  const { width, height } = layer;
  const foot = extent.bottom - v.ground * scale;
  const turn = (v.direction * Math.PI) / 180;
  const long = Math.max(0.01, v.length / 100);
  const steep = Math.sin(turn);
  const [dx, dy] = [Math.cos(turn) * long, (Math.abs(steep) < LEAST ? (steep < 0 ? -LEAST : LEAST) : steep) * long];
  const near = v.length > 0 ? laidFlat(matte, foot, dx, dy) : newGray(width, height);
  const far = { ...near, data: near.data.slice() };
  const blur = ({ data }: Gray, px: number) => px > 0 && gaussianBlur(data, width, height, 1, (px * scale) / 2, (px * scale) / 2);
  blur(near, v.softness);
  blur(far, v.softer);
  const tall = Math.max(1, foot - extent.top);
  // What touches the ground: the foot of the matte, spread.
  const touch = newGray(width, height);
  const high = v.contactHeight * scale;
  for (let y = Math.max(0, Math.floor(foot - high)); y < Math.min(height, extent.bottom); y++) {
    const share = high > 0 ? clamp(1 - (foot - y) / high, 0, 1) : 0;
    for (let x = extent.left; x < extent.right; x++) touch.data[y * width + x] = matte.data[y * width + x] * share;
  }
  blur(touch, v.contactSoftness * 2);
  const [strength, contact, fades] = [v.strength / 100, v.contact / 100, v.fades / 100];
  for (let y = 0, p = 0, o = 0; y < height; y++) {
    const share = clamp((y + 0.5 - foot) / dy / tall, 0, 1);
    for (let x = 0; x < width; x++, p++, o += 4) {
      const cast = strength * (1 - fades * share) * (near.data[p] + (far.data[p] - near.data[p]) * share);
      // Spread over more than it was, it is as dark as it touches.
      const dark = contact * Math.min(1, 2 * touch.data[p]);
      const a = 1 - (1 - cast) * (1 - dark);
      if (a <= 0) continue;
      for (let k = 0; k < 3; k++) layer.data[o + k] = v.colour[k] * a;
      layer.data[o + 3] = a;
    }
  }
}

export const shadowElement = defineFree({
  id: 'shadow',
  label: 'Shadow',
  about: 'The shadow of a subject on the ground, and the dark where it stands. Put it behind the subject.',
  has: 'subject',
  settings: SETTINGS,
  render,
});
