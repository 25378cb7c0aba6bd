/** How right a mask is. */

/** 1 where a matte is over a half: the exact one, a byte a pixel, and the finished one, [0,1]. */
export const exactMask = (truth: ArrayLike<number>): Uint8Array => Uint8Array.from(truth, (v) => (v > 127 ? 1 : 0));
export const finishedMask = (alpha: Float32Array): Uint8Array => Uint8Array.from(alpha, (v) => (v > 0.5 ? 1 : 0));

/** Intersection over union of the mask with the truth at half alpha; 1 where both are empty. */
export function regionIoU(mask: ArrayLike<number>, truth: ArrayLike<number>): number {
  let [both, any] = [0, 0];
  for (let i = 0; i < mask.length; i++) {
    const [a, b] = [mask[i] > 0, truth[i] > 127];
    if (a && b) both++;
    if (a || b) any++;
  }
  return any === 0 ? 1 : both / any;
}

function edges(mask: ArrayLike<number>, level: number, width: number, height: number): Uint8Array {
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const inside = mask[i] > level;
      if (
        inside &&
        ((x > 0 && mask[i - 1] <= level) ||
          (x + 1 < width && mask[i + 1] <= level) ||
          (y > 0 && mask[i - width] <= level) ||
          (y + 1 < height && mask[i + width] <= level))
      )
        out[i] = 1;
    }
  return out;
}

/** Share of the pixels set in `a` that have one of `b` within `tolerance`. */
function matched(a: Uint8Array, b: Uint8Array, width: number, height: number, tolerance: number): number {
  let [hit, all] = [0, 0];
  const t = Math.floor(tolerance);
  for (let i = 0; i < a.length; i++) {
    if (!a[i]) continue;
    all++;
    const [x, y] = [i % width, Math.floor(i / width)];
    search: for (let v = -t; v <= t; v++)
      for (let u = -t; u <= t; u++)
        if (u * u + v * v <= tolerance * tolerance && x + u >= 0 && y + v >= 0 && x + u < width && y + v < height && b[(y + v) * width + x + u]) {
          hit++;
          break search;
        }
  }
  return all === 0 ? 1 : hit / all;
}

/** Boundary F at `tolerance` pixels: harmonic mean of precision and recall of the boundary's pixels. */
export function boundaryF(mask: ArrayLike<number>, truth: ArrayLike<number>, width: number, height: number, tolerance: number): number {
  const [own, real] = [edges(mask, 0, width, height), edges(truth, 127, width, height)];
  const some = (e: Uint8Array) => e.includes(1);
  if (!some(own) || !some(real)) return some(own) === some(real) ? 1 : 0;
  const precision = matched(own, real, width, height, tolerance);
  const recall = matched(real, own, width, height, tolerance);
  return precision + recall === 0 ? 0 : (2 * precision * recall) / (precision + recall);
}

/**
 * How much a result flickers from one frame to the next: pixels that change sides in it and not in the truth, or in the truth and
 * not in it, for each pixel of the truth's edge.
 */
export function flickerOf(
  before: ArrayLike<number>,
  mask: ArrayLike<number>,
  truthBefore: ArrayLike<number>,
  truth: ArrayLike<number>,
  width: number,
  height: number,
): number {
  let wrong = 0;
  for (let i = 0; i < mask.length; i++) {
    const own = mask[i] > 0 !== before[i] > 0;
    const real = truth[i] > 127 !== truthBefore[i] > 127;
    if (own !== real) wrong++;
  }
  const rim = edges(truth, 127, width, height).reduce((a, b) => a + b, 0);
  return rim === 0 ? 0 : wrong / rim;
}

function ranks(list: readonly number[]): number[] {
  const order = list.map((_, i) => i).sort((a, b) => list[a] - list[b]);
  const out = new Array<number>(list.length);
  for (let i = 0; i < order.length; ) {
    let end = i;
    while (end + 1 < order.length && list[order[end + 1]] === list[order[i]]) end++;
    for (let k = i; k <= end; k++) out[order[k]] = (i + end) / 2;
    i = end + 1;
  }
  return out;
}

/** Spearman's rank correlation; 0 where one of the lists is all alike. */
export function rankCorrelation(a: readonly number[], b: readonly number[]): number {
  const [p, q] = [ranks(a), ranks(b)];
  const mean = (a.length - 1) / 2;
  let [pq, pp, qq] = [0, 0, 0];
  for (let i = 0; i < a.length; i++) {
    pq += (p[i] - mean) * (q[i] - mean);
    pp += (p[i] - mean) ** 2;
    qq += (q[i] - mean) ** 2;
  }
  return pp > 0 && qq > 0 ? pq / Math.sqrt(pp * qq) : 0;
}
