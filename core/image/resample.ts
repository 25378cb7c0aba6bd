/** Pictures at other sizes. */
import type { Gray, Rgba, Size } from './picture.ts';

/** For each pixel of a line at its new length: which of the old ones it is made of, and their shares. */
interface Shares {
  from: Int32Array;
  count: Int32Array;
  shares: Float32Array;
  most: number;
}

/**
 * Smaller: each new pixel is the mean of what it covers. Larger: linear between the centres of pixels. Neither rings, so a matte stays in [0,1].
 */
function sharesOf(length: number, to: number): Shares {
  const scale = length / to;
  const reach = Math.max(1, scale);
  const most = Math.ceil(reach) + 2;
  const from = new Int32Array(to);
  const count = new Int32Array(to);
  const shares = new Float32Array(to * most);
  for (let i = 0; i < to; i++) {
    const [low, high] = scale >= 1 ? [i * scale, (i + 1) * scale] : [(i + 0.5) * scale - 1, (i + 0.5) * scale + 1];
    const first = Math.max(0, Math.floor(low + 1e-9));
    const last = Math.min(length - 1, Math.ceil(high - 1e-9) - 1);
    from[i] = first;
    count[i] = last - first + 1;
    let sum = 0;
    for (let k = first; k <= last; k++) {
      const share = scale >= 1 ? Math.min(high, k + 1) - Math.max(low, k) : Math.max(0, 1 - Math.abs(k + 0.5 - (i + 0.5) * scale));
      shares[i * most + k - first] = share;
      sum += share;
    }
    for (let k = 0; k < count[i]; k++) shares[i * most + k] /= sum;
  }
  return { from, count, shares, most };
}

/** A picture at another size, premultiplied where it has alpha; itself where the size is the same. Its values stay in the range that they have. */
export function resampled<P extends Gray | Rgba>(picture: P, size: Size): P {
  const { width, height, data } = picture;
  if (width === size.width && height === size.height) return picture;
  const channels = data.length / (width * height);
  const across = sharesOf(width, size.width);
  const down = sharesOf(height, size.height);
  const wide = new Float32Array(size.width * height * channels);
  for (let y = 0, o = 0; y < height; y++)
    for (let x = 0; x < size.width; x++, o += channels)
      for (let k = 0; k < across.count[x]; k++) {
        const share = across.shares[x * across.most + k];
        const i = (y * width + across.from[x] + k) * channels;
        for (let c = 0; c < channels; c++) wide[o + c] += data[i + c] * share;
      }
  const out = new Float32Array(size.width * size.height * channels);
  const line = size.width * channels;
  for (let y = 0; y < size.height; y++)
    for (let k = 0; k < down.count[y]; k++) {
      const share = down.shares[y * down.most + k];
      const i = (down.from[y] + k) * line;
      for (let x = 0; x < line; x++) out[y * line + x] += wide[i + x] * share;
    }
  return { ...picture, ...size, data: out };
}
