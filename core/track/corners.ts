/** How well the places of a picture can be told from those next to them. */
import { gaussianBlur } from '../image/gaussian.ts';
import type { Gray, Region } from '../image/picture.ts';

/**
 * For each pixel of a piece, at least a pixel within the picture, the smaller eigenvalue of the products of the slopes round it (Shi and
 * Tomasi 1994), in grey levels squared a pixel squared: large where there are slopes in all directions. `reach`: standard deviation, in
 * pixels, of what is round it.
 */
export function cornersIn({ width, data }: Gray, { left, top, right, bottom }: Region, reach: number): Float32Array {
  const [w, h] = [right - left, bottom - top];
  const [xx, xy, yy] = [new Float32Array(w * h), new Float32Array(w * h), new Float32Array(w * h)];
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      const p = (top + y) * width + left + x;
      const gx = (data[p + 1] - data[p - 1]) / 2;
      const gy = (data[p + width] - data[p - width]) / 2;
      xx[i] = gx * gx;
      xy[i] = gx * gy;
      yy[i] = gy * gy;
    }
  for (const sum of [xx, xy, yy]) gaussianBlur(sum, w, h, 1, reach, reach);
  return xx.map((a, i) => (a + yy[i]) / 2 - Math.sqrt(((a - yy[i]) / 2) ** 2 + xy[i] * xy[i]));
}
