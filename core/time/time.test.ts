import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { type Animated, animatedSchema, numberAt, withKeySplit, withKeys } from './animated.ts';
import { EASES, type Ease, easedShare, reversedEase, splitEase } from './ease.ts';
import { frameToSeconds, parseRate, rateText } from './rate.ts';
import { keysForReach, NUMBERS, type Reach, reachedFrames } from './reach.ts';
import { toTimecode } from './timecode.ts';

const keyed = (...pairs: [number, number][]): { keys: { frame: number; value: number; ease: 'linear' }[] } => ({
  keys: pairs.map(([frame, value]) => ({ frame, value, ease: 'linear' })),
});

describe('animated values', () => {
  it('are exact at keys, on the way between them and held outside', () => {
    const v = keyed([10, 1], [20, 3]);
    expect([0, 10, 15, 20, 99].map((f) => numberAt(v, f))).toEqual([1, 1, 2, 3, 3]);
  });

  it.each(EASES)('ease %s from 0 to 1 without going back', (ease) => {
    expect(easedShare(ease, 0)).toBe(0);
    if (ease !== 'hold') expect(easedShare(ease, 1)).toBe(1);
    for (let t = 0; t < 1; t += 0.05) expect(easedShare(ease, t + 0.05)).toBeGreaterThanOrEqual(easedShare(ease, t));
  });

  it.each([...EASES, [0.1, -0.4, 0.6, 1.7]] as Ease[])('change no frame when a key is put where the value is (%s)', (ease) => {
    const keys = [
      { frame: 0, value: 2, ease },
      { frame: 30, value: -7, ease: 'linear' as const },
    ];
    for (const frame of [1, 13, 29]) {
      const more = { keys: withKeySplit(keys, frame, numberAt({ keys }, frame)) };
      expect(more.keys).toHaveLength(3);
      for (let f = 0; f <= 30; f += 0.5) expect(Math.abs(numberAt(more, f) - numberAt({ keys }, f))).toBeLessThan(1e-6);
    }
  });

  it('ease by the cubic-bezier curves of CSS, backwards as forwards', () => {
    // The standard's own "ease": its curve solved by hand at the parameter 0.5.
    expect(easedShare([0.25, 0.1, 0.25, 1], 0.3125)).toBeCloseTo(0.5375, 4);
    for (const ease of ['ease-in', 'ease-out', 'ease-both', [0.2, 0.1, 0.7, 1.2]] as const)
      for (let t = 0; t <= 1; t += 0.125) expect(easedShare(reversedEase(ease as never), t)).toBeCloseTo(1 - easedShare(ease as never, 1 - t), 9);
    expect(splitEase('hold', 0.4)).toEqual(['hold', 'hold']);
  });

  it('hold a value until the next key', () => {
    const v: Animated<number> = {
      keys: [
        { frame: 0, value: 5, ease: 'hold' },
        { frame: 8, value: 9, ease: 'linear' },
      ],
    };
    expect([numberAt(v, 7.9), numberAt(v, 8)]).toEqual([5, 9]);
  });

  it('refuse keys out of order or two on a frame', () => {
    const schema = animatedSchema(z.number());
    expect(schema.safeParse(keyed([5, 1], [5, 2])).success).toBe(false);
    expect(schema.safeParse(keyed([5, 1], [4, 2])).success).toBe(false);
    expect(schema.safeParse({ keys: [] }).success).toBe(false);
    expect(schema.safeParse(keyed([4, 1], [5, 2])).success).toBe(true);
  });

  it('put keys in and take them out in order of frames', () => {
    const { keys } = keyed([1, 10], [5, 50]);
    expect(withKeys(keys, [{ frame: 3, value: 30, ease: 'linear' }], [5]).map((k) => k.frame)).toEqual([1, 3]);
  });
});

