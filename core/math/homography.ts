/**
 * Homographies of the plane: nine numbers, row after row, that take (x, y, 1) to a multiple of where it goes. Moves, turns,
 * scales and affine motion are among them.
 */

export type Homography = readonly number[];

export const IDENTITY: Homography = [1, 0, 0, 0, 1, 0, 0, 0, 1];

export const translation = (x: number, y: number): Homography => [1, 0, x, 0, 1, y, 0, 0, 1];

/** Where a place goes. */
export function applyTo(m: Homography, x: number, y: number): [number, number] {
  const w = m[6] * x + m[7] * y + m[8];
  return [(m[0] * x + m[1] * y + m[2]) / w, (m[3] * x + m[4] * y + m[5]) / w];
}

/** The one that does `first`, then `then`. */
export function multiply(then: Homography, first: Homography): number[] {
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

/** Takes x and y times as far from (0, 0). */
export const scaling = (x: number, y: number): Homography => [x, 0, 0, 0, y, 0, 0, 0, 1];

/** A motion about (0, 0), about another place. */
export const about = (x: number, y: number, motion: Homography): number[] => multiply(translation(x, y), multiply(motion, translation(-x, -y)));

/**
 * Takes the unit square to four corners, x0,y0,…,x3,y3 in the order (0,0), (1,0), (1,1), (0,1) (Heckbert 1989, "Fundamentals of
 * texture mapping", 2.2.3). Null where three of them lie on a line.
 */
export function toCorners([x0, y0, x1, y1, x2, y2, x3, y3]: readonly number[]): number[] | null {
  const [dx1, dy1, dx2, dy2] = [x1 - x2, y1 - y2, x3 - x2, y3 - y2];
  const [sx, sy] = [x0 - x1 + x2 - x3, y0 - y1 + y2 - y3];
  const det = dx1 * dy2 - dx2 * dy1;
  const g = (sx * dy2 - dx2 * sy) / det;
  const h = (dx1 * sy - sx * dy1) / det;
  const out = [x1 - x0 + g * x1, x3 - x0 + h * x3, x0, y1 - y0 + g * y1, y3 - y0 + h * y3, y0, g, h, 1];
  return out.every(Number.isFinite) && inverseOf(out) ? out : null;
}

/** How many times longer a small length at a place becomes: the root of how its area grows. */
export function scaleAt(m: Homography, x: number, y: number): number {
  const [xx, xy, yx, yy] = jacobianAt(m, x, y);
  return Math.sqrt(Math.abs(xx * yy - xy * yx));
}

/** How the neighbourhood of a place is stretched: the derivative of where it goes, [xx, xy, yx, yy]. */
export function jacobianAt(m: Homography, x: number, y: number): [number, number, number, number] {
  const w = m[6] * x + m[7] * y + m[8];
  const [u, v] = applyTo(m, x, y);
  return [(m[0] - u * m[6]) / w, (m[1] - u * m[7]) / w, (m[3] - v * m[6]) / w, (m[4] - v * m[7]) / w];
}

/** What a motion may do. */
export const MOTION_MODELS = ['move', 'similarity', 'affine', 'perspective'] as const;
export type MotionModel = (typeof MOTION_MODELS)[number];
