import { describe, expect, it } from 'vitest';
import { fillPolylines } from '../path/fill.ts';
import { areaOf, changePicture, chatterOf } from './judge.ts';

const SIZE = [120, 100] as const;
const disc = (x: number, r: number) =>
  fillPolylines(
    [
      Float64Array.from({ length: 400 }, (_, i) =>
        i % 2 === 0 ? x + r * Math.cos((i / 400) * 2 * Math.PI) : 50 + r * Math.sin(((i - 1) / 400) * 2 * Math.PI),
      ),
    ],
    ...SIZE,
  );

describe('judging a matte over time', () => {
  it('measures area as a share of the picture', () => {
    expect(areaOf(disc(60, 20))).toBeCloseTo((Math.PI * 400) / (SIZE[0] * SIZE[1]), 3);
  });

  it('counts trembling in pixels, and even motion as next to none', () => {
    expect(chatterOf(disc(60, 20), disc(60, 21), disc(60, 20))).toBeCloseTo(1, 1);
    expect(chatterOf(disc(60, 20), disc(60, 18.5), disc(60, 20))).toBeCloseTo(1.5, 0);
    expect(chatterOf(disc(57, 20), disc(60, 20), disc(63, 20))).toBeLessThan(0.12);
    const bar = (x: number) => fillPolylines([Float64Array.from([x, 20, x + 4, 20, x + 4, 80, x, 80])], ...SIZE);
    // A thin part that moves farther than it is wide.
    expect(chatterOf(bar(54), bar(60), bar(66))).toBeLessThan(0.2);
    expect(chatterOf(disc(60, 0.001), disc(60, 0.001), disc(60, 0.001))).toBeLessThan(1e-3);
  });

  it('shows growth light and loss dark', () => {
    const { data } = changePicture(disc(60, 20), disc(66, 20));
    expect(data[50 * SIZE[0] + 83]).toBe(1);
    expect(data[50 * SIZE[0] + 42]).toBe(0);
    expect(data[50 * SIZE[0] + 62]).toBe(0.5);
  });
});
