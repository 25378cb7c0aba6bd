/** Means over squares. */
import { borrowKernels } from '../wasm/host.ts';

/** Floats that the kernel's stores, which go by four, may run over. */
const ROOM = 4;

/** Means over squares of 2·radius+1, cut at the borders. */
export function boxMean(data: Float32Array, width: number, height: number, radius: number): Float32Array {
  const n = data.length;
  if (n === 0) return new Float32Array(0);
  // Layout: sums of columns, two floats each | picture | means along rows | means.
  const atData = 2 * (width + ROOM);
  const atRows = atData + n + ROOM;
  const atOut = atRows + n + ROOM;
  const { kernels, floats } = borrowKernels(atOut + n + ROOM);
  floats.set(data, atData);
  kernels.boxMean(4 * atData, 4 * atRows, 4 * atOut, 0, width, height, radius);
  return floats.slice(atOut, atOut + n);
}

/** Alpha of a mask whose edge goes from nothing to all within 2·radius+1 pixels on each side: two means over squares. */
export function softened(mask: Uint8Array, width: number, height: number, radius: number): Float32Array {
  return boxMean(boxMean(new Float32Array(mask), width, height, radius), width, height, radius);
}
