/** Small works on binary masks: bands round an edge, pieces, holes. */
import { joinedRuns } from '../image/runs.ts';

/** 1 for pixels within `radius` (in rows and columns) of a place where the mask changes; borders of the picture are none. */
export function bandOf(mask: Uint8Array, width: number, height: number, radius: number): Uint8Array {
  const edge = new Uint8Array(mask.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const right = x + 1 < width && mask[i] !== mask[i + 1];
      const down = y + 1 < height && mask[i] !== mask[i + width];
      if (right) edge[i] = edge[i + 1] = 1;
      if (down) edge[i] = edge[i + width] = 1;
    }
  return widened(edge, width, height, radius);
}

/** The mask with every set pixel made a square of 2·radius+1. */
export function widened(mask: Uint8Array, width: number, height: number, radius: number): Uint8Array {
  const along = new Uint8Array(mask.length);
  for (let y = 0; y < height; y++) {
    // How far the last set pixel reaches to the right.
    let reach = -1;
    let ahead = 0;
    for (let x = 0; x < width; x++) {
      for (; ahead < width && ahead <= x + radius; ahead++) if (mask[y * width + ahead]) reach = ahead + radius;
      if (x <= reach) along[y * width + x] = 1;
    }
  }
  const out = new Uint8Array(mask.length);
  const reach = new Int32Array(width).fill(-1);
  let ahead = 0;
  for (let y = 0; y < height; y++) {
    for (; ahead < height && ahead <= y + radius; ahead++) for (let x = 0; x < width; x++) if (along[ahead * width + x]) reach[x] = ahead + radius;
    for (let x = 0; x < width; x++) if (y <= reach[x]) out[y * width + x] = 1;
  }
  return out;
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
export function eachPiece(mask: Uint8Array, width: number, height: number, value: 0 | 1, each: (pixels: Int32Array, atBorder: boolean) => void): void {
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
