/** Small works on binary masks: bands round an edge, pieces, holes. */
import { joinedRuns } from '../../image/runs.ts';
import { borrowParts } from '../../wasm/host.ts';
import { crop, paste } from './crop.ts';

/** 1 for pixels within `radius` (in rows and columns) of a place where the mask changes; borders of the picture are none. */
export function bandOf(mask: Uint8Array, width: number, height: number, radius: number): Uint8Array {
  const edge = new Uint8Array(mask.length);
  for (let from = 0; from < mask.length; from += width) {
    const row = mask.subarray(from, from + width);
    for (let x = row.indexOf(1 - row[0]); x > 0; x = row.indexOf(1 - row[x], x)) edge[from + x - 1] = edge[from + x] = 1;
  }
  eachUnlike(mask.subarray(0, mask.length - width), mask.subarray(width), (i) => {
    edge[i] = edge[i + width] = 1;
  });
  return dilate(edge, width, height, radius);
}

/** The mask with every set pixel made a square of 2·radius+1. */
export function dilate(mask: Uint8Array, width: number, height: number, radius: number): Uint8Array {
  // Room round the picture, so that what begins `radius` before a pixel lies where it is read from.
  const stride = width + radius;
  const all = stride * (height + 2 * radius) + radius;
  const { kernels, part, at } = borrowParts({ wide: Math.ceil(all / 4) + 8 });
  const wide = new Uint8Array(part.wide.buffer, at.wide, all + 32).fill(0);
  paste(wide, stride, mask, { left: radius, top: radius, width, height });
  kernels.spreadBack(at.wide, all, 2 * radius + 1, 1);
  kernels.spreadBack(at.wide, all, 2 * radius + 1, stride);
  return crop(wide, stride, { left: 0, top: 0, width, height }, 1, new Uint8Array(width * height));
}

/** A mask four pixels at a time, but for the last few; nothing where it does not begin at a whole word. */
export const foursOf = ({ buffer, byteOffset, length }: Uint8Array): Uint32Array =>
  byteOffset % 4 === 0 ? new Uint32Array(buffer, byteOffset, length >> 2) : new Uint32Array(0);

/** How many pixels are set in a mask. */
export function sizeOf(mask: Uint8Array): number {
  let count = 0;
  const fours = foursOf(mask);
  for (let k = 0; k < fours.length; k++) count += Math.imul(fours[k], 0x01010101) >>> 24;
  for (let i = 4 * fours.length; i < mask.length; i++) count += mask[i];
  return count;
}

/** Calls `each` with the pixels that two masks of the same size do not share, rising. */
export function eachUnlike(a: Uint8Array, b: Uint8Array, each: (i: number) => void): void {
  const among = (from: number, to: number) => {
    for (let i = from; i < to; i++) if (a[i] !== b[i]) each(i);
  };
  // Most are the same in both, and passed over four at a time.
  const [left, right] = [foursOf(a), foursOf(b)];
  const fours = Math.min(left.length, right.length);
  for (let k = 0; k < fours; k++) if (left[k] !== right[k]) among(4 * k, 4 * k + 4);
  among(4 * fours, a.length);
}

/** Stretches of neighbouring pixels of rows, row after row. */
interface Runs {
  count: number;
  /** First pixel of each, and the one after its last; as places in the whole picture. */
  from: Int32Array;
  to: Int32Array;
}

function runsOf(mask: Uint8Array, width: number, height: number, value: 0 | 1): Runs {
  const most = height * ((width + 1) >> 1);
  const [from, to] = [new Int32Array(most), new Int32Array(most)];
  let count = 0;
  for (let y = 0; y < height; y++) {
    const end = (y + 1) * width;
    for (let i = y * width; i < end; ) {
      if (mask[i] !== value) {
        i++;
        continue;
      }
      from[count] = i;
      while (i < end && mask[i] === value) i++;
      to[count++] = i;
    }
  }
  return { count, from, to };
}

/** Calls `each` with the pixels of every piece (neighbours in rows and columns) of those equal to `value`. */
export function eachComponent(mask: Uint8Array, width: number, height: number, value: 0 | 1, each: (pixels: Int32Array, atBorder: boolean) => void): void {
  const { count, from, to } = runsOf(mask, width, height, value);
  const roots = joinedRuns(from, to, count, width);
  const sizes = new Int32Array(count);
  const atBorder = new Uint8Array(count);
  for (let k = 0; k < count; k++) {
    const root = roots[k];
    sizes[root] += to[k] - from[k];
    if (from[k] < width || to[k] > mask.length - width || from[k] % width === 0 || to[k] % width === 0) atBorder[root] = 1;
  }
  const pixels = new Int32Array(sizes.reduce((all, size) => all + size, 0));
  const ends = new Int32Array(count);
  for (let k = 0, next = 0; k < count; k++) {
    const root = roots[k];
    if (root === k) {
      ends[k] = next;
      next += sizes[k];
    }
    for (let i = from[k]; i < to[k]; i++) pixels[ends[root]++] = i;
  }
  for (let k = 0; k < count; k++) if (sizes[k] > 0) each(pixels.subarray(ends[k] - sizes[k], ends[k]), atBorder[k] === 1);
}

/**
 * Calls `each` with pixels just within the edge of a mask, of which `distance` is the signed distance, so that any two are at least
 * `apart` pixels from each other and no part of the edge is farther from all.
 */
export function eachPlaceAlong(distance: Float32Array, width: number, height: number, apart: number, each: (x: number, y: number) => void): void {
  const free = new Uint8Array(distance.length).fill(1);
  for (let i = 0; i < distance.length; i++) {
    if (distance[i] !== 0.5 || !free[i]) continue;
    const [x, y] = [i % width, (i / width) | 0];
    for (let v = Math.max(0, y - apart); v <= Math.min(height - 1, y + apart); v++)
      for (let u = Math.max(0, x - apart); u <= Math.min(width - 1, x + apart); u++) if ((u - x) ** 2 + (v - y) ** 2 < apart * apart) free[v * width + u] = 0;
    each(x, y);
  }
}

/** What is set in either of two masks. */
export function either(a: Uint8Array, b: Uint8Array): Uint8Array {
  const out = new Uint8Array(a.length);
  for (let i = 0; i < out.length; i++) out[i] = a[i] | b[i];
  return out;
}

/** The same; the other where one is not there, null where neither is. */
export const union = (a: Uint8Array | null, b: Uint8Array | null): Uint8Array | null => (a && b ? either(a, b) : (a ?? b));
