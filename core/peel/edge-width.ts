/**
 * How soft the picture's own edge is at each place of a subject's outline: of edges of several widths the one that explains the
 * colours best as a mix of the subject's and the surroundings' nearby. So motion blur and defocus keep their softness.
 */
import type { Size } from '../image/picture.ts';
import { boxMean } from './box-mean.ts';
import { boxRound, crop, cropLab, cropMask } from './crop.ts';
import { HALF, halved } from './halved.ts';
import type { LabPicture } from './lab.ts';
import { maskDistance } from './signed-distance.ts';

/** Radii of the two box means that make a soft edge of a mask, pixels. */
const RADII = [3, 6, 10];
/** Pixels from a crisp edge to what is all of one side. */
const CRISP = 2;
/** Pixels from the edge within which any of them differs from the mask. */
const BAND = 2 * (RADII.at(-1) as number) + 2;
/** Widths are told apart on a picture of half the size. In its pixels: round a place, where mixes are judged, and widths blended. */
/** Beyond the edge's reach, how far the colours of a side are taken from. */
const COLOURS = 6;
const JUDGED = 3;
const BLEND = 2;
/** A softer edge must explain the colours by so much better than a crisp one, and by more than grain (squared, in L*a*b*). */
const BETTER = 0.8;
const GRAIN = 4;
/** Misfit where one of the sides is not there. */
const UNKNOWN = 1e6;

/** Mean colours, round each place, of the pixels that lie deeper than `reach` on a side (1 in, -1 out); NaN where there are too few. */
function coloursOf(distance: Float32Array, side: 1 | -1, reach: number, channels: Float32Array[], { width, height }: Size): Float32Array[] {
  const n = distance.length;
  const counts = new Float32Array(n);
  for (let i = 0; i < n; i++) if (side * distance[i] > reach) counts[i] = 1;
  const radius = Math.ceil(reach / HALF) + COLOURS;
  const weight = boxMean(counts, width, height, radius);
  return channels.map((c) => {
    const own = new Float32Array(n);
    for (let i = 0; i < n; i++) own[i] = c[i] * counts[i];
    const mean = boxMean(own, width, height, radius);
    for (let i = 0; i < n; i++) mean[i] = weight[i] < 0.01 ? Number.NaN : mean[i] / weight[i];
    return mean;
  });
}

/** How badly an edge explains the colours round each place. */
function misfit(alpha: Float32Array, reach: number, near: Float32Array, distance: Float32Array, channels: Float32Array[], part: Size): Float32Array {
  const inside = coloursOf(distance, 1, reach, channels, part);
  const outside = coloursOf(distance, -1, reach, channels, part);
  const error = new Float32Array(alpha.length);
  for (let i = 0; i < error.length; i++) {
    if (near[i] === 0) continue;
    const a = alpha[i];
    let sum = 0;
    for (let c = 0; c < 3; c++) {
      // A side that has no part in the mix need not be near.
      const mix = (a > 0.005 ? a * inside[c][i] : 0) + (a < 0.995 ? (1 - a) * outside[c][i] : 0);
      const off = channels[c][i] - mix;
      sum += off * off;
    }
    // Not Math.min: where a side is not there the sum is not a number.
    // biome-ignore lint/complexity/useMathMinMax: see above
    error[i] = sum < UNKNOWN ? sum : UNKNOWN;
  }
  return boxMean(error, part.width, part.height, JUDGED);
}

/** Makes an alpha's edge as soft as the picture's, in place, where that is softer than a crisp one. */
export function softenToPicture(alpha: Float32Array, mask: Uint8Array, picture: LabPicture): void {
  const { width, height } = picture;
  const box = boxRound(mask, width, height, 2 * BAND);
  if (!box || box.width < 2 * HALF || box.height < 2 * HALF) return;
  const part = cropMask(mask, width, box);
  const { lab } = cropLab(picture, box);
  const crisp = crop(alpha, width, box, 1, new Float32Array(box.width * box.height));
  const small = { width: Math.floor(box.width / HALF), height: Math.floor(box.height / HALF) };
  const channels = [0, 1, 2].map((c) => halved(lab, box, 3, c));
  const distance = halved(maskDistance(part, box.width, box.height, BAND + 1), box);
  const near = new Float32Array(distance.length);
  for (let i = 0; i < near.length; i++) if (Math.abs(distance[i]) < BAND) near[i] = 1;
  const counted = boxMean(near, small.width, small.height, JUDGED);
  const misfitOf = (a: Float32Array, reach: number) => misfit(halved(a, box), reach, near, distance, channels, small);
  const least = misfitOf(crisp, CRISP);
  for (let i = 0; i < least.length; i++) least[i] = BETTER * least[i] - GRAIN * counted[i];
  const candidates: Float32Array[] = [crisp];
  const best = new Uint8Array(least.length);
  const bare = new Float32Array(part);
  for (const r of RADII) {
    const soft = boxMean(boxMean(bare, box.width, box.height, r), box.width, box.height, r);
    const own = misfitOf(soft, 2 * r);
    let better = false;
    for (let i = 0; i < own.length; i++)
      if (own[i] < least[i]) {
        least[i] = own[i];
        best[i] = candidates.length;
        better = true;
      }
    // Where the next softer is nowhere better, still softer ones are not either.
    if (!better) break;
    candidates.push(soft);
  }
  if (candidates.length === 1) return;
  const chosen = candidates.map((_, k) => {
    const share = new Float32Array(best.length);
    for (let i = 0; i < share.length; i++) if (best[i] === k) share[i] = 1;
    return share;
  });
  const shares = chosen.map((c) => boxMean(c, small.width, small.height, BLEND));
  for (let y = 0; y < small.height * HALF; y++)
    for (let x = 0; x < small.width * HALF; x++) {
      const i = Math.floor(y / HALF) * small.width + Math.floor(x / HALF);
      if (near[i] === 0) continue;
      let sum = 0;
      for (let k = 0; k < candidates.length; k++) sum += shares[k][i] * candidates[k][y * box.width + x];
      alpha[(y + box.top) * width + x + box.left] = sum;
    }
}
