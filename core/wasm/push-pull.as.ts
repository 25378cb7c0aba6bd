/** Filling in what is only known in places, between one size of a picture and half of it (S. Gortler et al., "The Lumigraph", SIGGRAPH 1996). */

/**
 * Means of pairs of numbers over squares of four pixels, by weight, and the weights' sums, at most 1: four pixels that are certain are no
 * surer than certain. Both are `(width + 1) / 2` by `(height + 1) / 2`.
 */
export function pullPairs(pairs: usize, weights: usize, width: i32, height: i32, smaller: usize, weight: usize): void {
  const w = (width + 1) >> 1;
  const h = (height + 1) >> 1;
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let sum: f32 = 0;
      let u: f32 = 0;
      let v: f32 = 0;
      for (let k = 0; k < 4; k++) {
        const px = 2 * x + (k & 1);
        const py = 2 * y + (k >> 1);
        if (px >= width || py >= height) continue;
        const i = (py * width + px) as usize;
        const own = load<f32>(weights + (i << 2));
        sum += own;
        u += own * load<f32>(pairs + (i << 3));
        v += own * load<f32>(pairs + (i << 3), 4);
      }
      const j = (y * w + x) as usize;
      const share: f32 = sum > 0 ? 1 / sum : 0;
      store<f32>(smaller + (j << 3), u * share);
      store<f32>(smaller + (j << 3), v * share, 4);
      store<f32>(weight + (j << 2), min<f32>(1, sum));
    }
}

/** Pairs for all pixels, in place: their own as far as they weigh, for the rest those of half the size, enlarged by two (bilinear). */
export function pushPairs(pairs: usize, weights: usize, coarse: usize, width: i32, height: i32): void {
  const w = (width + 1) >> 1;
  const h = (height + 1) >> 1;
  for (let y = 0; y < height; y++) {
    const upper = coarse + (((w * max(0, (y - 1) >> 1)) as usize) << 3);
    const lower = coarse + (((w * min(h - 1, (y + 1) >> 1)) as usize) << 3);
    const fy: f32 = y % 2 === 0 ? 0.75 : 0.25;
    for (let x = 0; x < width; x++) {
      const i = (y * width + x) as usize;
      const left = (max(0, (x - 1) >> 1) as usize) << 3;
      const right = (min(w - 1, (x + 1) >> 1) as usize) << 3;
      const fx: f32 = x % 2 === 0 ? 0.75 : 0.25;
      const a: f32 = (1 - fx) * (1 - fy);
      const b: f32 = fx * (1 - fy);
      const c: f32 = (1 - fx) * fy;
      const d = fx * fy;
      const sure = min<f32>(1, load<f32>(weights + (i << 2)));
      const u = load<f32>(upper + left) * a + load<f32>(upper + right) * b + load<f32>(lower + left) * c + load<f32>(lower + right) * d;
      const v = load<f32>(upper + left, 4) * a + load<f32>(upper + right, 4) * b + load<f32>(lower + left, 4) * c + load<f32>(lower + right, 4) * d;
      const to = pairs + (i << 3);
      store<f32>(to, u + sure * (load<f32>(to) - u));
      store<f32>(to, v + sure * (load<f32>(to, 4) - v), 4);
    }
  }
}
