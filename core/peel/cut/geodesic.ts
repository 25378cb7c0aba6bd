/**
 * How far pixels are from painted ones, by the colours that a way there has to cross (A. Criminisi, T. Sharp, A. Blake,
 * "GeoS: Geodesic Image Segmentation", ECCV 2008).
 */
import type { LabPicture } from '../picture/lab.ts';

/** Weight of colour differences (in L*a*b*) against steps of a pixel. */
const COLOUR = 0.3;
const ROUNDS = 2;

/** By how much L*, a* and b* differ between two pixels. */
const colourBetween = (lab: Float32Array, i: number, j: number): number =>
  Math.abs(lab[3 * i] - lab[3 * j]) + Math.abs(lab[3 * i + 1] - lab[3 * j + 1]) + Math.abs(lab[3 * i + 2] - lab[3 * j + 2]);

/** What a step from each pixel to another costs, `dx` and `dy` pixels away; Infinity where that lies outside. */
function stepsTo(dx: number, dy: number, { width, height, lab }: LabPicture): Float32Array {
  const length = Math.hypot(dx, dy);
  const steps = new Float32Array(width * height).fill(Number.POSITIVE_INFINITY);
  for (let y = Math.max(0, -dy); y < height - Math.max(0, dy); y++)
    for (let x = Math.max(0, -dx); x < width - Math.max(0, dx); x++) {
      const i = y * width + x;
      steps[i] = length + COLOUR * colourBetween(lab, i, i + dy * width + dx);
    }
  return steps;
}

/** Distances to the pixels where `seeds` has each of the values, by raster scans; Infinity all over where there are none. */
export function geodesicDistances(picture: LabPicture, seeds: Uint8Array, values: readonly number[]): Float32Array[] {
  const { width } = picture;
  const [east, south, southEast, southWest] = [stepsTo(1, 0, picture), stepsTo(0, 1, picture), stepsTo(1, 1, picture), stepsTo(-1, 1, picture)];
  return values.map((value) => {
    const distance = new Float32Array(seeds.length).fill(Number.POSITIVE_INFINITY);
    for (let i = 0; i < seeds.length; i++) if (seeds[i] === value) distance[i] = 0;
    for (let round = 0; round < ROUNDS; round++) {
      for (let i = 1, above = 1 - width; i < distance.length; i++, above++) {
        let d = Math.min(distance[i], distance[i - 1] + east[i - 1]);
        if (above >= 0) d = Math.min(d, distance[above] + south[above], distance[above + 1] + southWest[above + 1]);
        if (above > 0) d = Math.min(d, distance[above - 1] + southEast[above - 1]);
        distance[i] = d;
      }
      for (let i = distance.length - 2, below = i + width; i >= 0; i--, below--) {
        let d = Math.min(distance[i], distance[i + 1] + east[i]);
        if (below < distance.length) d = Math.min(d, distance[below] + south[i], distance[below - 1] + southWest[i]);
        if (below + 1 < distance.length) d = Math.min(d, distance[below + 1] + southEast[i]);
        distance[i] = d;
      }
    }
    return distance;
  });
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
