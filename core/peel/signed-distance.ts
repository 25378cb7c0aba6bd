/** Signed distance of pixel centres from the edge of a mask, by a chamfer (G. Borgefors 1986, weights .955 and 1.3693). */

const STRAIGHT = 0.955;
const DIAGONAL = 1.3693;

/** Distances in pixels, positive inside, within ±`most`; ±0.5 next to the edge. */
export function maskDistance(mask: Uint8Array, width: number, height: number, most: number): Float32Array {
  // A rim of one pixel all round, never nearer than anything, spares the loops their questions.
  const stride = width + 2;
  const d = new Float32Array(stride * (height + 2)).fill(most);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < width; x++) {
      const i = row + x;
      const own = mask[i];
      const right = x + 1 < width && mask[i + 1] !== own;
      const down = y + 1 < height && mask[i + width] !== own;
      if (!right && !down) continue;
      const at = (y + 1) * stride + x + 1;
      d[at] = 0.5;
      if (right) d[at + 1] = 0.5;
      if (down) d[at + stride] = 0.5;
    }
  }
  for (let y = 1; y <= height; y++)
    for (let i = y * stride + 1; i <= y * stride + width; i++) {
      let v = d[i];
      const before = d[i - 1] + STRAIGHT;
      const above = d[i - stride] + STRAIGHT;
      const left = d[i - stride - 1] + DIAGONAL;
      const right = d[i - stride + 1] + DIAGONAL;
      if (before < v) v = before;
      if (above < v) v = above;
      if (left < v) v = left;
      if (right < v) v = right;
      d[i] = v;
    }
  const out = new Float32Array(mask.length);
  for (let y = height; y >= 1; y--)
    for (let i = y * stride + width; i > y * stride; i--) {
      let v = d[i];
      const after = d[i + 1] + STRAIGHT;
      const below = d[i + stride] + STRAIGHT;
      const left = d[i + stride - 1] + DIAGONAL;
      const right = d[i + stride + 1] + DIAGONAL;
      if (after < v) v = after;
      if (below < v) v = below;
      if (left < v) v = left;
      if (right < v) v = right;
      d[i] = v;
      const at = (y - 1) * width + i - y * stride - 1;
      out[at] = mask[at] ? v : -v;
    }
  return out;
}
