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
  // With a rim round it no pixel has to be asked whether it has neighbours.
  const stride = width + 2;
  const open = new Uint8Array(stride * (height + 2));
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) if (mask[y * width + x] === value) open[(y + 1) * stride + x + 1] = 1;
  const stack = new Int32Array(mask.length);
  let end = 0;
  const reach = (i: number) => {
    if (!open[i]) return;
    open[i] = 0;
    stack[end++] = i;
  };
  for (let start = open.indexOf(1); start >= 0; start = open.indexOf(1, start + 1)) {
    end = 0;
    reach(start);
    for (let k = 0; k < end; k++) {
      const i = stack[k];
      reach(i - 1);
      reach(i + 1);
      reach(i - stride);
      reach(i + stride);
    }
    let atBorder = false;
    for (let k = 0; k < end; k++) {
      const y = ((stack[k] / stride) | 0) - 1;
      const x = stack[k] - (y + 1) * stride - 1;
      if (x === 0 || y === 0 || x === width - 1 || y === height - 1) atBorder = true;
      stack[k] = y * width + x;
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

/** What is set in either of two masks. */
export function either(a: Uint8Array, b: Uint8Array): Uint8Array {
  const out = new Uint8Array(a.length);
  for (let i = 0; i < out.length; i++) out[i] = a[i] | b[i];
  return out;
}

/** The same; the other where one is not there, null where neither is. */
export const union = (a: Uint8Array | null, b: Uint8Array | null): Uint8Array | null => (a && b ? either(a, b) : (a ?? b));
