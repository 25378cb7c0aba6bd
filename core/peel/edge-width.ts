/**
 * How soft the picture's own edge is at each place of a subject's outline: of edges of several widths the one that explains the
 * colours best as a mix of the subject's and the surroundings' nearby. So motion blur and defocus keep their softness.
 */
import type { Size } from '../image/picture.ts';
import { boxMean, softened } from './box-mean.ts';
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
/** How far along the edge its place is judged as a whole, so too. */
const ALONG = 5;
/** Share of the square round a place that must lie deep on each side for the edge to be moved: thin parts stay where they are. */
const DEEP = 0.2;
/** Pixels from the mask's edge from which on a better place counts as one; nearer ones are found in settling. */
const MOVED = 1;
/** A softer edge must explain the colours by so much better than a crisp one, and by more than grain (squared, in L*a*b*). */
const BETTER = 0.8;
const GRAIN = 4;
/** Misfit where one of the sides is not there. */
const UNKNOWN = 1e6;

/** Mean colours round each place of what lies beyond the reach of an edge. */
interface Sides {
  /** By channel; NaN where there is too little. */
  inside: Float32Array[];
  outside: Float32Array[];
  /** Share of the square round a place that lies beyond, on the side where it is less. */
  deep: Float32Array;
}

function sidesOf(distance: Float32Array, reach: number, channels: Float32Array[], part: Size): Sides {
  const inside = coloursOf(distance, 1, reach, channels, part);
  const outside = coloursOf(distance, -1, reach, channels, part);
  return { inside: inside.means, outside: outside.means, deep: inside.weight.map((w, i) => Math.min(w, outside.weight[i])) };
}

/** Mean colours, round each place, of the pixels that lie deeper than `reach` on a side (1 in, -1 out), and the share that those are. */
function coloursOf(distance: Float32Array, side: 1 | -1, reach: number, channels: Float32Array[], { width, height }: Size) {
  const n = distance.length;
  const counts = new Float32Array(n);
  for (let i = 0; i < n; i++) if (side * distance[i] > reach) counts[i] = 1;
  const radius = Math.ceil(reach / HALF) + COLOURS;
  const weight = boxMean(counts, width, height, radius);
  const means = channels.map((c) => {
    const own = new Float32Array(n);
    for (let i = 0; i < n; i++) own[i] = c[i] * counts[i];
    const mean = boxMean(own, width, height, radius);
    for (let i = 0; i < n; i++) mean[i] = weight[i] < 0.01 ? Number.NaN : mean[i] / weight[i];
    return mean;
  });
  return { means, weight };
}

/** How badly an edge explains the colours round each place. */
function misfit(alpha: Float32Array, { inside, outside }: Sides, near: Float32Array, channels: Float32Array[], part: Size): Float32Array {
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

/**
 * How far inwards from the mask's the edge lies, in pixels, that explains the colours best: one step of least squares for the place of
 * an edge that goes from nothing to all within 2·radius+1 pixels on each side. At most `radius`.
 */
function placeOf(
  alpha: Float32Array,
  { inside, outside, deep }: Sides,
  distance: Float32Array,
  radius: number,
  channels: Float32Array[],
  part: Size,
): Float32Array {
  const n = alpha.length;
  const wide = 2 * radius + 1;
  const [moved, weight] = [new Float32Array(n), new Float32Array(n)];
  for (let i = 0; i < n; i++) {
    const slope = (1 - Math.abs(distance[i]) / wide) / wide;
    if (slope <= 0 || deep[i] < DEEP) continue;
    const a = alpha[i];
    let [along, apart] = [0, 0];
    for (let c = 0; c < 3; c++) {
      const way = inside[c][i] - outside[c][i];
      along += (channels[c][i] - outside[c][i] - a * way) * way;
      apart += way * way;
    }
    // Not a number where a side is not there.
    if (!(apart > 0)) continue;
    moved[i] = -along * slope;
    weight[i] = (apart + GRAIN) * slope * slope;
  }
  const [sum, all] = [boxMean(moved, part.width, part.height, ALONG), boxMean(weight, part.width, part.height, ALONG)];
  for (let i = 0; i < n; i++) sum[i] = all[i] > 0 ? Math.max(-radius, Math.min(radius, sum[i] / all[i])) : 0;
  return sum;
}

/** Makes an alpha's edge as soft as the picture's, in place, where that is softer than a crisp one, and puts it where the picture has it. */
export function softenToPicture(alpha: Float32Array, mask: Uint8Array, picture: LabPicture): void {
  const { width, height } = picture;
  const box = boxRound(mask, width, height, 2 * BAND);
  if (!box || box.width < 2 * HALF || box.height < 2 * HALF) return;
  const part = cropMask(mask, width, box);
  const { lab } = cropLab(picture, box);
  const crisp = crop(alpha, width, box, 1, new Float32Array(box.width * box.height));
  const small = { width: Math.floor(box.width / HALF), height: Math.floor(box.height / HALF) };
  const channels = [0, 1, 2].map((c) => halved(lab, box, 3, c));
  const full = maskDistance(part, box.width, box.height, BAND + 1);
  const distance = halved(full, box);
  const near = new Float32Array(distance.length);
  for (let i = 0; i < near.length; i++) if (Math.abs(distance[i]) < BAND) near[i] = 1;
  const counted = boxMean(near, small.width, small.height, JUDGED);
  const least = misfit(halved(crisp, box), sidesOf(distance, CRISP, channels, small), near, channels, small);
  for (let i = 0; i < least.length; i++) least[i] = BETTER * least[i] - GRAIN * counted[i];
  const candidates: Float32Array[] = [crisp];
  const best = new Uint8Array(least.length);
  const consider = (candidate: Float32Array, error: Float32Array): boolean => {
    let better = false;
    for (let i = 0; i < error.length; i++)
      if (error[i] < least[i]) {
        least[i] = error[i];
        best[i] = candidates.length;
        better = true;
      }
    if (better) candidates.push(candidate);
    return better;
  };
  for (const r of RADII) {
    const soft = softened(part, box.width, box.height, r);
    const coarse = halved(soft, box);
    const sides = sidesOf(distance, 2 * r, channels, small);
    let better = consider(soft, misfit(coarse, sides, near, channels, small));
    const place = placeOf(coarse, sides, distance, r, channels, small);
    if (place.some((p, i) => near[i] > 0 && Math.abs(p) > MOVED)) {
      const placed = softened(insideOf(full, place, box, small), box.width, box.height, r);
      const moved = distance.map((d, i) => d - place[i]);
      const error = misfit(halved(placed, box), sidesOf(moved, 2 * r, channels, small), near, channels, small);
      // It must explain the colours as much better again.
      for (let i = 0; i < error.length; i++) error[i] = error[i] / BETTER + GRAIN * counted[i];
      better = consider(placed, error) || better;
    }
    // Where the next softer is nowhere better, still softer ones are not either.
    if (!better) break;
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

/** The mask inside of an edge that lies so far inwards, told for a picture of half the size. */
function insideOf(distance: Float32Array, place: Float32Array, { width, height }: Size, small: Size): Uint8Array {
  const mask = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    const row = Math.min(small.height - 1, Math.floor(y / HALF)) * small.width;
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      mask[i] = distance[i] > place[row + Math.min(small.width - 1, Math.floor(x / HALF))] ? 1 : 0;
    }
  }
  return mask;
}
