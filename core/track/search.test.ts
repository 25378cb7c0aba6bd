import { describe, expect, it } from 'vitest';
import { asFilmed, noiseSurface, seenThrough } from '../../tests/warped.ts';
import { applyTo, translation } from '../math/homography.ts';
import { pointArea } from './area.ts';
import { patternOf } from './pattern.ts';
import { pyramidOf } from './pyramid.ts';
import { searched } from './search.ts';

const SIZE = { width: 400, height: 300 };
const surface = noiseSurface(3, 3.5);
const filmed = (x: number, y: number, seed: number) => pyramidOf(asFilmed(seenThrough(surface, translation(x, y), SIZE), { noise: 1.2, seed }));
const area = pointArea(200, 150, 10);
const first = filmed(0, 0, 1);
const patterns = [0, 1, 2].map((k) => patternOf(first, k, area.samples(2 ** k, 529, 4 * 2 ** k), area.homography));
const find = (x: number, y: number, reach: number) => {
  const places = searched(filmed(x, y, 2), area.homography, reach, 2, (level) => ({ pattern: patterns[level], at: level }));
  return places.map((homography) => applyTo(homography, 0, 0));
};

describe('looking for a pattern round a place', () => {
  it.each([
    [13, -9, 24],
    [-47, 38, 64],
    [101, -83, 128],
    [-118, 6, 128],
    [66, 107, 128],
  ])('finds it moved by %i, %i within %i pixels, among the three best at most', (x, y, reach) => {
    const found = find(x, y, reach);
    expect(found.length).toBeLessThanOrEqual(3);
    // To a step of the coarsest level or so: what is found is aligned afterwards.
    expect(Math.hypot(found[0][0] - 200 - x, found[0][1] - 150 - y)).toBeLessThan(5);
  });

  it('finds nothing where it went out of the picture but for a rim', () => {
    for (const [x, y] of find(-205, 0, 128)) expect(Math.hypot(x + 5, y - 150)).toBeGreaterThan(40);
  });
});
