import { describe, expect, it } from 'vitest';
import { gaussianBlur } from './gaussian.ts';

/** The slow plain twin: every weight for every pixel, edges repeated. */
function plain(data: Float32Array, width: number, height: number, channels: number, sx: number, sy: number): Float32Array {
  const pass = (from: Float32Array, sigma: number, across: boolean) => {
    const radius = Math.ceil(3 * sigma);
    const heights = Array.from({ length: 2 * radius + 1 }, (_, i) => (sigma > 0 ? Math.exp(-((i - radius) ** 2) / (2 * sigma ** 2)) : 1));
    const total = heights.reduce((a, b) => a + b);
    const weights = heights.map((h) => h / total);
    const out = new Float32Array(from.length);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        for (let c = 0; c < channels; c++) {
          let sum = 0;
          for (let t = -radius; t <= radius; t++) {
            const px = across ? Math.max(0, Math.min(width - 1, x + t)) : x;
            const py = across ? y : Math.max(0, Math.min(height - 1, y + t));
            sum += weights[t + radius] * from[(py * width + px) * channels + c];
          }
          out[(y * width + x) * channels + c] = sum;
        }
    return out;
  };
  return pass(pass(data, sx, true), sy, false);
}

const noise = (n: number) => Float32Array.from({ length: n }, (_, i) => ((i * 2654435761) % 1000) / 1000);

describe('gaussianBlur', () => {
  it.each([
    [1, 37, 23, 2.5, 2.5],
    [4, 21, 40, 4, 1],
    [4, 50, 9, 0, 3.3],
    [1, 33, 17, 6, 0],
    [4, 5, 5, 9, 9],
  ] as [1 | 4, number, number, number, number][])('agrees with its plain twin (%s channels, %sx%s, sigma %s/%s)', (channels, width, height, sx, sy) => {
    const data = noise(width * height * channels);
    const twin = plain(data, width, height, channels, sx, sy);
    gaussianBlur(data, width, height, channels, sx, sy);
    for (let i = 0; i < data.length; i++) expect(Math.abs(data[i] - twin[i])).toBeLessThan(1e-5);
  });

  it('leaves a flat picture flat and a picture without sigma alone', () => {
    const flat = new Float32Array(400).fill(0.37);
    gaussianBlur(flat, 20, 20, 1, 5, 5);
    for (const v of flat) expect(v).toBeCloseTo(0.37, 5);
    const data = noise(100);
    const before = data.slice();
    gaussianBlur(data, 10, 10, 1, 0, 0);
    expect(data).toEqual(before);
  });
});
