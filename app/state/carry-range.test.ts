import { describe, expect, it } from 'vitest';
import { type CarryWay, carryRange } from './carry-range.ts';

describe('carryRange', () => {
  const anchors = [10, 40, 60];
  it.each([
    ['back', [0, 45], [20, 45]],
    ['to-before', [40, 45], [40, 45]],
    ['one-back', [44, 45], [44, 45]],
    ['both', [0, 83], [20, 50]],
    ['one-on', [45, 46], [45, 46]],
    ['to-next', [45, 60], [45, 60]],
    ['on', [45, 83], [45, 50]],
  ] as [CarryWay, number[], number[]][])('%s goes from frame 45 over all frames, and in a marked range', (way, all, marked) => {
    expect(Object.values(carryRange(way, 45, null, 84, anchors))).toEqual(all);
    expect(Object.values(carryRange(way, 45, { first: 20, last: 50 }, 84, anchors))).toEqual(marked);
  });

  it('ends with the shot, or the range, where there is no painted frame on that side', () => {
    expect(carryRange('to-next', 70, null, 84, anchors)).toEqual({ first: 70, last: 83 });
    expect(carryRange('to-before', 5, { first: 2, last: 9 }, 84, anchors)).toEqual({ first: 2, last: 5 });
    expect(carryRange('one-on', 83, null, 84, anchors)).toEqual({ first: 83, last: 83 });
    expect(carryRange('on', 60, { first: 20, last: 50 }, 84, anchors)).toEqual({ first: 60, last: 60 });
  });
});
