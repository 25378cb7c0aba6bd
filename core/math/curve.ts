/** Curves from [0,1] to [0,1] through points x0,y0,x1,y1,…, x rising. */
import { clamp } from './clamp.ts';

/** Points of a curve, at most. */
export const MOST_POINTS = 32;

export const isCurve = (points: readonly number[]): boolean =>
  points.length >= 4 &&
  points.length <= 2 * MOST_POINTS &&
  points.length % 2 === 0 &&
  points.every((v, i) => v >= 0 && v <= 1 && (i % 2 === 1 || i === 0 || v > points[i - 2]));

/** Slopes at the points of a curve that has no turn of its own between them (F. Fritsch and R. Carlson, SIAM J. Numer. Anal. 17, 1980). */
function slopesOf(points: readonly number[]): Float64Array {
  const n = points.length / 2;
  const slopes = new Float64Array(n);
  const secant = (i: number) => (points[2 * i + 3] - points[2 * i + 1]) / (points[2 * i + 2] - points[2 * i]);
  slopes[0] = secant(0);
  slopes[n - 1] = secant(n - 2);
  for (let i = 1; i < n - 1; i++) slopes[i] = secant(i - 1) * secant(i) <= 0 ? 0 : (secant(i - 1) + secant(i)) / 2;
  for (let i = 0; i < n - 1; i++) {
    const s = secant(i);
    if (s === 0) {
      slopes[i] = 0;
      slopes[i + 1] = 0;
      continue;
    }
    const [a, b] = [slopes[i] / s, slopes[i + 1] / s];
    const far = a * a + b * b;
    if (far <= 9) continue;
    const less = 3 / Math.sqrt(far);
    slopes[i] = less * a * s;
    slopes[i + 1] = less * b * s;
  }
  return slopes;
}

/** What a curve makes of values: beyond its ends it is level, two points make a straight line, more a smooth curve. */
export function curveOf(points: readonly number[]): (x: number) => number {
  const n = points.length / 2;
  const slopes = slopesOf(points);
  return (x) => {
    if (x <= points[0]) return points[1];
    if (x >= points[2 * n - 2]) return points[2 * n - 1];
    let i = 0;
    while (x > points[2 * i + 2]) i++;
    const wide = points[2 * i + 2] - points[2 * i];
    const t = (x - points[2 * i]) / wide;
    const [t2, t3] = [t * t, t * t * t];
    const y =
      points[2 * i + 1] * (2 * t3 - 3 * t2 + 1) + points[2 * i + 3] * (3 * t2 - 2 * t3) + wide * (slopes[i] * (t3 - 2 * t2 + t) + slopes[i + 1] * (t3 - t2));
    return clamp(y, 0, 1);
  };
}

/** Steps of a table from 0 to 1: the way between two of them is straight. */
export const STEPS = 1024;

/** A table of what `of` makes of values in [0,1], `STEPS` + 1 of them, and one more for reading past the last. */
export function tableOf(of: (x: number) => number): Float32Array {
  const table = new Float32Array(STEPS + 2);
  for (let i = 0; i <= STEPS; i++) table[i] = of(i / STEPS);
  table[STEPS + 1] = table[STEPS];
  return table;
}

/** What a table says of a value in [0,1]. */
export function lookUp(table: Float32Array, x: number): number {
  const t = x * STEPS;
  const i = t | 0;
  return table[i] + (table[i + 1] - table[i]) * (t - i);
}
