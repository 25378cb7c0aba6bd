/** Filling in what is only known in places: S. Gortler et al., "The Lumigraph", SIGGRAPH 1996 (push-pull). */

/**
 * Pairs of numbers, one pair a pixel, with a weight each, spread to all pixels: where weights are small, by the means of ever
 * larger squares. Gives pairs for all; zeros where there are no weights at all.
 */
export function pushPull(pairs: Float32Array, weights: Float32Array, width: number, height: number): Float32Array {
  if (width === 1 && height === 1) return weights[0] > 0 ? pairs.slice() : new Float32Array(2);
  const w = (width + 1) >> 1;
  const h = (height + 1) >> 1;
  const smaller = new Float32Array(2 * w * h);
  const weight = new Float32Array(w * h);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const own = weights[i];
      if (own === 0) continue;
      const j = (y >> 1) * w + (x >> 1);
      weight[j] += own;
      smaller[2 * j] += own * pairs[2 * i];
      smaller[2 * j + 1] += own * pairs[2 * i + 1];
    }
  for (let j = 0; j < weight.length; j++) {
    if (weight[j] === 0) continue;
    smaller[2 * j] /= weight[j];
    smaller[2 * j + 1] /= weight[j];
    // Four certain pixels are no surer than certain.
    if (weight[j] > 1) weight[j] = 1;
  }
  const coarse = pushPull(smaller, weight, w, h);
  const out = new Float32Array(2 * width * height);
  for (let y = 0; y < height; y++) {
    // Between the four coarse pixels round each one, as a bilinear enlargement by two does.
    const upper = 2 * w * Math.max(0, (y - 1) >> 1);
    const lower = 2 * w * Math.min(h - 1, (y + 1) >> 1);
    const fy = y % 2 === 0 ? 0.75 : 0.25;
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const left = 2 * Math.max(0, (x - 1) >> 1);
      const right = 2 * Math.min(w - 1, (x + 1) >> 1);
      const fx = x % 2 === 0 ? 0.75 : 0.25;
      const a = (1 - fx) * (1 - fy);
      const b = fx * (1 - fy);
      const c = (1 - fx) * fy;
      const d = fx * fy;
      const own = weights[i];
      const sure = Math.min(1, own);
      const p = upper + left;
      const q = upper + right;
      const r = lower + left;
      const s = lower + right;
      const u = coarse[p] * a + coarse[q] * b + coarse[r] * c + coarse[s] * d;
      const v = coarse[p + 1] * a + coarse[q + 1] * b + coarse[r + 1] * c + coarse[s + 1] * d;
      out[2 * i] = u + sure * (pairs[2 * i] - u);
      out[2 * i + 1] = v + sure * (pairs[2 * i + 1] - v);
    }
  }
  return out;
}
