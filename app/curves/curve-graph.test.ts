import { describe, expect, it } from 'vitest';
import { numberAt } from '~/core/time/animated.ts';
import { easeFor, type GraphKey, graphAt, graphBounds, graphKeys, handlesOf, moveKeys } from './curve-graph.ts';

const keys: GraphKey[] = [
  { frame: 10, value: 0, ease: [0.3, 0.1, 0.6, 0.9] },
  { frame: 30, value: 40, ease: 'hold' },
  { frame: 40, value: 20, ease: 'linear' },
];

describe('the graph of a setting', () => {
  it('is its value, and its change a frame', () => {
    for (let t = 0; t < 50; t += 0.7) expect(graphAt(keys, t, 'value')).toBeCloseTo(numberAt({ keys }, t), 9);
    let sum = 0;
    for (let t = 10; t < 30; t += 0.01) sum += graphAt(keys, t, 'speed') * 0.01;
    expect(sum).toBeCloseTo(40, 1);
    expect([graphAt(keys, 35, 'speed'), graphAt(keys, 5, 'speed'), graphAt(keys, 45, 'speed')]).toEqual([0, 0, 0]);
  });

  it('counts the keys of what is no number', () => {
    expect(
      graphKeys([
        { frame: 3, value: [], ease: 'linear' },
        { frame: 9, value: [], ease: 'hold' },
      ]).map((k) => k.value),
    ).toEqual([0, 1]);
  });

  it('has room round what it shows, even where nothing changes', () => {
    const [low, high] = graphBounds(keys, 0, 50, 'value');
    expect(low).toBeLessThan(0);
    expect(high).toBeGreaterThan(40);
    const [a, b] = graphBounds([{ frame: 0, value: 5, ease: 'linear' }], 0, 10, 'value');
    expect(b).toBeGreaterThan(a);
  });
});

describe('handles', () => {
  it.each(['value', 'speed'] as const)('put where they are leave the ease as it is (%s)', (mode) => {
    for (const handle of [...handlesOf(keys, 0, mode), ...handlesOf(keys, 1, mode)]) {
      const ease = easeFor(keys, handle, handle.frame, handle.value, mode) as number[];
      for (const [i, v] of (keys[0].ease as number[]).entries()) expect(ease[i]).toBeCloseTo(v, 6);
    }
  });

  it('are not there for a hold or beyond the ends', () => {
    expect(handlesOf(keys, 2, 'value')).toEqual([]);
    expect(handlesOf(keys, 0, 'value').map((h) => h.end)).toEqual(['leave']);
  });

  it('keep time within the stretch', () => {
    expect((easeFor(keys, { key: 0, end: 'leave' }, 99, 10, 'value') as number[])[0]).toBe(1);
  });
});

describe('moving keys', () => {
  const real = keys.map((k) => ({ ...k }));
  it('goes as far as the next key that stays, and no farther', () => {
    expect(moveKeys(real, new Set([1]), 50, 5, 60).map((k) => [k.frame, k.value])).toEqual([
      [10, 0],
      [39, 45],
      [40, 20],
    ]);
    expect(moveKeys(real, new Set([0, 1, 2]), -50, 0, 60).map((k) => k.frame)).toEqual([0, 20, 30]);
    expect(moveKeys(real, new Set([2]), 50, 0, 60)[2].frame).toBe(59);
  });
});
