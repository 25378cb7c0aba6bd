/** From a mask to an alpha: the width that a lens and a sampled picture give every hard edge. */
import { boxMean } from './box-mean.ts';

/**
 * Alpha in [0,1] of a binary mask whose edge is hard in the world: two box means of three pixels. Of the ways that were
 * measured it came nearest to the exact alpha of plain edges (docs/quality.md).
 */
export function softMask(mask: Uint8Array, width: number, height: number): Float32Array {
  return boxMean(boxMean(Float32Array.from(mask), width, height, 1), width, height, 1);
}
