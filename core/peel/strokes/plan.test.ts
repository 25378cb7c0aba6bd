import { describe, expect, it } from 'vitest';
import { randomFrom } from '../../math/random.ts';
import { gapsOf, neighbours, stretches } from './plan.ts';

describe('gapsOf', () => {
  it('gives every frame that is not painted once, between the anchors on both sides of it', () => {
    const random = randomFrom(5);
    for (let k = 0; k < 200; k++) {
      const first = Math.floor(random() * 20);
      const last = first + Math.floor(random() * 30);
      const anchors = Array.from({ length: 1 + Math.floor(random() * 4) }, () => Math.floor(random() * 60));
      const found = new Map<number, { from: number | undefined; to: number | undefined }>();
      for (const gap of gapsOf(anchors, first, last))
        for (let f = gap.first; f <= gap.last; f++) {
          expect(found.has(f)).toBe(false);
          found.set(f, { from: gap.from, to: gap.to });
        }
      for (let f = first; f <= last; f++) expect(found.get(f)).toEqual(anchors.includes(f) ? undefined : neighbours(anchors, f));
    }
  });

  it('has nothing to do without anchors', () => {
    expect(gapsOf([], 0, 9)).toEqual([]);
    expect(neighbours([], 3)).toEqual({ from: undefined, to: undefined });
  });

  it('takes a painted frame as its own neighbour', () => {
    expect([4, 10, 14, 20, 39].map((f) => neighbours([20, 10], f))).toEqual([
      { from: undefined, to: 10 },
      { from: 10, to: 10 },
      { from: 10, to: 20 },
      { from: 20, to: 20 },
      { from: 20, to: undefined },
    ]);
  });
});

describe('stretches', () => {
  it('part the frames at the anchor nearest to the middle, each frame in one of them', () => {
    expect(stretches([2, 18, 30], 0, 39)).toEqual([
      { first: 18, last: 39 },
      { first: 0, last: 17 },
    ]);
    expect(stretches([2], 0, 39)).toEqual([{ first: 0, last: 39 }]);
  });
});
