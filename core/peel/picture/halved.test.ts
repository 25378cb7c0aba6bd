import { describe, expect, it } from 'vitest';
import { randomFrom } from '../../math/random.ts';
import { borrowParts } from '../../wasm/host.ts';
import { halved, halveInto, halvingParts } from './halved.ts';

describe('halving', () => {
  it.each([
    [2, 2],
    [7, 5],
    [16, 9],
    [31, 12],
    [1, 6],
  ])('is the mean of each square of four, of floats and of colours, in %i by %i', (width, height) => {
    const random = randomFrom(width + height);
    const [w, h] = [width >> 1, height >> 1];
    const data = Float32Array.from({ length: width * height }, random);
    const lab = Float32Array.from({ length: 3 * width * height }, () => 100 * random());
    const meanOf = (values: Float32Array, channels: number, c: number, k: number) => {
      const i = 2 * Math.floor(k / w) * width + 2 * (k % w);
      return [i, i + 1, i + width, i + width + 1].reduce((sum, j) => sum + values[channels * j + c], 0) / 4;
    };
    const found = halved(data, { width, height });
    expect(found.length).toBe(w * h);
    for (let k = 0; k < w * h; k++) expect(found[k]).toBeCloseTo(meanOf(data, 1, 0, k), 5);

    const memory = borrowParts({ colours: 4 * w * h, ...halvingParts(width * height) });
    halveInto(memory, memory.at.colours, lab, { width, height });
    for (let k = 0; k < w * h; k++) {
      for (let c = 0; c < 3; c++) expect(memory.part.colours[4 * k + c]).toBeCloseTo(meanOf(lab, 3, c, k), 3);
      expect(memory.part.colours[4 * k + 3]).toBe(1);
    }
  });
});
