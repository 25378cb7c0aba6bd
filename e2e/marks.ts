/** Where the sign of the demo film truly is, and how well what was found agrees with that. */
import { fillPolylines } from '../core/path/fill.ts';
import { marksOf } from '../tests/marks.ts';

const ramp = marksOf('ferry-ramp');

/** The corners of the sign of the ferry ramp. */
export const signAt = (frame: number): [number, number][] => [0, 1, 2, 3].map((i) => ramp[`sign-${i}`][frame].slice(0, 2) as [number, number]);

/** The exact matte of a polygon, 0 to 255. */
export const filled = (points: [number, number][]): Float32Array => fillPolylines([Float64Array.from(points.flat())], 960, 540).data.map((v) => v * 255);

/** How much two mattes have in common, of what either holds. */
export function agreement(found: ArrayLike<number>, truth: ArrayLike<number>): number {
  let both = 0;
  let either = 0;
  for (let i = 0; i < truth.length; i++) {
    both += Math.min(found[i], truth[i]);
    either += Math.max(found[i], truth[i]);
  }
  return both / either;
}
