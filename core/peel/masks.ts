/** Small works on binary masks: bands round an edge, pieces, holes. */

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

/** Calls `each` with the pixels of every piece (neighbours in rows and columns) of those equal to `value`. */
export function eachPiece(mask: Uint8Array, width: number, height: number, value: 0 | 1, each: (pixels: Int32Array, atBorder: boolean) => void): void {
  const seen = new Uint8Array(mask.length);
  const stack = new Int32Array(mask.length);
  for (let start = 0; start < mask.length; start++) {
    if (seen[start] || mask[start] !== value) continue;
    let end = 1;
    stack[0] = start;
    seen[start] = 1;
    let atBorder = false;
    for (let k = 0; k < end; k++) {
      const i = stack[k];
      const x = i % width;
      if (x === 0 || x === width - 1 || i < width || i >= width * (height - 1)) atBorder = true;
      for (let d = 0; d < 4; d++) {
        if (d === 0 ? x === 0 : d === 1 ? x === width - 1 : d === 2 ? i < width : i >= width * (height - 1)) continue;
        const j = d === 0 ? i - 1 : d === 1 ? i + 1 : d === 2 ? i - width : i + width;
        if (seen[j] || mask[j] !== value) continue;
        seen[j] = 1;
        stack[end++] = j;
      }
    }
    each(stack.subarray(0, end), atBorder);
  }
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

/** What is set in either of two masks; the other where one is not there, null where neither is. */
export const union = (a: Uint8Array | null, b: Uint8Array | null): Uint8Array | null => (a && b ? a.map((v, i) => v | b[i]) : (a ?? b));
