/** What a tracker looks for: brightness of a piece of a picture, and how it changes under small motions. */
import type { Homography, MotionModel } from '../math/homography.ts';
import { alignerIn } from './aligner.ts';
import type { Pyramid } from './pyramid.ts';
import { cellOf, type Extent, type Pattern, type Samples } from './samples.ts';

const laidOut = new WeakMap<Samples, { cell: Uint8Array; extent: Extent }>();

/** What of samples depends on their own coordinates alone, worked out once. */
function layoutOf(samples: Samples): { cell: Uint8Array; extent: Extent } {
  let layout = laidOut.get(samples);
  if (!layout) {
    const { u, v } = samples;
    const cell = new Uint8Array(u.length);
    let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
    for (let k = 0; k < u.length; k++) {
      cell[k] = cellOf(u[k], v[k]);
      u0 = Math.min(u0, u[k]);
      v0 = Math.min(v0, v[k]);
      u1 = Math.max(u1, u[k]);
      v1 = Math.max(v1, v[k]);
    }
    layout = { cell, extent: [u0, v0, u1, v1] };
    laidOut.set(samples, layout);
  }
  return layout;
}

/** The pattern of samples that lie in the picture by `place` (from the piece's own coordinates to the plate). */
export function patternOf(pyramid: Pyramid, level: number, samples: Samples, homography: Homography): Pattern {
  const pattern = passingPatternOf(pyramid, level, samples, homography);
  return { ...pattern, value: pattern.value.slice(), slopeU: pattern.slopeU.slice(), slopeV: pattern.slopeV.slice() };
}

/** The same, lent: it is gone when the next one is taken from a picture in the same memory, or put on its bench. */
export function passingPatternOf(pyramid: Pyramid, level: number, samples: Samples, homography: Homography): Pattern {
  const n = samples.u.length;
  const layout = layoutOf(samples);
  const aligner = alignerIn(pyramid.memory);
  const seen = aligner.see(samples, layout.extent, pyramid, level, homography);
  if (seen.all) {
    const { u, v, weight } = samples;
    const { value, slopeU, slopeV } = seen;
    const pattern = { u, v, weight, value, slopeU, slopeV, ...layout, products: new Map() };
    aligner.call(pattern);
    return pattern;
  }
  const there: number[] = [];
  for (let k = 0; k < n; k++) if (!Number.isNaN(seen.value[k])) there.push(k);
  const of = (list: Float32Array) => Float32Array.from(there, (k) => list[k]);
  const rest = { u: of(samples.u), v: of(samples.v), weight: of(samples.weight) };
  return { ...rest, value: of(seen.value), slopeU: of(seen.slopeU), slopeV: of(seen.slopeV), ...layoutOf(rest), products: new Map() };
}

/** The small motion with these parameters, in the order in which the kernel of the sums has them. */
export function smallMotion(model: MotionModel, p: ArrayLike<number>): number[] {
  if (model === 'move') return [1, 0, p[0], 0, 1, p[1], 0, 0, 1];
  if (model === 'similarity') return [1 + p[2], -p[3], p[0], p[3], 1 + p[2], p[1], 0, 0, 1];
  const affine = [1 + p[2], p[3], p[0], p[4], 1 + p[5], p[1]];
  return model === 'affine' ? [...affine, 0, 0, 1] : [...affine, p[6], p[7], 1];
}

/**
 * How well a pattern can be held: the smaller eigenvalue of the mean of its slopes' products (C. Tomasi, T. Kanade 1991;
 * J. Shi, C. Tomasi 1994), in grey levels per pixel, its root. Near 0 for plain walls and for straight edges.
 */
export function texture({ slopeU, slopeV, weight }: Pattern, pixelsPerUnit: number): number {
  let [xx, xy, yy, total] = [0, 0, 0, 0];
  for (let k = 0; k < slopeU.length; k++) {
    const w = weight[k];
    xx += w * slopeU[k] * slopeU[k];
    xy += w * slopeU[k] * slopeV[k];
    yy += w * slopeV[k] * slopeV[k];
    total += w;
  }
  if (!(total > 0)) return 0;
  const middle = (xx + yy) / 2;
  const least = middle - Math.sqrt(((xx - yy) / 2) ** 2 + xy * xy);
  return Math.sqrt(Math.max(0, least / total)) / pixelsPerUnit;
}

/** Pixels of the plate that count as one that is seen on its own: neighbours are alike, by smoothing and by compression. */
const ALIKE = 8;
/**
 * Grain has a part in a pattern's slopes too, and holds nothing: of its square, as far as what is unlike may be grain (grey levels of a
 * smoothed picture, at most), half is the pattern's own, of which smoothing leaves so much between pixels that are two apart.
 */
const MOST_GRAIN = 2.5;
const GRAIN_SLOPE = 0.2;

/** How much a pattern varies, in grey levels; its slope along the direction in which it holds least, for each pixel; and the sum of its weights. */
interface Hold {
  varies: number;
  slope: number;
  total: number;
}

function holdOf(pattern: Pattern, pixelsPerUnit: number): Hold {
  const { value, weight } = pattern;
  let [total, sum, squares] = [0, 0, 0];
  for (let k = 0; k < value.length; k++) {
    total += weight[k];
    sum += weight[k] * value[k];
    squares += weight[k] * value[k] * value[k];
  }
  const varies = total > 0 ? Math.sqrt(Math.max(0, squares / total - (sum / total) ** 2)) : 0;
  return { varies, slope: texture(pattern, pixelsPerUnit), total };
}

const holds = new WeakMap<Pattern, Hold>();

/**
 * Pixels by which a pattern that was found with a correlation of `score` may be off, along the direction in which it holds least: what
 * is unlike, against how steep it is that way, but for what grain makes of it, and how many samples say so.
 */
export function errorOf(pattern: Pattern, score: number, pixelsPerUnit: number): number {
  let hold = holds.get(pattern);
  if (!hold) {
    hold = holdOf(pattern, pixelsPerUnit);
    holds.set(pattern, hold);
  }
  const { varies, slope, total } = hold;
  if (!(total > 0)) return Number.POSITIVE_INFINITY;
  const unlike = varies * Math.sqrt(Math.max(0, 1 - score * score));
  const held = Math.sqrt(Math.max(0, slope * slope - GRAIN_SLOPE * Math.min(MOST_GRAIN, unlike) ** 2));
  return unlike / Math.max(1e-3, held * Math.sqrt(total / ALIKE));
}
