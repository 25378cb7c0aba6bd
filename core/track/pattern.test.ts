import { describe, expect, it } from 'vitest';
import { noiseSurface, seenThrough } from '../../tests/warped.ts';
import type { Gray } from '../image/picture.ts';
import { IDENTITY } from '../math/homography.ts';
import { pointArea } from './area.ts';
import { errorOf, patternOf } from './pattern.ts';
import { pyramidOf } from './pyramid.ts';

const SIZE = { width: 80, height: 60 };
const area = pointArea(40, 30, 10);
const patternIn = (picture: Gray) => patternOf(pyramidOf(picture), 0, area.samples(1, 529, 4), area.homography);
const drawn = (value: (x: number, y: number) => number): Gray => ({
  ...SIZE,
  data: Float32Array.from({ length: 80 * 60 }, (_, i) => value(i % 80, Math.floor(i / 80))),
});

describe('how far a fit may be off', () => {
  const busy = patternIn(seenThrough(noiseSurface(4), IDENTITY, SIZE));
  // A straight edge holds across, and next to nothing along it.
  const edge = patternIn(drawn((x, y) => (x < 40 ? 60 : 180) + ((x * 7 + y * 5) % 3)));

  it('is little where there is detail each way, and much along a straight edge', () => {
    expect(errorOf(busy, 0.97, area.size)).toBeLessThan(0.5);
    expect(errorOf(edge, 0.97, area.size)).toBeGreaterThan(5 * errorOf(busy, 0.97, area.size));
  });

  it('grows as the fit gets worse, is nothing for a perfect one, and has no end for a plain wall', () => {
    expect(errorOf(busy, 0.8, area.size)).toBeGreaterThan(2 * errorOf(busy, 0.97, area.size));
    expect(errorOf(busy, 1, area.size)).toBe(0);
    expect(errorOf({ ...busy, weight: new Float32Array(busy.weight.length) }, 0.9, area.size)).toBe(Number.POSITIVE_INFINITY);
  });
});
