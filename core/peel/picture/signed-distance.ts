/** Signed distance of pixel centres from the edge of a mask, by a chamfer (G. Borgefors 1986, weights .955 and 1.3693). */
import { borrowParts } from '../../wasm/host.ts';

/** Distances in pixels, positive inside, within ±`most`; ±0.5 next to the edge. */
export function maskDistance(mask: Uint8Array, width: number, height: number, most: number): Float32Array {
  const n = mask.length;
  const field = (height + 2) * (4 * Math.ceil(width / 4) + 8);
  const { kernels, part, at } = borrowParts({ mask: Math.ceil(n / 4) + 4, field, distance: n });
  new Uint8Array(part.mask.buffer).set(mask, at.mask);
  kernels.signedDistance(at.mask, at.field, at.distance, width, height, most);
  return part.distance.slice();
}
