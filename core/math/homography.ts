/**
 * Homographies of the plane: nine numbers, row after row, that take (x, y, 1) to a multiple of where it goes. Moves, turns,
 * scales and affine motion are among them.
 */

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
