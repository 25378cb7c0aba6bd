/** A picture at full, half, quarter … size, as trackers look at it. */
import { gaussianBlur } from '../image/gaussian.ts';
import { type Gray, lumaOf, type Region, type Size } from '../image/picture.ts';

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

/** Half the size by the filter 1 3 3 1 both ways, borders repeated; an odd last row or column is left out. */
function halved({ width, height, data }: Gray): Gray {
  const [w, h] = [width >> 1, height >> 1];
  const across = new Float32Array(w * height);
  for (let y = 0, o = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < w; x++, o++) {
      const i = row + 2 * x;
      const before = data[x > 0 ? i - 1 : i];
      const after = data[2 * x + 2 < width ? i + 2 : i + 1];
      across[o] = (before + after + 3 * (data[i] + data[i + 1])) / 8;
    }
  }
  const out = new Float32Array(w * h);
  for (let y = 0, o = 0; y < h; y++) {
    const i = 2 * y * w;
    const before = y > 0 ? i - w : i;
    const after = 2 * y + 2 < height ? i + 2 * w : i + w;
    for (let x = 0; x < w; x++, o++) out[o] = (across[before + x] + across[after + x] + 3 * (across[i + x] + across[i + w + x])) / 8;
  }
  return { width: w, height: h, data: out };
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
  const images: Gray[] = [{ width, height, data }];
  for (let last: Gray = images[0]; images.length < LEVELS && Math.min(last.width, last.height) >= 2 * SMALLEST; images.push(last)) last = halved(last);
  return { left, top, images };
}
