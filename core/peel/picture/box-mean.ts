/** Means over squares. */
import { borrowParts, type Parts } from '../../wasm/host.ts';

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

/** Floats that {@link softenedIn} needs for a mask of so many pixels a row and in all. */
export const softeningParts = (width: number, all: number) => ({
  softMask: Math.ceil(all / 4),
  softOne: Math.ceil(all / 2) + 4,
  softOther: Math.ceil(all / 2) + 4,
  softSums: width + 8,
  soft: all,
});

/** Alpha of a mask whose edge goes from nothing to all within 2·radius+1 pixels on each side: two means over squares. Radius at most 19. */
export function softened(mask: Uint8Array, width: number, height: number, radius: number): Float32Array {
  return softenedIn(borrowParts(softeningParts(width, mask.length)), mask, width, height, radius);
}

/** The same in memory that is borrowed already. */
export function softenedIn(
  { kernels, part, at }: Parts<keyof ReturnType<typeof softeningParts>>,
  mask: Uint8Array,
  width: number,
  height: number,
  radius: number,
): Float32Array {
  new Uint8Array(part.softMask.buffer).set(mask, at.softMask);
  kernels.softenMask(at.softMask, width, height, radius, at.softSums, at.softOne, at.softOther, at.soft);
  return part.soft.slice();
}
