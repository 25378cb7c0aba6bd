import { describe, expect, it } from 'vitest';
import { randomFrom } from '../../math/random.ts';
import { softMask } from '../matting/soft-edge.ts';
import { boxMean, softened } from './box-mean.ts';

describe('boxMean', () => {
  it.each([
    [13, 9, 2],
    [5, 5, 28],
    [1, 7, 1],
    [40, 3, 0],
  ])('is the mean of what lies in each square, in %i by %i with radius %i', (width, height, radius) => {
    const random = randomFrom(width + radius);
    const data = Float32Array.from({ length: width * height }, random);
    const got = boxMean(data, width, height, radius);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        let [sum, count] = [0, 0];
        for (let v = Math.max(0, y - radius); v <= Math.min(height - 1, y + radius); v++)
          for (let u = Math.max(0, x - radius); u <= Math.min(width - 1, x + radius); u++) {
            sum += data[v * width + u];
            count++;
          }
        expect(got[y * width + x]).toBeCloseTo(sum / count, 4);
      }
  });
});

describe('softened', () => {
  it.each([
    [31, 22, 1],
    [33, 40, 3],
    [8, 5, 10],
    [1, 17, 6],
    [70, 64, 19],
  ])('is two means over squares of a mask, borders repeated, in %i by %i with radius %i', (width, height, radius) => {
    const random = randomFrom(width * radius);
    const mask = Uint8Array.from({ length: width * height }, () => (random() < 0.6 ? 1 : 0));
    const mean = (data: ArrayLike<number>): number[] =>
      Array.from(data, (_, i) => {
        const [x, y] = [i % width, Math.floor(i / width)];
        let sum = 0;
        for (let v = y - radius; v <= y + radius; v++)
          for (let u = x - radius; u <= x + radius; u++) sum += data[Math.max(0, Math.min(height - 1, v)) * width + Math.max(0, Math.min(width - 1, u))];
        return sum / (2 * radius + 1) ** 2;
      });
    const want = mean(mean(mask));
    const got = softened(mask, width, height, radius);
    for (let i = 0; i < want.length; i++) expect(got[i]).toBeCloseTo(want[i], 5);
  });
});

describe('softMask', () => {
  it('makes a straight edge a ramp of four pixels about it, and leaves the inside whole', () => {
    const mask = Uint8Array.from({ length: 20 * 5 }, (_, i) => (i % 20 < 10 ? 1 : 0));
    const row = [...softMask(mask, 20, 5).subarray(40, 60)].map((v) => Math.round(v * 9));
    expect(row).toEqual([9, 9, 9, 9, 9, 9, 9, 9, 8, 6, 3, 1, 0, 0, 0, 0, 0, 0, 0, 0]);
  });
});
