/** The homography that brings points nearest to others. */
import { applyTo, type Homography, inverseOf, multiply, translation } from './homography.ts';
import { solveSymmetric } from './solve.ts';

/** Takes points so that their middle is the origin and they lie about 1 from it (Hartley 1997); null where all are one. */
function toUnit(points: readonly (readonly number[])[]): Homography | null {
  const n = points.length;
  const x = points.reduce((sum, p) => sum + p[0], 0) / n;
  const y = points.reduce((sum, p) => sum + p[1], 0) / n;
  const far = Math.sqrt(points.reduce((sum, p) => sum + (p[0] - x) ** 2 + (p[1] - y) ** 2, 0) / n);
  return far > 1e-9 ? multiply([1 / far, 0, 0, 0, 1 / far, 0, 0, 0, 1], translation(-x, -y)) : null;
}

/**
 * Of four points and more, in the algebraic least squares (Hartley and Zisserman 2004, 4.1). Null where three of four lie on a line, or
 * the counts differ.
 */
export function fitHomography(from: readonly (readonly number[])[], to: readonly (readonly number[])[]): Homography | null {
  if (from.length < 4 || to.length !== from.length) return null;
  const [one, other] = [toUnit(from), toUnit(to)];
  const back = other && inverseOf(other);
  if (!one || !other || !back) return null;
  const normal = new Float64Array(64);
  const right = new Float64Array(8);
  const add = (row: readonly number[], value: number) => {
    for (let i = 0; i < 8; i++) {
      right[i] += row[i] * value;
      for (let j = 0; j < 8; j++) normal[i * 8 + j] += row[i] * row[j];
    }
  };
  from.forEach(([fx, fy], i) => {
    const [x, y] = applyTo(one, fx, fy);
    const [u, v] = applyTo(other, to[i][0], to[i][1]);
    add([x, y, 1, 0, 0, 0, -u * x, -u * y], u);
    add([0, 0, 0, x, y, 1, -v * x, -v * y], v);
  });
  if (!solveSymmetric(normal, right, 8)) return null;
  const found = multiply(back, multiply([...right, 1], one));
  return inverseOf(found) ? found : null;
}
