import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { distanceBetween, shapesOf } from '../path/between.ts';
import { corner, type Shape } from '../path/path.ts';
import { type Animated, type Key, numberAt } from './animated.ts';
import { pasteKeys, reverseKeys, shiftKeys, stretchKeys, withoutRange } from './key-blocks.ts';
import { smoothKeys, thinKeys } from './key-cleaning.ts';
import { NUMBERS } from './reach.ts';

const keyed = (...pairs: [number, number][]): Key<number>[] => pairs.map(([frame, value]) => ({ frame, value, ease: 'linear' }));
const apart = (a: number, b: number) => Math.abs(a - b);
const frames = (keys: Key<unknown>[]) => keys.map((k) => k.frame);

describe('thinning of keys', () => {
  it('keeps every frame within the tolerance, whatever the motion', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -50, max: 50, noNaN: true }), { minLength: 3, maxLength: 60 }),
        fc.double({ min: 0.1, max: 20, noNaN: true }),
        (values, tolerance) => {
          const keys = keyed(...values.map((v, f): [number, number] => [f, v]));
          const thin = thinKeys(keys, { first: 0, last: values.length }, tolerance, NUMBERS, apart);
          for (let f = 0; f < values.length; f++) expect(Math.abs(numberAt({ keys: thin }, f) - values[f])).toBeLessThanOrEqual(tolerance + 1e-9);
        },
      ),
      { seed: 11 },
    );
  });

  it('finds the fewest keys: a bent line needs its ends and its bends', () => {
    const keys = keyed(...Array.from({ length: 41 }, (_, f): [number, number] => [f, f < 12 ? f * 3 : f < 30 ? 36 - (f - 12) : 18 + (f - 30) * 5]));
    expect(frames(thinKeys(keys, { first: 0, last: 40 }, 0.01, NUMBERS, apart))).toEqual([0, 12, 30, 40]);
  });

  it('leaves keys outside the range, and holds shapes by their farthest vertex', () => {
    const shape = (f: number): Shape => [corner(f, 0), corner(f * 2, 10), corner(5, f < 10 ? 20 : 20 + (f - 10))];
    const keys: Key<Shape>[] = Array.from({ length: 30 }, (_, frame) => ({ frame, value: shape(frame), ease: 'linear' }));
    const thin = thinKeys(keys, { first: 5, last: 20 }, 0.001, shapesOf('straight', true), distanceBetween);
    expect(frames(thin)).toEqual([0, 1, 2, 3, 4, 5, 10, 20, 21, 22, 23, 24, 25, 26, 27, 28, 29]);
  });
});

describe('smoothing of keys', () => {
  it('takes jitter out and keeps an even motion', () => {
    const even = keyed(...Array.from({ length: 20 }, (_, f): [number, number] => [f, 4 * f]));
    expect(smoothKeys(even, { first: 0, last: 19 }, 1, 3, NUMBERS).map((k) => k.value)).toEqual(even.map((k) => expect.closeTo(k.value, 9)));
    const rough = even.map((k) => ({ ...k, value: k.value + (k.frame % 2 ? 1 : -1) }));
    const calm = smoothKeys(rough, { first: 2, last: 17 }, 1, 4, NUMBERS);
    for (const k of calm.filter((c) => c.frame > 4 && c.frame < 15)) expect(Math.abs(k.value - 4 * k.frame)).toBeLessThan(0.2);
    expect(calm[0]).toBe(rough[0]);
  });
});

describe('blocks of keys', () => {
  const keys = keyed([0, 1], [4, 2], [6, 3], [10, 4], [20, 5]);
  const range = { first: 4, last: 10 };
  it('are shifted, stretched and deleted, and leave the shot at its ends', () => {
    expect(frames(shiftKeys(keys, range, 3, 30))).toEqual([0, 7, 9, 13, 20]);
    expect(frames(shiftKeys(keys, range, 25, 30))).toEqual([0, 20, 29]);
    expect(frames(stretchKeys(keys, range, 2, 30))).toEqual([0, 4, 8, 16, 20]);
    expect(frames(withoutRange(keys, range))).toEqual([0, 20]);
  });
  it('are turned round, eases and all', () => {
    const eased = keys.map((k) => ({ ...k, ease: 'ease-in' as const }));
    const turned: Animated<number> = { keys: reverseKeys(eased, range) };
    for (let f = 4; f <= 10; f += 0.5) expect(numberAt(turned, f)).toBeCloseTo(numberAt({ keys: eased }, 14 - f), 9);
  });
  it('are put down elsewhere', () => {
    const copied = keyed([4, 2], [6, 3]);
    expect(pasteKeys(keys, copied, 20, 40).map((k) => [k.frame, k.value])).toEqual([
      [0, 1],
      [4, 2],
      [6, 3],
      [10, 4],
      [20, 2],
      [22, 3],
    ]);
  });
});
