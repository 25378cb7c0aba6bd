import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { curveOf, isCurve, lookUp, STEPS, tableOf } from './curve.ts';

const rising = fc
  .uniqueArray(fc.integer({ min: 0, max: 100 }), { minLength: 2, maxLength: 8 })
  .chain((xs) =>
    fc.array(fc.integer({ min: 0, max: 100 }), { minLength: xs.length, maxLength: xs.length }).map((ys) => [xs.sort((a, b) => a - b), ys] as const),
  )
  .map(([xs, ys]) => xs.flatMap((x, i) => [x / 100, ys[i] / 100]));

describe('a curve', () => {
  it('goes through its points, is level beyond them, and never leaves the span of its two neighbours', () => {
    fc.assert(
      fc.property(rising, fc.double({ min: 0, max: 1, noNaN: true }), (points, x) => {
        const of = curveOf(points);
        for (let i = 0; i < points.length; i += 2) expect(of(points[i])).toBeCloseTo(points[i + 1], 9);
        expect(of(-1)).toBe(points[1]);
        expect(of(2)).toBe(points[points.length - 1]);
        const i = points.findLastIndex((v, k) => k % 2 === 0 && v <= x);
        if (i < 0 || i + 3 >= points.length) return;
        const [low, high] = [Math.min(points[i + 1], points[i + 3]), Math.max(points[i + 1], points[i + 3])];
        expect(of(x)).toBeGreaterThanOrEqual(low - 1e-9);
        expect(of(x)).toBeLessThanOrEqual(high + 1e-9);
      }),
    );
  });

  it('is a straight line between two points, and a smooth one between more', () => {
    expect(curveOf([0, 0.2, 1, 0.8])(0.25)).toBeCloseTo(0.35, 9);
    const of = curveOf([0, 0, 0.5, 0.8, 1, 1]);
    const slope = (x: number) => (of(x + 1e-5) - of(x - 1e-5)) / 2e-5;
    expect(slope(0.5 - 1e-4)).toBeCloseTo(slope(0.5 + 1e-4), 2);
  });

  it('is told from other lists', () => {
    expect([isCurve([0, 0, 1, 1]), isCurve([0, 0]), isCurve([0, 0, 0, 1]), isCurve([0.5, 0, 0.2, 1]), isCurve([0, 0, 1, 2]), isCurve([0, 0, 1])]).toEqual([
      true,
      false,
      false,
      false,
      false,
      false,
    ]);
  });

  it('is read from a table between its steps', () => {
    const table = tableOf((x) => x * x);
    for (const x of [0, 0.3, 0.5 / STEPS, 1]) expect(lookUp(table, x)).toBeCloseTo(x * x, 5);
  });
});
