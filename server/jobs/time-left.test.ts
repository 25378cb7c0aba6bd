import { describe, expect, it } from 'vitest';
import { Costs, lineUp, type Run, timeLeft } from './time-left.ts';

const cost = { start: 4000, unit: 200 };
const run = (more: Partial<Run>): Run => ({ startedAt: 0, first: null, done: 0, total: 50, ...more });

describe('the time that work has left', () => {
  it('is told from the first moment on, by what such work took before', () => {
    expect(timeLeft(run({}), cost, 0)).toBe(14_000);
    expect(timeLeft(run({}), cost, 3000)).toBe(11_000);
    // Late already: its units are still to come.
    expect(timeLeft(run({}), cost, 9000)).toBe(10_000);
  });

  it('goes over to its own speed within the first tenth', () => {
    const at = (done: number) => timeLeft(run({ first: { at: 5000, done: 1 }, done }), cost, 5000 + (done - 1) * 400);
    expect(at(1)).toBe(49 * 200);
    expect(at(6)).toBe(44 * 400);
    expect(at(50)).toBe(0);
  });

  it('is right within a third from a tenth on where each unit takes about as long', () => {
    // Units of 150 to 450 ms, seeded.
    let seed = 7;
    const times = Array.from({ length: 80 }, () => {
      seed = (Math.imul(seed, 1103515245) + 12345) & 0x7fffffff;
      return 150 + (300 * seed) / 0x7fffffff;
    });
    let now = 3000;
    const ends = times.map((t) => (now += t));
    for (let k = 8; k < 72; k++) {
      const told = timeLeft({ startedAt: 0, first: { at: ends[0], done: 1 }, done: k + 1, total: 80 }, cost, ends[k]);
      expect(told / (ends[79] - ends[k])).toBeGreaterThan(2 / 3);
      expect(told / (ends[79] - ends[k])).toBeLessThan(4 / 3);
    }
  });

  it('is learnt from work that was done', () => {
    const costs = new Costs();
    costs.learn('carry', run({ first: { at: 1000, done: 1 }, done: 50 }), 1000 + 49 * 100);
    expect(costs.of('carry')).toEqual({ start: 1000, unit: 100 });
    costs.learn('carry', run({ first: { at: 3000, done: 1 }, done: 50 }), 3000 + 49 * 300);
    expect(costs.of('carry')).toEqual({ start: 2000, unit: 200 });
    // What ended at once tells nothing.
    costs.learn('carry', run({ first: { at: 1, done: 50 }, done: 50 }), 2);
    expect(costs.of('carry')).toEqual({ start: 2000, unit: 200 });
  });

  it('of what waits follows from the line before it', () => {
    expect(lineUp(2, [3000, 1000], [5000, 1000, 1000])).toEqual([6000, 4000, 5000]);
    expect(lineUp(2, [], [500, 700, 100])).toEqual([500, 700, 600]);
  });
});
