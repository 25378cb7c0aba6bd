import { describe, expect, it } from 'vitest';
import { randomFrom } from '../math/random.ts';
import { newGray, newRgba } from './picture.ts';
import { resampled } from './resample.ts';

const random = randomFrom(7);
const noise = (width: number, height: number) => {
  const gray = newGray(width, height);
  gray.data.forEach((_, i) => {
    gray.data[i] = random();
  });
  return gray;
};

/** The mean of what a rectangle covers, pixel by pixel. */
function covered(from: ReturnType<typeof noise>, left: number, top: number, right: number, bottom: number): number {
  let sum = 0;
  for (let y = 0; y < from.height; y++)
    for (let x = 0; x < from.width; x++)
      sum += from.data[y * from.width + x] * Math.max(0, Math.min(right, x + 1) - Math.max(left, x)) * Math.max(0, Math.min(bottom, y + 1) - Math.max(top, y));
  return sum / ((right - left) * (bottom - top));
}

describe('a picture at another size', () => {
  it.each([
    [40, 30, 20, 15],
    [41, 29, 10, 8],
    [33, 17, 32, 16],
  ])('of %ix%i at %ix%i is the mean of what each pixel covers', (width, height, toWidth, toHeight) => {
    const from = noise(width, height);
    const out = resampled(from, { width: toWidth, height: toHeight });
    const [sx, sy] = [width / toWidth, height / toHeight];
    for (let y = 0; y < toHeight; y++)
      for (let x = 0; x < toWidth; x++) expect(out.data[y * toWidth + x]).toBeCloseTo(covered(from, x * sx, y * sy, (x + 1) * sx, (y + 1) * sy), 5);
  });

  it('made larger goes on in a straight line between centres, and leaves neither the range nor a flat ground', () => {
    const ramp = newGray(8, 4);
    ramp.data.forEach((_, i) => {
      ramp.data[i] = i % 8;
    });
    const out = resampled(ramp, { width: 24, height: 12 });
    for (let x = 2; x < 22; x++) expect(out.data[5 * 24 + x]).toBeCloseTo((x + 0.5) / 3 - 0.5, 5);
    const random = resampled(noise(9, 9), { width: 31, height: 20 });
    expect(Math.max(...random.data)).toBeLessThanOrEqual(1);
    expect(Math.min(...random.data)).toBeGreaterThanOrEqual(0);
  });

  it('does so with all four channels, and gives the picture itself at its own size', () => {
    const picture = newRgba(6, 6);
    picture.data.forEach((_, i) => {
      picture.data[i] = (i % 4) / 4;
    });
    expect(resampled(picture, { width: 6, height: 6 })).toBe(picture);
    const out = resampled(picture, { width: 4, height: 3 });
    expect(out.data).toHaveLength(48);
    for (let i = 0; i < 48; i++) expect(out.data[i]).toBeCloseTo((i % 4) / 4, 6);
  });
});
