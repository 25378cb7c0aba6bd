/** Means over squares. */
import { borrowParts } from '../wasm/host.ts';

/** Means over squares of 2·radius+1, cut at the borders. */
export function boxMean(data: Float32Array, width: number, height: number, radius: number): Float32Array {
  const n = data.length;
  if (n === 0) return new Float32Array(0);
  // Sums of columns are two floats each.
  const { kernels, part, at } = borrowParts({ sums: 2 * (width + 3), data: n, rows: n, means: n });
  part.data.set(data);
  kernels.boxMean(at.data, at.rows, at.means, at.sums, width, height, radius);
  return part.means.slice();
}

/** Alpha of a mask whose edge goes from nothing to all within 2·radius+1 pixels on each side: two means over squares. */
export function softened(mask: Uint8Array, width: number, height: number, radius: number): Float32Array {
  return boxMean(boxMean(new Float32Array(mask), width, height, radius), width, height, radius);
}
