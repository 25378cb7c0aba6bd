/**
 * How far pixels are from painted ones, by the colours that a way there has to cross (A. Criminisi, T. Sharp, A. Blake,
 * "GeoS: Geodesic Image Segmentation", ECCV 2008).
 */
import type { LabPicture } from './lab.ts';

/** Weight of colour differences (in L*a*b*) against steps of a pixel. */
const COLOUR = 0.3;
const ROUNDS = 2;

/** By how much L*, a* and b* differ between two pixels. */
const colourBetween = (lab: Float32Array, i: number, j: number): number =>
  Math.abs(lab[3 * i] - lab[3 * j]) + Math.abs(lab[3 * i + 1] - lab[3 * j + 1]) + Math.abs(lab[3 * i + 2] - lab[3 * j + 2]);

/** The lesser of what pixel `i` has and the way over pixel `j`, a step of so many pixels away. */
function over(distance: Float32Array, lab: Float32Array, i: number, j: number, step: number): number {
  const d = distance[j] + step + COLOUR * colourBetween(lab, i, j);
  return Math.min(d, distance[i]);
}

/** Distances to the pixels where `seeds` has `value`, by raster scans; Infinity all over where there are none. */
export function geodesicDistance({ width, height, lab }: LabPicture, seeds: Uint8Array, value: number): Float32Array {
  const distance = new Float32Array(width * height);
  for (let i = 0; i < distance.length; i++) distance[i] = seeds[i] === value ? 0 : Number.POSITIVE_INFINITY;
  for (let round = 0; round < ROUNDS; round++) {
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const i = y * width + x;
        if (x > 0) distance[i] = over(distance, lab, i, i - 1, 1);
        if (y === 0) continue;
        distance[i] = over(distance, lab, i, i - width, 1);
        if (x > 0) distance[i] = over(distance, lab, i, i - width - 1, Math.SQRT2);
        if (x < width - 1) distance[i] = over(distance, lab, i, i - width + 1, Math.SQRT2);
      }
    for (let y = height - 1; y >= 0; y--)
      for (let x = width - 1; x >= 0; x--) {
        const i = y * width + x;
        if (x < width - 1) distance[i] = over(distance, lab, i, i + 1, 1);
        if (y === height - 1) continue;
        distance[i] = over(distance, lab, i, i + width, 1);
        if (x < width - 1) distance[i] = over(distance, lab, i, i + width + 1, Math.SQRT2);
        if (x > 0) distance[i] = over(distance, lab, i, i + width - 1, Math.SQRT2);
      }
  }
  return distance;
}

/**
 * Calls `each` once with every pixel that is `open` and not farther than `limit` from the `from` pixels, by ways through open pixels
 * alone: each step from a pixel to one of the eight beside it is 1 and what L*, a* and b* change by. The first pixels need not be open.
 * What is not reached costs nothing.
 */
export function eachReached(
  { width, height, lab }: LabPicture,
  from: Int32Array,
  open: (i: number) => boolean,
  limit: number,
  each: (i: number) => void,
): void {
  const least = new Map<number, number>();
  for (const i of from) least.set(i, 0);
  // No step is shorter than a bucket is wide: what lies in one is final when its turn comes (R. B. Dial, CACM 12(11), 1969).
  const buckets: number[][] = Array.from({ length: Math.floor(limit) + 1 }, () => []);
  buckets[0] = Array.from(from);
  const done = new Set<number>();
  for (const bucket of buckets)
    for (const i of bucket) {
      if (done.has(i)) continue;
      done.add(i);
      if (open(i)) each(i);
      const here = least.get(i) as number;
      const [x, y] = [i % width, Math.floor(i / width)];
      for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
        for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
          const j = v * width + u;
          if (done.has(j) || !open(j)) continue;
          const way = here + 1 + colourBetween(lab, i, j);
          if (way > limit || way >= (least.get(j) ?? Number.POSITIVE_INFINITY)) continue;
          least.set(j, way);
          buckets[Math.floor(way)].push(j);
        }
    }
}
