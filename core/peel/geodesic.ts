/**
 * How far every pixel is from painted ones, by the colours that a way there has to cross (A. Criminisi, T. Sharp, A. Blake,
 * "GeoS: Geodesic Image Segmentation", ECCV 2008): raster scans, twice both ways.
 */
import type { LabPicture } from './lab.ts';

/** Weight of colour differences (in L*a*b*) against steps of a pixel. */
const COLOUR = 0.3;
const ROUNDS = 2;

/** The lesser of what pixel `i` has and the way over pixel `j`, a step of so many pixels away. */
function over(distance: Float32Array, lab: Float32Array, i: number, j: number, step: number): number {
  const p = 3 * i;
  const q = 3 * j;
  const colour = Math.abs(lab[p] - lab[q]) + Math.abs(lab[p + 1] - lab[q + 1]) + Math.abs(lab[p + 2] - lab[q + 2]);
  const d = distance[j] + step + COLOUR * colour;
  return Math.min(d, distance[i]);
}

/** Distances to the pixels where `seeds` has `value`; Infinity all over where there are none. */
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
