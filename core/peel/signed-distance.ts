/** Signed distance of pixel centres from the edge of a mask, by a chamfer (G. Borgefors 1986, weights .955 and 1.3693). */
import { borrowKernels } from '../wasm/host.ts';

/** Distances in pixels, positive inside, within ±`most`; ±0.5 next to the edge. */
export function maskDistance(mask: Uint8Array, width: number, height: number, most: number): Float32Array {
  const n = mask.length;
  // Layout, in floats: distances | the same with a rim | mask, a byte a pixel.
  const atField = n;
  const atMask = atField + (width + 2) * (height + 2);
  const { kernels, floats } = borrowKernels(atMask + Math.ceil(n / 4));
  new Uint8Array(floats.buffer).set(mask, 4 * atMask);
  kernels.signedDistance(4 * atMask, 4 * atField, 0, width, height, most);
  return floats.slice(0, n);
}
