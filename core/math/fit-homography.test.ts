import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fitHomography } from './fit-homography.ts';
import { applyTo, type Homography } from './homography.ts';

const MOTION: Homography = [1.1, 0.08, 30, -0.05, 0.95, -12, 2e-4, -1e-4, 1];
const CORNERS = [
  [100, 80],
  [420, 95],
  [400, 300],
  [110, 280],
];

describe('fitHomography', () => {
  it('finds the motion that four points went by, or many', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.double({ min: 0, max: 500, noNaN: true }), fc.double({ min: 0, max: 400, noNaN: true })), { maxLength: 20 }), (more) => {
        const from = [...CORNERS, ...more];
        const found = fitHomography(
          from,
          from.map(([x, y]) => applyTo(MOTION, x, y)),
        );
        if (!found) return false;
        return from.every(([x, y]) => {
          const [[u, v], [eu, ev]] = [applyTo(found, x, y), applyTo(MOTION, x, y)];
          return Math.hypot(u - eu, v - ev) < 1e-4;
        });
      }),
      { numRuns: 50 },
    );
  });

  it('finds none for too few, for points in one place, or on one line', () => {
    expect(fitHomography(CORNERS.slice(1), CORNERS.slice(1))).toBeNull();
    expect(fitHomography(CORNERS, CORNERS.slice(1))).toBeNull();
    expect(
      fitHomography(
        [1, 2, 3, 4].map(() => [5, 5]),
        CORNERS,
      ),
    ).toBeNull();
    expect(
      fitHomography(
        [1, 2, 3, 4].map((k) => [k, 2 * k]),
        CORNERS,
      ),
    ).toBeNull();
  });
});
