/** Pictures of half the size, for what changes slowly from place to place. */
import type { Size } from '../../image/picture.ts';
import { borrowParts, type Parts } from '../../wasm/host.ts';

export const HALF = 2;

/** Floats that a picture of one channel and one of colours need to be halved in borrowed memory: some are read and written over the end. */
export const halvingParts = (all: number) => ({ whole: 3 * all + 8 });

/** The mean of each square of four. */
export function halved(data: Float32Array, { width, height }: Size): Float32Array {
  const n = (width >> 1) * (height >> 1);
  const memory = borrowParts({ ...halvingParts(data.length), half: n });
  halveInto(memory, memory.at.half, data, { width, height });
  return memory.part.half.slice();
}

/**
 * The same of what `data` holds, a float or a colour of three a pixel, at the byte `to` of borrowed memory; colours as four floats, the
 * last of them 1.
 */
export function halveInto({ kernels, part, at }: Parts<'whole'>, to: number, data: Float32Array, { width, height }: Size): void {
  part.whole.set(data);
  if (data.length === 3 * width * height) kernels.halveColours(at.whole, width, height, to);
  else kernels.halveMeans(at.whole, width, height, to);
}
