/** Gaussian blur: a true sampled kernel, cut at 3 sigma, edges repeated. */
import { borrowKernels } from '../wasm/host.ts';

/** Weights of a gaussian of `sigma` pixels, from -radius to radius, sum 1. */
export function gaussianWeights(sigma: number): Float32Array {
  const radius = Math.max(0, Math.ceil(sigma * 3));
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

/**
 * Blurs in place. `data` is `width`·`height`·`channels` floats, interleaved; sigmas in pixels, 0 leaves that direction alone.
 */
export function gaussianBlur(data: Float32Array, width: number, height: number, channels: 1 | 4, sigmaX: number, sigmaY: number): void {
  const across = gaussianWeights(sigmaX);
  const down = gaussianWeights(sigmaY);
  if (across.length === 1 && down.length === 1) return;
  const radius = across.length >> 1;
  const count = width * channels;
  const pad = radius * channels;
  const stride = count + 2 * pad;
  const size = count * height;
  // Layout: weights | a strip of padded rows | picture A | picture B. The strip keeps padding cheap in memory.
  const strip = Math.min(height, Math.max(1, Math.floor(65536 / stride)));
  const atDown = across.length;
  const atStrip = atDown + down.length;
  const atA = (atStrip + strip * stride + 3) & ~3;
  const atB = atA + size;
  const { kernels, floats } = borrowKernels(atB + size);
  floats.set(across, 0);
  floats.set(down, atDown);
  if (across.length > 1) {
    for (let y0 = 0; y0 < height; y0 += strip) {
      const rows = Math.min(strip, height - y0);
      for (let r = 0; r < rows; r++) {
        const from = (y0 + r) * count;
        const to = atStrip + r * stride;
        floats.set(data.subarray(from, from + count), to + pad);
        for (let i = 0; i < pad; i++) {
          floats[to + i] = data[from + (i % channels)];
          floats[to + pad + count + i] = data[from + count - channels + (i % channels)];
        }
      }
      kernels.alongRows(atStrip * 4, stride, (atA + y0 * count) * 4, count, rows, channels, 0, radius);
    }
  } else {
    floats.set(data, atA);
  }
  if (down.length > 1) {
    kernels.downColumns(atA * 4, atB * 4, count, height, atDown * 4, down.length >> 1);
    data.set(floats.subarray(atB, atB + size));
  } else {
    data.set(floats.subarray(atA, atA + size));
  }
}
