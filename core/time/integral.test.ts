import { describe, expect, it } from 'vitest';
import { numberAt } from './animated.ts';
import { integralOf } from './integral.ts';

describe('integralOf', () => {
  it('is exact for constants, for even ways between keys, and for cubics', () => {
    expect(integralOf(() => 3)(2, 7.5)).toBeCloseTo(16.5, 12);
    const way = { keys: [0, 10].map((frame) => ({ frame, value: frame * 2, ease: 'linear' as const })) };
    // 2t up to frame 10, 20 after it.
    const sum = integralOf((t) => numberAt(way, t));
    expect(sum(0, 10)).toBeCloseTo(100, 9);
    expect(sum(2.5, 12)).toBeCloseTo(100 - 6.25 + 40, 9);
    expect(integralOf((t) => t ** 3)(1, 6)).toBeCloseTo((6 ** 4 - 1) / 4, 6);
  });

  it('takes jumps at whole frames as they are, and knows times before the first frame', () => {
    const held = { keys: [0, 5].map((frame) => ({ frame, value: frame === 0 ? 1 : 9, ease: 'hold' as const })) };
    const sum = integralOf((t) => numberAt(held, t));
    expect(sum(0, 5)).toBeCloseTo(5, 12);
    expect(sum(4, 6)).toBeCloseTo(10, 12);
    expect(sum(-2, 1)).toBeCloseTo(3, 12);
  });

  it('is close to a fine sum where keys ease', () => {
    const eased = { keys: [0, 24].map((frame) => ({ frame, value: frame * frame, ease: 'ease-both' as const })) };
    const value = (t: number) => numberAt(eased, t);
    let fine = 0;
    for (let i = 0; i < 24_000; i++) fine += value((i + 0.5) / 1000) / 1000;
    expect(integralOf(value)(0, 24) / fine).toBeCloseTo(1, 4);
  });
});
