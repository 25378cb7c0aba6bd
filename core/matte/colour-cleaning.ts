/**
 * Colour cleaning of soft edges: the subject's own colour in the soft band, with the old background taken out. By blur fusion
 * (Forte and Pitié 2021, "Approximate fast foreground colour estimation"): colours of the sure subject and of the sure
 * background are spread into the band, then corrected so that both mixed by alpha give the picture; once wide, once narrow.
 */
import { gaussianBlur } from '../image/gaussian.ts';
import { type Gray, newRgba, type Rgba } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';

/** Deviations of the two passes in pixels of a picture 1080 lines high. */
const WIDE = 24;
const NARROW = 2;

/** Weighted means of the colours round each pixel: alpha of the result holds the blurred weight. */
function spread(colour: Rgba, weight: (p: number) => number, sigma: number): Rgba {
  const out = newRgba(colour.width, colour.height);
  const { data } = out;
  for (let p = 0, i = 0; i < data.length; p++, i += 4) {
    const w = weight(p);
    data[i] = colour.data[i] * w;
    data[i + 1] = colour.data[i + 1] * w;
    data[i + 2] = colour.data[i + 2] * w;
    data[i + 3] = w;
  }
  gaussianBlur(data, out.width, out.height, 4, sigma, sigma);
  return out;
}

function pass(picture: Rgba, alpha: Float32Array, subject: Rgba, background: Rgba, sigma: number): { subject: Rgba; background: Rgba } {
  const front = spread(subject, (p) => alpha[p], sigma);
  const behind = spread(background, (p) => 1 - alpha[p], sigma);
  const least = 1e-4;
  for (let p = 0, i = 0; p < alpha.length; p++, i += 4) {
    const a = alpha[p];
    const f = 1 / Math.max(least, front.data[i + 3]);
    const b = 1 / Math.max(least, behind.data[i + 3]);
    for (let c = i; c < i + 3; c++) {
      const own = front.data[i + 3] > least ? front.data[c] * f : picture.data[c];
      const other = behind.data[i + 3] > least ? behind.data[c] * b : picture.data[c];
      const gap = picture.data[c] - a * own - (1 - a) * other;
      front.data[c] = clamp(own + a * gap, 0, 1);
      behind.data[c] = other;
    }
    front.data[i + 3] = 1;
    behind.data[i + 3] = 1;
  }
  return { subject: front, background: behind };
}

/**
 * Changes the colours of an opaque `picture`, in place, where the matte is neither full nor empty, by `amount` in [0,1] of the
 * way to the subject's own colour. Alpha is not touched.
 */
export function cleanColours(picture: Rgba, matte: Gray, amount: number): void {
  if (amount <= 0) return;
  const scale = picture.height / 1080;
  const first = pass(picture, matte.data, picture, picture, Math.max(2, WIDE * scale));
  const { subject } = pass(picture, matte.data, first.subject, first.background, Math.max(0.8, NARROW * scale));
  for (let p = 0, i = 0; p < matte.data.length; p++, i += 4) {
    const a = matte.data[p];
    if (a <= 0 || a >= 1) continue;
    for (let c = i; c < i + 3; c++) picture.data[c] += (subject.data[c] - picture.data[c]) * amount;
  }
}
