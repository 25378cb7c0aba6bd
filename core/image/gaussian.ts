/** Gaussian blur: a true sampled kernel, cut at 3 sigma, edges repeated. */
import { clamp } from '../math/clamp.ts';
import { borrowKernels } from '../wasm/host.ts';

/** Weights of a gaussian of `sigma` pixels, from -radius to radius (three sigma where nothing is said), sum 1. */
export function gaussianWeights(sigma: number, radius = Math.max(0, Math.ceil(sigma * 3))): Float32Array {
  const weights = new Float32Array(2 * radius + 1);
  let sum = 0;
  for (let i = -radius; i <= radius; i++) {
    const w = sigma > 0 ? Math.exp(-(i * i) / (2 * sigma * sigma)) : 1;
    weights[i + radius] = w;
    sum += w;
  }
  for (let i = 0; i < weights.length; i++) weights[i] /= sum;
  return weights;
}

/** Columns that lie together between the passes; as in the kernels. */
const STRIP = 64;

/**
 * Blurs in place. `data` is `width`·`height`·`channels` floats, interleaved; sigmas in pixels, 0 leaves that direction alone.
 */
export function gaussianBlur(data: Float32Array, width: number, height: number, channels: 1 | 4, sigmaX: number, sigmaY: number): void {
  const across = gaussianWeights(sigmaX);
  const down = gaussianWeights(sigmaY);
  if (across.length === 1 && down.length === 1) return;
  const radius = across.length >> 1;
  const radiusDown = down.length >> 1;
  const count = width * channels;
  const pad = radius * channels;
  const stride = count + 2 * pad + STRIP;
  const stripRows = height + 2 * radiusDown;
  // Layout: weights | a few padded rows | all rows in strips | the result. Few rows at a time keep the padding near.
  const some = clamp(Math.floor(16384 / stride), 1, height);
  const atDown = across.length;
  const atRows = atDown + down.length;
  const atStrips = atRows + some * stride;
  const atResult = atStrips + Math.ceil(count / STRIP) * STRIP * stripRows;
  const { kernels, floats } = borrowKernels(atResult + count * height + STRIP);
  floats.set(across, 0);
  floats.set(down, atDown);
  for (let y0 = 0; y0 < height; y0 += some) {
    const rows = Math.min(some, height - y0);
    for (let r = 0; r < rows; r++) {
      const from = (y0 + r) * count;
      const to = atRows + r * stride;
      floats.set(data.subarray(from, from + count), to + pad);
      for (let i = 0; i < pad; i++) {
        floats[to + i] = data[from + (i % channels)];
        floats[to + pad + count + i] = data[from + count - channels + (i % channels)];
      }
    }
    kernels.alongRows(atRows * 4, stride, (atStrips + (radiusDown + y0) * STRIP) * 4, stripRows, count, rows, channels, 0, radius);
  }
  kernels.downColumns(atStrips * 4, atResult * 4, count, height, atDown * 4, radiusDown);
  data.set(floats.subarray(atResult, atResult + count * height));
}
