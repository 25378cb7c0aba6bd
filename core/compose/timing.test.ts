import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyChange } from '../document/edits.ts';
import { newDocument } from '../document/records.ts';
import { type Timing, timingSchema } from '../document/schema.ts';
import { newRgba } from '../image/picture.ts';
import { NO_IMPORTS, type Sources } from '../matte/sources.ts';
import { pictureAtTime } from './timed-picture.ts';
import { timeMap } from './timing.ts';

const timing = (more: Partial<Timing> = {}): Timing => ({ ...timingSchema.parse({}), ...more });
const RANGE = { first: 0, last: 9 };
const times = (more: Partial<Timing>, range = RANGE) => {
  const map = timeMap(timing(more), range);
  return Array.from({ length: map.frames }, (_, k) => Math.round(map.timeAt(k) * 100) / 100);
};
const counted = (n: number) => Array.from({ length: n }, (_, k) => k);

describe('the speed of the finished picture', () => {
  it('is frame for frame as it starts, shorter where it is quicker, longer where it is slower', () => {
    expect(times({})).toEqual(counted(10));
    expect(times({ speed: { constant: 300 } })).toEqual([0, 3, 6, 9]);
    expect(times({ speed: { constant: 50 } })).toEqual(counted(19).map((k) => k / 2));
    expect(times({}, { first: 3, last: 6 })).toEqual([3, 4, 5, 6]);
  });

  it('changes by keys where they are in the shot, and what comes before is as it was', () => {
    const speed = {
      keys: [
        { frame: 0, value: 100, ease: 'hold' as const },
        { frame: 4, value: 50, ease: 'hold' as const },
      ],
    };
    expect(times({ speed })).toEqual([0, 1, 2, 3, 4, 4.5, 5, 5.5, 6, 6.5, 7, 7.5, 8, 8.5, 9]);
    // From 100 to 200 evenly over ten frames: the sum of 1/(1 + t/10) is 10 ln(1 + t/10), 6.9 frames for all.
    const ramp = {
      keys: [
        { frame: 0, value: 100, ease: 'linear' as const },
        { frame: 10, value: 200, ease: 'linear' as const },
      ],
    };
    const all = times({ speed: ramp }, { first: 0, last: 10 });
    expect(all).toHaveLength(7);
    for (const [k, t] of all.entries()) expect(t).toBeCloseTo(10 * (Math.exp(k / 10) - 1), 1);
  });

  it('holds, goes backwards, to and fro, again and again', () => {
    expect(times({ holds: [{ frame: 2, frames: 3 }] })).toEqual([0, 1, 2, 2, 2, 2, 3, 4, 5, 6, 7, 8, 9]);
    expect(times({ plays: 'backwards' })).toEqual(counted(10).reverse());
    expect(times({ plays: 'to-and-fro' }, { first: 0, last: 3 })).toEqual([0, 1, 2, 3, 2, 1, 0]);
    expect(times({ plays: 'to-and-fro', times: 2 }, { first: 0, last: 2 })).toEqual([0, 1, 2, 1, 0, 1, 2, 1, 0]);
    expect(times({ times: 2 }, { first: 0, last: 2 })).toEqual([0, 1, 2, 0, 1, 2]);
    expect(times({ plays: 'to-and-fro' }, { first: 5, last: 5 })).toEqual([5]);
  });

  it('never leaves the range, never turns by itself, and begins and ends with its ends, whatever the speed', () => {
    const speeds = fc.array(fc.tuple(fc.integer({ min: 0, max: 30 }), fc.integer({ min: 1, max: 1000 })), { minLength: 1, maxLength: 5 });
    fc.assert(
      fc.property(speeds, fc.integer({ min: 0, max: 10 }), fc.integer({ min: 0, max: 20 }), (keys, first, more) => {
        const rising = [...new Map(keys.map(([frame, value]) => [frame, value])).entries()].sort((a, b) => a[0] - b[0]);
        const speed = { keys: rising.map(([frame, value]) => ({ frame, value, ease: 'ease-both' as const })) };
        const range = { first, last: first + more };
        const all = times({ speed }, range);
        expect(all[0]).toBe(first);
        expect(all.at(-1)).toBeLessThanOrEqual(range.last);
        for (let k = 1; k < all.length; k++) expect(all[k]).toBeGreaterThanOrEqual(all[k - 1] - 0.01);
      }),
      { numRuns: 60 },
    );
  });

  it('is a setting of the shot: keyed, undone, and refused where it is wrong', () => {
    const document = newDocument('Test', { width: 8, height: 8, frames: 20, rate: { num: 10, den: 1 }, firstNumber: 0 });
    const on = applyChange(document, [{ kind: 'assign', id: 'shot', values: { timing: timing() } }]);
    expect(on.document.timing).toEqual(timing());
    expect(applyChange(on.document, on.inverse).document.timing).toBeNull();
    const keyed = applyChange(on.document, [{ kind: 'keys', id: 'shot', setting: 'timing.speed', set: [{ frame: 3, value: 50, ease: 'linear' }], clear: [] }]);
    expect(keyed.document.timing?.speed).toEqual({ keys: [{ frame: 3, value: 50, ease: 'linear' }] });
    expect(applyChange(keyed.document, keyed.inverse).document).toEqual(on.document);
    expect(() => applyChange(on.document, [{ kind: 'animate', id: 'shot', setting: 'timing.speed', value: { constant: 0 } }])).toThrow();
    expect(() => applyChange(document, [{ kind: 'animate', id: 'shot', setting: 'timing.speed', value: { constant: 50 } }])).toThrow('has no setting');
  });

  it('shows the nearer frame, or both mixed, at a time between two', async () => {
    const sources: Sources = {
      ...NO_IMPORTS,
      plate: async (frame, { width, height }) => {
        const out = newRgba(width, height);
        for (let i = 0; i < out.data.length; i += 4) out.data.set([frame / 10, 0, 0, 1], i);
        return out;
      },
    };
    const document = { ...newDocument('Test', { width: 8, height: 8, frames: 10, rate: { num: 10, den: 1 }, firstNumber: 0 }), timing: timing() };
    const at = async (between: Timing['between'], time: number) =>
      (await pictureAtTime({ ...document, timing: timing({ between }) }, time, sources, { width: 8, height: 8 })).data[0];
    expect([await at('nearest', 2.4), await at('nearest', 2.6), await at('mixed', 2.5), await at('mixed', 9)]).toEqual([
      expect.closeTo(0.2, 5),
      expect.closeTo(0.3, 5),
      expect.closeTo(0.25, 5),
      expect.closeTo(0.9, 5),
    ]);
  });
});
