/** Signed distance of pixel centres from the edge of a mask, by a chamfer (G. Borgefors 1986, weights .955 and 1.3693). */

const STRAIGHT = 0.955;
const DIAGONAL = 1.3693;

/** Distances in pixels, positive inside, within ±`most`; ±0.5 next to the edge. */
export function maskDistance(mask: Uint8Array, width: number, height: number, most: number): Float32Array {
  const d = new Float32Array(mask.length).fill(most);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (
        (x > 0 && mask[i - 1] !== mask[i]) ||
        (x + 1 < width && mask[i + 1] !== mask[i]) ||
        (y > 0 && mask[i - width] !== mask[i]) ||
        (y + 1 < height && mask[i + width] !== mask[i])
      )
        d[i] = 0.5;
    }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      let v = d[i];
      if (x > 0) v = Math.min(v, d[i - 1] + STRAIGHT);
      if (y > 0) {
        v = Math.min(v, d[i - width] + STRAIGHT);
        if (x > 0) v = Math.min(v, d[i - width - 1] + DIAGONAL);
        if (x + 1 < width) v = Math.min(v, d[i - width + 1] + DIAGONAL);
      }
      d[i] = v;
    }
  for (let y = height - 1; y >= 0; y--)
    for (let x = width - 1; x >= 0; x--) {
      const i = y * width + x;
      let v = d[i];
      if (x + 1 < width) v = Math.min(v, d[i + 1] + STRAIGHT);
      if (y + 1 < height) {
        v = Math.min(v, d[i + width] + STRAIGHT);
        if (x + 1 < width) v = Math.min(v, d[i + width + 1] + DIAGONAL);
        if (x > 0) v = Math.min(v, d[i + width - 1] + DIAGONAL);
      }
      d[i] = v;
    }
  for (let i = 0; i < d.length; i++) if (!mask[i]) d[i] = -d[i];
  return d;
}
