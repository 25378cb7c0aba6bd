import { describe, expect, it } from 'vitest';
import { randomFrom } from '../math/random.ts';
import { carryRuns, nearestAnchor } from './plan.ts';

/** The frames that a run finds, the anchor first. */
function framesOf({ anchor, step, last }: { anchor: number; step: number; last: number }): number[] {
  return Array.from({ length: Math.abs(last - anchor) + 1 }, (_, i) => anchor + i * step);
}

describe('carryRuns', () => {
  it('goes both ways from one anchor', () => {
    expect(carryRuns([10], 0, 20)).toEqual([
      { anchor: 10, step: 1, last: 20 },
      { anchor: 10, step: -1, last: 0 },
    ]);
  });

  it('finds each frame of the range from its nearest anchor, for any anchors', () => {
    const random = randomFrom(5);
    for (let k = 0; k < 200; k++) {
      const length = 1 + Math.floor(random() * 30);
      const first = Math.floor(random() * 20);
      const anchors = Array.from({ length: 1 + Math.floor(random() * 4) }, () => Math.floor(random() * 60));
      const found = new Map<number, number>();
      for (const run of carryRuns(anchors, first, first + length - 1)) for (const f of framesOf(run)) found.set(f, run.anchor);
      for (let f = first; f < first + length; f++) expect(found.get(f)).toBe(nearestAnchor(anchors, f));
    }
  });

  it('has nothing to do without anchors', () => {
    expect(carryRuns([], 0, 9)).toEqual([]);
    expect(nearestAnchor([], 3)).toBeUndefined();
  });
});
