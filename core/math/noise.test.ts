import { describe, expect, it } from 'vitest';
import { fractal, noiseOf } from './noise.ts';

const many = (of: (k: number) => number, n = 4000) => Array.from({ length: n }, (_, k) => of(k));

describe('noise', () => {
  it('is the same for the same seed, another for another, and 0 at whole places', () => {
    const [a, b] = [noiseOf(3), noiseOf(4)];
    expect(noiseOf(3)(0.3, 1.7, 2.2)).toBe(a(0.3, 1.7, 2.2));
    expect(b(0.3, 1.7, 2.2)).not.toBe(a(0.3, 1.7, 2.2));
    expect(Math.abs(a(3, -5, 7))).toBe(0);
  });

  it('stays within its bounds, has a mean of nothing, and goes on without a step', () => {
    const noise = noiseOf(1);
    const values = many((k) => noise(k * 0.173, k * 0.311, k * 0.057));
    expect(Math.max(...values.map(Math.abs))).toBeLessThanOrEqual(1.05);
    expect(Math.abs(values.reduce((s, v) => s + v, 0) / values.length)).toBeLessThan(0.02);
    const steps = many((k) => Math.abs(noise(k * 0.37 + 1e-4, 0.4, 0.2) - noise(k * 0.37, 0.4, 0.2)));
    expect(Math.max(...steps)).toBeLessThan(5e-4);
  });

  it('with more octaves has finer forms', () => {
    const noise = noiseOf(2);
    const sum = (list: number[]) => list.reduce((s, v) => s + Math.abs(v), 0);
    const along = (octaves: number) => many((k) => fractal(noise, octaves, k * 0.02, 0.3, 0.1));
    const rough = (octaves: number) => sum(along(octaves).map((v, k, all) => v - (all[k - 1] ?? v))) / sum(along(octaves));
    expect(rough(4)).toBeGreaterThan(1.3 * rough(1));
    expect(fractal(noise, 1, 0.3, 0.4, 0.5)).toBe(noise(0.3, 0.4, 0.5));
  });
});
