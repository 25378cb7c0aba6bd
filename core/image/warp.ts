/** Pictures seen through a motion of the plane. */
import type { Homography } from '../math/homography.ts';
import type { Gray, Rgba, Size } from './picture.ts';

/** Weights of four neighbours for a place `t` in [0,1] after the second (Keys 1981, a = -1/2). */
function cubic(t: number, out: Float64Array): void {
  const t2 = t * t;
  const t3 = t2 * t;
  out[0] = -0.5 * t + t2 - 0.5 * t3;
  out[1] = 1 - 2.5 * t2 + 1.5 * t3;
  out[2] = 0.5 * t + 2 * t2 - 1.5 * t3;
  out[3] = -0.5 * t2 + 0.5 * t3;
}

/** Whether a motion only moves, by whole pixels: then nothing lies between pixels. */
const movesWhole = (m: Homography): boolean =>
  m[0] === m[8] && m[4] === m[8] && m[1] === 0 && m[3] === 0 && m[6] === 0 && m[7] === 0 && Number.isInteger(m[2] / m[8]) && Number.isInteger(m[5] / m[8]);

/** The picture moved by whole pixels: what it shows at q lies at q + (dx, dy) in `data`. */
function moved(data: Float32Array, { width, height }: Size, channels: number, dx: number, dy: number, size: Size): Float32Array {
  const out = new Float32Array(size.width * size.height * channels);
  const left = Math.max(0, -dx);
  const right = Math.min(size.width, width - dx);
  if (right <= left) return out;
  for (let y = Math.max(0, -dy); y < Math.min(size.height, height - dy); y++) {
    const from = ((y + dy) * width + left + dx) * channels;
    out.set(data.subarray(from, from + (right - left) * channels), (y * size.width + left) * channels);
  }
  return out;
}

/**
 * The picture whose place q shows what lies at `motion` q in the given one; both in pixels, (0, 0) the outer corner. Nothing lies
 * beyond the given picture. Values stay within 0 and 1.
 * @param size of what is seen; that of the picture where nothing is said
 */
export function seenThrough<P extends Gray | Rgba>(picture: P, motion: Homography, size: Size = picture): P {
  const { width, height, data } = picture;
  const channels = data.length / (width * height);
  const seen = (pixels: Float32Array): P => ({ ...picture, width: size.width, height: size.height, data: pixels });
  if (movesWhole(motion)) return seen(moved(data, picture, channels, motion[2] / motion[8], motion[5] / motion[8], size));
  const out = new Float32Array(size.width * size.height * channels);
  const wx = new Float64Array(4);
  const wy = new Float64Array(4);
  const [a, b, c, d, e, f, g, h, i] = motion;
  for (let y = 0; y < size.height; y++)
    for (let x = 0; x < size.width; x++) {
      const px = x + 0.5;
      const py = y + 0.5;
      const w = g * px + h * py + i;
      const u = (a * px + b * py + c) / w - 0.5;
      const v = (d * px + e * py + f) / w - 0.5;
      if (!(w > 0 && u > -2 && v > -2 && u < width + 1 && v < height + 1)) continue;
      const left = Math.floor(u);
      const top = Math.floor(v);
      cubic(u - left, wx);
      cubic(v - top, wy);
      const o = (y * size.width + x) * channels;
      const row0 = Math.max(0, 1 - top);
      const row1 = Math.min(4, height + 1 - top);
      const column0 = Math.max(0, 1 - left);
      const column1 = Math.min(4, width + 1 - left);
      for (let k = 0; k < channels; k++) {
        let sum = 0;
        for (let row = row0; row < row1; row++) {
          let s = ((top + row - 1) * width + left + column0 - 1) * channels + k;
          let across = 0;
          for (let column = column0; column < column1; column++, s += channels) across += wx[column] * data[s];
          sum += wy[row] * across;
        }
        out[o + k] = Math.max(0, Math.min(1, sum));
      }
    }
  return seen(out);
}
