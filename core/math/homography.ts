/**
 * Homographies of the plane: nine numbers, row after row, that take (x, y, 1) to a multiple of where it goes. Moves, turns,
 * scales and affine motion are among them.
 */
import { solveSymmetric } from './solve.ts';

export type Homography = readonly number[];

export const IDENTITY: Homography = [1, 0, 0, 0, 1, 0, 0, 0, 1];

export const moveBy = (x: number, y: number): Homography => [1, 0, x, 0, 1, y, 0, 0, 1];

/** Where a place goes. */
export function applyTo(m: Homography, x: number, y: number): [number, number] {
  const w = m[6] * x + m[7] * y + m[8];
  return [(m[0] * x + m[1] * y + m[2]) / w, (m[3] * x + m[4] * y + m[5]) / w];
}

/** The one that does `first`, then `then`. */
export function composed(then: Homography, first: Homography): number[] {
  const out = new Array<number>(9);
  for (let r = 0; r < 9; r += 3) for (let c = 0; c < 3; c++) out[r + c] = then[r] * first[c] + then[r + 1] * first[3 + c] + then[r + 2] * first[6 + c];
  return out;
}

/** The same with 1 at its end. */
export const normalised = (m: Homography): number[] => m.map((v) => v / m[8]);

/** Null where it flattens the plane. */
export function inverseOf(m: Homography): number[] | null {
  const [a, b, c, d, e, f, g, h, i] = m;
  const out = [e * i - f * h, c * h - b * i, b * f - c * e, f * g - d * i, a * i - c * g, c * d - a * f, d * h - e * g, b * g - a * h, a * e - b * d];
  const det = a * out[0] + b * out[3] + c * out[6];
  if (!(Math.abs(det) > 1e-300) || !out.every(Number.isFinite)) return null;
  return out.map((v) => v / det);
}

/** How the neighbourhood of a place is stretched: the derivative of where it goes, [xx, xy, yx, yy]. */
export function stretchAt(m: Homography, x: number, y: number): [number, number, number, number] {
  const w = m[6] * x + m[7] * y + m[8];
  const [u, v] = applyTo(m, x, y);
  return [(m[0] - u * m[6]) / w, (m[1] - u * m[7]) / w, (m[3] - v * m[6]) / w, (m[4] - v * m[7]) / w];
}

/** What a motion may do. */
export const MOTION_MODELS = ['move', 'similarity', 'affine', 'perspective'] as const;
export type MotionModel = (typeof MOTION_MODELS)[number];

/** Pairs that a motion of a model needs at least. */
export const LEAST_PAIRS: Record<MotionModel, number> = { move: 1, similarity: 2, affine: 3, perspective: 4 };

/**
 * The motion of a model that brings places `from` nearest to `to` (x0, y0, x1, y1, …) in the weighted least squares; null where
 * they do not settle it. Places are shifted and scaled first (Hartley 1997); for perspective the algebraic distance counts.
 */
export function fitMotion(model: MotionModel, from: ArrayLike<number>, to: ArrayLike<number>, weights?: ArrayLike<number>): number[] | null {
  const n = from.length >> 1;
  if (n < LEAST_PAIRS[model]) return null;
  const [a, b] = [frameOf(from, weights), frameOf(to, weights)];
  if (!a || !b) return null;
  if (model === 'move') return [1, 0, b.x - a.x, 0, 1, b.y - a.y, 0, 0, 1];
  const k = model === 'similarity' ? 4 : model === 'affine' ? 6 : 8;
  const normal = new Float64Array(k * k);
  const right = new Float64Array(k);
  const row = new Float64Array(k);
  const add = (value: number, w: number) => {
    for (let i = 0; i < k; i++) {
      right[i] += w * row[i] * value;
      for (let j = 0; j <= i; j++) normal[i * k + j] += w * row[i] * row[j];
    }
  };
  for (let p = 0; p < n; p++) {
    const w = weights ? weights[p] : 1;
    const x = (from[2 * p] - a.x) / a.size;
    const y = (from[2 * p + 1] - a.y) / a.size;
    const u = (to[2 * p] - b.x) / b.size;
    const v = (to[2 * p + 1] - b.y) / b.size;
    row.set(k === 4 ? [x, -y, 1, 0] : k === 6 ? [x, y, 1, 0, 0, 0] : [x, y, 1, 0, 0, 0, -u * x, -u * y]);
    add(u, w);
    row.set(k === 4 ? [y, x, 0, 1] : k === 6 ? [0, 0, 0, x, y, 1] : [0, 0, 0, x, y, 1, -v * x, -v * y]);
    add(v, w);
  }
  // A grain against places that lie almost on a line.
  for (let i = 0; i < k; i++) normal[i * k + i] += 1e-9;
  if (!solveSymmetric(normal, right, k)) return null;
  const inner = k === 4 ? [right[0], -right[1], right[2], right[1], right[0], right[3], 0, 0, 1] : k === 6 ? [...right, 0, 0, 1] : [...right, 1];
  const out = composed(composed([b.size, 0, b.x, 0, b.size, b.y, 0, 0, 1], inner), [1 / a.size, 0, -a.x / a.size, 0, 1 / a.size, -a.y / a.size, 0, 0, 1]);
  return out.every(Number.isFinite) && Math.abs(out[8]) > 1e-12 ? normalised(out) : null;
}

/** Middle and mean distance from it of places; null where all are in one. */
function frameOf(places: ArrayLike<number>, weights?: ArrayLike<number>): { x: number; y: number; size: number } | null {
  let [x, y, total] = [0, 0, 0];
  for (let p = 0; 2 * p < places.length; p++) {
    const w = weights ? weights[p] : 1;
    x += w * places[2 * p];
    y += w * places[2 * p + 1];
    total += w;
  }
  if (!(total > 0)) return null;
  x /= total;
  y /= total;
  let size = 0;
  for (let p = 0; 2 * p < places.length; p++) {
    const [dx, dy] = [places[2 * p] - x, places[2 * p + 1] - y];
    size += ((weights ? weights[p] : 1) * Math.sqrt(dx * dx + dy * dy)) / total;
  }
  if (places.length > 2 && !(size > 1e-9)) return null;
  return { x, y, size: size || 1 };
}
