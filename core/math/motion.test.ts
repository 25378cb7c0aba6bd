import { describe, expect, it } from 'vitest';
import { applyTo, type Homography, multiply, normalised, translation } from './homography.ts';
import { ASPECTS, type Aspect, atOf, mixAt, motionBetween, motionOf, turnAndScale } from './motion.ts';
import { randomFrom } from './random.ts';

const about = (x: number, y: number, m: Homography): Homography => multiply(translation(x, y), multiply(m, translation(-x, -y)));
const turned = (by: number, scale: number): Homography => [
  Math.cos(by) * scale,
  -Math.sin(by) * scale,
  0,
  Math.sin(by) * scale,
  Math.cos(by) * scale,
  0,
  0,
  0,
  1,
];
const PIVOT = [400, 300];
const SOME = [
  [350, 260],
  [460, 310],
  [380, 350],
];

describe('the numbers of a motion', () => {
  it('give it back: any homography within a thousandth of a pixel over a thousand pixels', () => {
    const random = randomFrom(3);
    for (let n = 0; n < 50; n++) {
      const r = () => random() - 0.5;
      const motion = multiply(translation(200 * r(), 200 * r()), about(PIVOT[0], PIVOT[1], [1 + r(), r(), 0, r(), 1 + r(), 0, r() / 5000, r() / 5000, 1]));
      const back = motionOf(atOf(motion, PIVOT, 'perspective'), PIVOT);
      for (const [x, y] of [...SOME, [0, 0], [900, 600]]) {
        const [a, b] = [applyTo(motion, x, y), applyTo(back, x, y)];
        expect(Math.hypot(a[0] - b[0], a[1] - b[1])).toBeLessThan(0.003);
      }
    }
  });

  it('of a move are its middle alone, and of a similarity its turn and growth', () => {
    expect(atOf(translation(5, -3), PIVOT, 'move')).toEqual([405, 297]);
    const at = atOf(multiply(translation(10, 0), about(PIVOT[0], PIVOT[1], turned(0.3, 1.2))), PIVOT, 'similarity');
    expect(at.slice(0, 2)).toEqual([410, 300]);
    const { turn, scale } = turnAndScale(at.slice(2));
    expect(turn).toBeCloseTo(0.3, 5);
    expect(scale).toBeCloseTo(1.2, 5);
  });

  it('mix evenly, also where one of them only moves', () => {
    expect(mixAt([0, 0], [10, 20], 0.25)).toEqual([2.5, 5]);
    expect(mixAt([0, 0], [10, 20, 3, 0, 0, 3, 0, 0], 0.5)).toEqual([5, 10, 2, 0, 0, 2, 0, 0]);
  });
});

describe('what is taken of a motion', () => {
  const then = atOf(multiply(translation(20, 5), about(400, 300, turned(0.1, 1.1))), PIVOT, 'perspective');
  const whole = multiply(translation(-30, 40), about(400, 300, multiply(turned(0.4, 1.5), [1.1, 0.05, 0, 0, 0.95, 0, 0, 0, 1])));
  const now = atOf(whole, PIVOT, 'perspective');
  const between = (...takes: Aspect[]) => motionBetween(then, now, PIVOT, takes) as Homography;

  it('with all of it takes every place from where it was to where it is', () => {
    for (const [x, y] of SOME) {
      const [u, v] = applyTo(motionOf(then, PIVOT), x, y);
      const [a, b] = applyTo(between(...ASPECTS), u, v);
      const [p, q] = applyTo(whole, x, y);
      expect(Math.hypot(a - p, b - q)).toBeLessThan(0.01);
    }
  });

  it('with position alone moves, and without it holds the middle where it was', () => {
    expect(between('position')).toEqual(translation(now[0] - then[0], now[1] - then[1]));
    const [x, y] = applyTo(between('turn', 'scale', 'shape'), then[0], then[1]);
    expect(Math.hypot(x - then[0], y - then[1])).toBeLessThan(1e-9);
  });

  it('is apart: turn does not grow, scale does not turn, and together with shape they are all of it', () => {
    const stretch = (m: Homography) => {
      const n = normalised(m);
      return turnAndScale([n[0], n[1], n[3], n[4]]);
    };
    expect(stretch(between('turn')).scale).toBeCloseTo(1, 9);
    expect(stretch(between('scale')).turn).toBeCloseTo(0, 9);
    expect(stretch(between('shape')).turn).toBeCloseTo(0, 9);
    expect(stretch(between('shape')).scale).toBeCloseTo(1, 9);
    expect(stretch(between('turn')).turn).toBeCloseTo(stretch(between(...ASPECTS)).turn, 9);
    expect(stretch(between('scale')).scale).toBeCloseTo(stretch(between(...ASPECTS)).scale, 9);
  });

  it('is nothing where all was flattened', () => {
    expect(motionBetween([0, 0, 0, 0, 0, 0], [5, 5], PIVOT, ASPECTS)).toBeNull();
  });
});
