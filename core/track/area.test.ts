import { describe, expect, it } from 'vitest';
import { newGray } from '../image/picture.ts';
import { pointArea, regionArea } from './area.ts';

describe('samples', () => {
  it('of a region are no more than asked for, however long and thin it is', () => {
    const coverage = newGray(1920, 24);
    // Two lines that lie where the lattice does.
    for (const y of [4, 19]) coverage.data.fill(1, y * 1920, (y + 1) * 1920);
    const area = regionArea(coverage, []);
    for (const most of [100, 900, 2500]) {
      const { u, v, weight } = area?.samples(1, most, 0) ?? {};
      expect(u?.length).toBeLessThanOrEqual(most);
      expect([v?.length, weight?.length]).toEqual([u?.length, u?.length]);
    }
  });

  it('of points are the same for all of one size, and count more in the middle', () => {
    const [a, b, c] = [pointArea(3, 4, 10), pointArea(90, 7, 10), pointArea(3, 4, 12)].map((area) => area.samples(1, 529, 4));
    expect(b).toBe(a);
    expect(c).not.toEqual(a);
    expect(a.weight[(a.u.length - 1) / 2]).toBe(1);
    expect(a.weight[0]).toBeCloseTo(Math.exp(-2), 5);
  });
});
