/** A picture at full, half, quarter … size, as trackers look at it. */
import { gaussianBlur } from '../image/gaussian.ts';
import { type Gray, lumaOf, type Region, type Size } from '../image/picture.ts';
import { borrowKernels } from '../wasm/host.ts';

/** Level k holds pixels of 2^k plate pixels; `left` and `top` are where its pictures begin on the plate. */
export interface Levels {
  left: number;
  top: number;
  images: Gray[];
}

/** Smoothing in pixels that makes values between pixels trustworthy: plain bilinear ones pull results to the pixels' centres. */
const SMOOTHING = 0.8;
const SMALLEST = 8;
/** Pictures, at most: coarse enough for the largest region. */
const LEVELS = 5;

/** The luma of a picture of RGBA bytes as trackers take it, in grey levels of 0 to 255. */
export function greyLevels(bytes: Uint8Array | Uint8ClampedArray, size: Size): Gray {
  const luma = lumaOf(bytes, 4, size);
  for (let i = 0; i < luma.data.length; i++) luma.data[i] *= 255;
  return luma;
}

/** The picture, and after it ever smaller ones of half the size each (see the kernel). */
function halvings(first: Gray): Gray[] {
  const sizes: Size[] = [first];
  for (let last: Size = first; sizes.length < LEVELS && Math.min(last.width, last.height) >= 2 * SMALLEST; sizes.push(last))
    last = { width: last.width >> 1, height: last.height >> 1 };
  if (sizes.length === 1) return [first];
  // Each with a few floats more, for the kernel goes over a row's end; then a line to work on.
  const begins: number[] = [];
  let floats = 0;
  for (const { width, height } of sizes) {
    begins.push(floats);
    floats += (width * height + 7) & ~3;
  }
  const { kernels, floats: memory } = borrowKernels(floats + first.width + 12);
  memory.set(first.data);
  return sizes.map(({ width, height }, k) => {
    if (k === 0) return first;
    kernels.halveFloats(4 * begins[k - 1], sizes[k - 1].width, sizes[k - 1].height, 4 * begins[k], 4 * floats);
    return { width, height, data: memory.slice(begins[k], begins[k] + width * height) };
  });
}

/**
 * The levels of a picture (luma of any unit) of the part within `region` where it is given (it is grown
 * to whole pixels of the coarsest level).
 */
export function levelsOf(luma: Gray, region?: Region): Levels {
  const cell = 2 ** (LEVELS - 1);
  const left = region ? Math.max(0, Math.floor(region.left / cell) * cell) : 0;
  const top = region ? Math.max(0, Math.floor(region.top / cell) * cell) : 0;
  const right = region ? Math.min(luma.width, Math.ceil(region.right / cell) * cell) : luma.width;
  const bottom = region ? Math.min(luma.height, Math.ceil(region.bottom / cell) * cell) : luma.height;
  const [width, height] = [Math.max(1, right - left), Math.max(1, bottom - top)];
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    const from = Math.min(luma.height - 1, top + y) * luma.width + Math.min(left, luma.width - width);
    data.set(luma.data.subarray(from, from + width), y * width);
  }
  gaussianBlur(data, width, height, 1, SMOOTHING, SMOOTHING);
  return { left, top, images: halvings({ width, height, data }) };
}
