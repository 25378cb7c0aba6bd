/** Weights of the four control points of a cubic Bezier at `t` in [0,1]: the Bernstein polynomials of degree three. */
export function bernstein(t: number): [number, number, number, number] {
  const u = 1 - t;
  return [u * u * u, 3 * u * u * t, 3 * u * t * t, t * t * t];
}
