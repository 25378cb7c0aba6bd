/** Pictures seen through a motion of the plane. */
import type { Homography } from '../math/homography.ts';
import type { Gray, Rgba } from './picture.ts';

/** Weights of four neighbours for a place `t` in [0,1] after the second (Keys 1981, a = -1/2). */
function cubic(t: number, out: Float64Array): void {
  const [t2, t3] = [t * t, t * t * t];
  out[0] = -0.5 * t + t2 - 0.5 * t3;
  out[1] = 1 - 2.5 * t2 + 1.5 * t3;
  out[2] = 0.5 * t + 2 * t2 - 1.5 * t3;
  out[3] = -0.5 * t2 + 0.5 * t3;
}

/**
 * The picture whose place q shows what lies at `motion` q in the given one; both in pixels, (0, 0) the outer corner. Nothing lies
 * beyond the given picture. Values stay within 0 and 1.
 */
export function seenThrough<P extends Gray | Rgba>(picture: P, motion: Homography): P {
  const { width, height, data } = picture;
  const channels = data.length / (width * height);
  const out = new Float32Array(data.length);
  const [wx, wy] = [new Float64Array(4), new Float64Array(4)];
  const [a, b, c, d, e, f, g, h, i] = motion;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [px, py] = [x + 0.5, y + 0.5];
      const w = g * px + h * py + i;
      const u = (a * px + b * py + c) / w - 0.5;
      const v = (d * px + e * py + f) / w - 0.5;
      if (!(w > 0 && u > -2 && v > -2 && u < width + 1 && v < height + 1)) continue;
      const [left, top] = [Math.floor(u), Math.floor(v)];
      cubic(u - left, wx);
      cubic(v - top, wy);
      const o = (y * width + x) * channels;
      for (let row = 0; row < 4; row++) {
        const sy = top + row - 1;
        if (sy < 0 || sy >= height) continue;
        for (let column = 0; column < 4; column++) {
          const sx = left + column - 1;
          if (sx < 0 || sx >= width) continue;
          const weight = wx[column] * wy[row];
          const s = (sy * width + sx) * channels;
          for (let k = 0; k < channels; k++) out[o + k] += weight * data[s + k];
        }
      }
      for (let k = 0; k < channels; k++) out[o + k] = Math.max(0, Math.min(1, out[o + k]));
    }
  return { ...picture, data: out };
}
