import { describe, expect, it } from 'vitest';
import { randomFrom } from '../../math/random.ts';
import { pushPull } from './push-pull.ts';

/** The same, plainly: one number a pixel. */
function plain(values: number[], weights: number[], width: number, height: number): number[] {
  if (width * height === 1) return [weights[0] > 0 ? values[0] : 0];
  const [w, h] = [(width + 1) >> 1, (height + 1) >> 1];
  const [sums, weight] = [Array(w * h).fill(0), Array(w * h).fill(0)];
  for (let i = 0; i < values.length; i++) {
    const j = Math.floor(i / width / 2) * w + Math.floor((i % width) / 2);
    sums[j] += weights[i] * values[i];
    weight[j] += weights[i];
  }
  const means = sums.map((s, j) => (weight[j] > 0 ? s / weight[j] : 0));
  const coarse = plain(
    means,
    weight.map((v) => Math.min(1, v)),
    w,
    h,
  );
  return values.map((v, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    // Of the middles of the larger pixels the nearer one counts three quarters, on each axis.
    const pair = (at: number, most: number) => [
      [at >> 1, 0.75],
      [Math.max(0, Math.min(most - 1, (at >> 1) + (at % 2 === 0 ? -1 : 1))), 0.25],
    ];
    let between = 0;
    for (const [u, a] of pair(x, w)) for (const [t, b] of pair(y, h)) between += a * b * coarse[t * w + u];
    return between + Math.min(1, weights[i]) * (v - between);
  });
}

describe('pushPull', () => {
  it('keeps what is sure, and fills between with what lies near', () => {
    const values = new Float32Array(2 * 64 * 48);
    const weights = new Float32Array(64 * 48);
    for (let y = 0; y < 48; y++)
      for (const [x, v] of [
        [4, 10],
        [60, -6],
      ]) {
        values.set([v, 2 * v], 2 * (y * 64 + x));
        weights[y * 64 + x] = 1;
      }
    const out = pushPull(values, weights, 64, 48);
    expect([out[2 * (20 * 64 + 4)], out[2 * (20 * 64 + 60) + 1]]).toEqual([10, -12]);
    expect(out[2 * (20 * 64 + 8)]).toBeGreaterThan(6);
    expect(out[2 * (20 * 64 + 56)]).toBeLessThan(-3);
    expect(pushPull(values, new Float32Array(64 * 48), 64, 48).every((v) => v === 0)).toBe(true);
  });

  it.each([
    [13, 7, 0.02],
    [40, 31, 0.3],
    [64, 48, 1],
    [1, 9, 0.5],
    [1, 1, 1],
    [6, 5, 0],
  ])('spreads pairs as the plain form does, over %i by %i, where %f of all are known', (width, height, known) => {
    const random = randomFrom(width + height);
    const n = width * height;
    const pairs = Float32Array.from({ length: 2 * n }, () => 20 * (random() - 0.5));
    const weights = Float32Array.from({ length: n }, () => (random() < known ? random() : 0));
    const got = pushPull(pairs, weights, width, height);
    for (const c of [0, 1]) {
      const want = plain(
        [...pairs].filter((_, i) => i % 2 === c),
        [...weights],
        width,
        height,
      );
      want.forEach((v, i) => {
        expect(got[2 * i + c]).toBeCloseTo(v, 3);
      });
    }
  });
});