describe('Reach', () => {
  const frames = 40;
  const context = { frames, range: null, fade: 0 };
  const start = keyed([4, 0], [14, 10], [30, 50]);
  const values = (v: Animated<number>) => Array.from({ length: frames }, (_, f) => numberAt(v, f));
  const after = (reach: Reach, frame: number, value: number) => {
    const keys = keysForReach(start, { frame, value, reach, context }, NUMBERS);
    return values({ keys: keys ?? start.keys });
  };
  const changed = (now: number[]) => values(start).flatMap((v, f) => (Math.abs(v - now[f]) > 1e-9 ? [f] : []));

  it.each(['this-frame', 'between-keys', 'all-frames'] as Reach[])('changes the frames it announces and no other (%s)', (reach) => {
    for (const frame of [0, 4, 9, 14, 22, 30, 39]) {
      const now = after(reach, frame, numberAt(start, frame) + 3);
      expect(now[frame]).toBeCloseTo(numberAt(start, frame) + 3, 9);
      const { first, last } = reachedFrames(start, frame, reach, context);
      const touched = changed(now);
      expect(touched[0]).toBe(first);
      expect(touched.at(-1)).toBe(last);
    }
  });

  it('moves every key by the same amount with all frames', () => {
    const now = after('all-frames', 22, numberAt(start, 22) - 7);
    for (const [f, v] of values(start).entries()) expect(now[f]).toBeCloseTo(v - 7, 9);
  });

  it('changes only the marked range, wholly inside it and fading at its ends', () => {
    const marked = { frames, range: { first: 10, last: 27 }, fade: 4 };
    const keys = keysForReach(start, { frame: 18, value: numberAt(start, 18) + 8, reach: 'marked-range', context: marked }, NUMBERS);
    const now = values({ keys: keys ?? [] });
    const gain = now.map((v, f) => v - numberAt(start, f));
    for (const [f, g] of gain.entries()) {
      if (f < 10 || f > 27) expect(g).toBeCloseTo(0, 9);
      else if (f >= 14 && f <= 23) expect(g).toBeCloseTo(8, 9);
      else expect(g).toBeGreaterThan(0);
    }
    expect(gain[11]).toBeGreaterThan(gain[10]);
    expect(reachedFrames(start, 18, 'marked-range', marked)).toMatchObject({ first: 10, last: 27 });
    // Outside the range an edit goes between its keys.
    expect(reachedFrames(start, 35, 'marked-range', marked)).toMatchObject({ first: 31, last: 39 });
  });

  it('leaves eased frames alone that "this frame" must not change', () => {
    for (const ease of EASES.filter((e) => e !== 'hold')) {
      const eased: Animated<number> = { keys: start.keys.map((k) => ({ ...k, ease })) };
      const keys = keysForReach(eased, { frame: 22, value: 99, reach: 'this-frame', context }, NUMBERS);
      const now = values({ keys: keys ?? [] });
      for (let f = 0; f < frames; f++) expect(Math.abs(now[f] - (f === 22 ? 99 : numberAt(eased, f)))).toBeLessThan(1e-6);
    }
  });

  it('leaves a value without keys one value for all frames', () => {
    expect(keysForReach({ constant: 3 }, { frame: 5, value: 4, reach: 'this-frame', context }, NUMBERS)).toBeNull();
    expect(reachedFrames({ constant: 3 }, 5, 'this-frame', context)).toEqual({ first: 0, last: 39, keys: 0 });
  });
});

describe('rates and timecode', () => {
  it('reads rates as they are written, broadcast decimals as fractions', () => {
    expect(parseRate('25')).toEqual({ num: 25, den: 1 });
    expect(parseRate('23.976')).toEqual({ num: 24000, den: 1001 });
    expect(parseRate('30000/1001')).toEqual({ num: 30000, den: 1001 });
    expect(parseRate('12.5')).toEqual({ num: 25, den: 2 });
    for (const wrong of ['', 'fast', '0', '-24', '24/0', '5000']) expect(() => parseRate(wrong)).toThrow(RangeError);
    expect(rateText({ num: 24000, den: 1001 })).toBe('23.976');
  });

  it('tells when a frame starts, for broadcast rates as fractions', () => {
    expect(frameToSeconds(48, parseRate('24'))).toBe(2);
    expect(frameToSeconds(30_000, parseRate('29.97'))).toBe(1001);
    expect(frameToSeconds(24_000, parseRate('23.976'))).toBe(1001);
    expect(frameToSeconds(25, parseRate('12.5'))).toBe(2);
  });

  it('writes timecode, with the numbers that drop frame leaves out', () => {
    const ntsc = { num: 30000, den: 1001 };
    expect(toTimecode(86399, { num: 24, den: 1 })).toBe('00:59:59:23');
    expect(toTimecode(1799, ntsc)).toBe('00:00:59;29');
    expect(toTimecode(1800, ntsc)).toBe('00:01:00;02');
    expect(toTimecode(17982, ntsc)).toBe('00:10:00;00');
    expect(toTimecode(107892, ntsc)).toBe('01:00:00;00');
  });
});
