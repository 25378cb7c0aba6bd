/** What a tracker looks for: brightness of a piece of a picture, and how it changes under small motions. */
import type { Homography, MotionModel } from '../math/homography.ts';
import type { Levels } from './levels.ts';

/**
 * Places of a piece in coordinates of its own: its middle is the origin, half of its longer side about 1, so that all numbers of a
 * motion are of one order.
 */
export interface Samples {
  u: Float32Array;
  v: Float32Array;
  /** How much each counts, in (0, 1]. */
  weight: Float32Array;
}

/** Samples and what was seen there. */
export interface Pattern extends Samples {
  value: Float32Array;
  /** Slope of the brightness along u and v. */
  slopeU: Float32Array;
  slopeV: Float32Array;
  /** Change of brightness for each parameter of a motion and for gain and offset, sample after sample, by model. */
  changes: Partial<Record<MotionModel, Float32Array>>;
  /** The sums of their products by the samples' own weights, where all are counted; by model. */
  products: Partial<Record<MotionModel, Float64Array>>;
}

/** Parameters of each model. */
export const PARAMETERS: Record<MotionModel, number> = { move: 2, similarity: 4, affine: 6, perspective: 8 };

/** The value of a level at a place of the plate, bilinear; NaN outside. */
function valueAt(levels: Levels, level: number, x: number, y: number): number {
  const image = levels.images[level];
  const width = image.width;
  const height = image.height;
  const data = image.data;
  const scale = 1 / (1 << level);
  const px = (x - levels.left) * scale - 0.5;
  const py = (y - levels.top) * scale - 0.5;
  if (!(px >= -0.5 && py >= -0.5 && px <= width - 0.5 && py <= height - 0.5)) return Number.NaN;
  const cx = Math.max(0, Math.min(width - 1, px));
  const cy = Math.max(0, Math.min(height - 1, py));
  const x0 = cx | 0;
  const y0 = cy | 0;
  const i = y0 * width + x0;
  const right = x0 < width - 1 ? 1 : 0;
  const down = y0 < height - 1 ? width : 0;
  const upper = data[i] + (data[i + right] - data[i]) * (cx - x0);
  const lower = data[i + down] + (data[i + down + right] - data[i + down]) * (cx - x0);
  return upper + (lower - upper) * (cy - y0);
}

const or = (value: number, other: number): number => (Number.isNaN(value) ? other : value);

/** The pattern of samples that lie in the picture by `place` (from the piece's own coordinates to the plate). */
export function patternOf(levels: Levels, level: number, samples: Samples, place: Homography): Pattern {
  const n = samples.u.length;
  const [u, v, weight] = [new Float32Array(n), new Float32Array(n), new Float32Array(n)];
  const [value, slopeU, slopeV] = [new Float32Array(n), new Float32Array(n), new Float32Array(n)];
  const apart = 2 ** level;
  let count = 0;
  for (let k = 0; k < n; k++) {
    const a = samples.u[k];
    const b = samples.v[k];
    const w = place[6] * a + place[7] * b + place[8];
    const x = (place[0] * a + place[1] * b + place[2]) / w;
    const y = (place[3] * a + place[4] * b + place[5]) / w;
    const here = valueAt(levels, level, x, y);
    if (Number.isNaN(here)) continue;
    // Beyond the border the last value repeats itself.
    const gx = (or(valueAt(levels, level, x + apart, y), here) - or(valueAt(levels, level, x - apart, y), here)) / (2 * apart);
    const gy = (or(valueAt(levels, level, x, y + apart), here) - or(valueAt(levels, level, x, y - apart), here)) / (2 * apart);
    // How the neighbourhood is stretched there, as in stretchAt, but without a list for every sample.
    const xx = (place[0] - x * place[6]) / w;
    const xy = (place[1] - x * place[7]) / w;
    const yx = (place[3] - y * place[6]) / w;
    const yy = (place[4] - y * place[7]) / w;
    u[count] = a;
    v[count] = b;
    weight[count] = samples.weight[k];
    value[count] = here;
    slopeU[count] = gx * xx + gy * yx;
    slopeV[count] = gx * xy + gy * yy;
    count++;
  }
  const cut = (list: Float32Array) => list.subarray(0, count);
  return { u: cut(u), v: cut(v), weight: cut(weight), value: cut(value), slopeU: cut(slopeU), slopeV: cut(slopeV), changes: {}, products: {} };
}

/** Change of brightness of each sample for each parameter of a small motion in its own coordinates, then for gain and offset. */
export function changesOf(pattern: Pattern, model: MotionModel): Float32Array {
  const known = pattern.changes[model];
  if (known) return known;
  const { u, v, value, slopeU, slopeV } = pattern;
  const m = PARAMETERS[model];
  const out = new Float32Array(u.length * (m + 2));
  for (let k = 0, o = 0; k < u.length; k++, o += m + 2) {
    const a = u[k];
    const b = v[k];
    const s = slopeU[k];
    const t = slopeV[k];
    out[o] = s;
    out[o + 1] = t;
    if (m === 4) {
      out[o + 2] = s * a + t * b;
      out[o + 3] = t * a - s * b;
    } else if (m >= 6) {
      out[o + 2] = s * a;
      out[o + 3] = s * b;
      out[o + 4] = t * a;
      out[o + 5] = t * b;
    }
    if (m === 8) {
      out[o + 6] = -(s * a + t * b) * a;
      out[o + 7] = -(s * a + t * b) * b;
    }
    out[o + m] = value[k];
    out[o + m + 1] = 1;
  }
  pattern.changes[model] = out;
  return out;
}

/** Sums over the samples of the products of their changes, each by its weight in `counted`; the lower triangle, row after row. */
export function productsOf(changes: Float32Array, counted: Float32Array, size: number, out: Float64Array): void {
  out.fill(0);
  for (let k = 0, o = 0; o < changes.length; k++, o += size) {
    const w = counted[k];
    if (!(w > 0)) continue;
    for (let i = 0; i < size; i++) {
      const wi = w * changes[o + i];
      const row = i * size;
      for (let j = 0; j <= i; j++) out[row + j] += wi * changes[o + j];
    }
  }
}

/** The same with all samples counted, worked out once. */
export function wholeProducts(pattern: Pattern, model: MotionModel): Float64Array {
  const known = pattern.products[model];
  if (known) return known;
  const size = PARAMETERS[model] + 2;
  const out = new Float64Array(size * size);
  productsOf(changesOf(pattern, model), pattern.weight, size, out);
  pattern.products[model] = out;
  return out;
}

/** The small motion with these parameters, as {@link changesOf} orders them. */
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
