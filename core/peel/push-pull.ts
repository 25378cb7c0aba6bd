/** Filling in what is only known in places: S. Gortler et al., "The Lumigraph", SIGGRAPH 1996 (push-pull). */

/**
 * Values of `channels` numbers a pixel, with a weight each, spread to all pixels: where weights are small, by the means of ever
 * larger squares. Gives values for all; zeros where there are no weights at all.
 */
export function pushPull(values: Float32Array, weights: Float32Array, width: number, height: number, channels: number): Float32Array {
  if (width === 1 && height === 1) return weights[0] > 0 ? values.slice() : new Float32Array(channels);
  const [w, h] = [(width + 1) >> 1, (height + 1) >> 1];
  const smaller = new Float32Array(channels * w * h);
  const weight = new Float32Array(w * h);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const j = (y >> 1) * w + (x >> 1);
      weight[j] += weights[i];
      for (let c = 0; c < channels; c++) smaller[channels * j + c] += weights[i] * values[channels * i + c];
    }
  for (let j = 0; j < w * h; j++) {
    if (weight[j] > 0) for (let c = 0; c < channels; c++) smaller[channels * j + c] /= weight[j];
    // Four certain pixels are no surer than certain.
    weight[j] = Math.min(1, weight[j]);
  }
  const coarse = pushPull(smaller, weight, w, h, channels);
  const out = new Float32Array(channels * width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const sure = Math.min(1, weights[i]);
      // Between the four coarse pixels round this one, as a bilinear enlargement by two does.
      const [cx, cy] = [Math.max(0, Math.min(w - 1, (x - 0.5) / 2)), Math.max(0, Math.min(h - 1, (y - 0.5) / 2))];
      const [x0, y0] = [cx | 0, cy | 0];
      const [x1, y1] = [Math.min(w - 1, x0 + 1), Math.min(h - 1, y0 + 1)];
      const [fx, fy] = [cx - x0, cy - y0];
      const [p, q, r, s] = [channels * (y0 * w + x0), channels * (y0 * w + x1), channels * (y1 * w + x0), channels * (y1 * w + x1)];
      for (let c = 0; c < channels; c++) {
        const filled = (coarse[p + c] * (1 - fx) + coarse[q + c] * fx) * (1 - fy) + (coarse[r + c] * (1 - fx) + coarse[s + c] * fx) * fy;
        out[channels * i + c] = sure * values[channels * i + c] + (1 - sure) * filled;
      }
    }
  return out;
}
