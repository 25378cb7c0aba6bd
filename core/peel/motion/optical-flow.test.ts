import { describe, expect, it } from 'vitest';
import type { Gray } from '../../image/picture.ts';
import { randomFrom } from '../../math/random.ts';
import { flowBetween, half, pyramidOf } from './optical-flow.ts';

/** Smooth noise that can be asked for at any place. */
function texture(seed: number): (x: number, y: number) => number {
  const random = randomFrom(seed);
  const waves = Array.from({ length: 40 }, () => [(random() - 0.5) * 0.9, (random() - 0.5) * 0.9, random() * 6.28, 5 * random()]);
  return (x, y) => waves.reduce((sum, [a, b, phase, strength]) => sum + strength * Math.sin(a * x + b * y + phase), 50);
}

const picture = (width: number, height: number, at: (x: number, y: number) => number): Gray => {
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) data[y * width + x] = at(x, y);
  return { width, height, data };
};

/** Median distance of the flow from what it should be, away from the borders. */
function medianError(first: Gray, second: Gray, truth: (x: number, y: number) => [number, number]): number {
  const { data, width, height } = flowBetween(pyramidOf(first), pyramidOf(second));
  const errors: number[] = [];
  for (let y = 16; y < height - 16; y++)
    for (let x = 16; x < width - 16; x++) {
      const [u, v] = truth(x, y);
      errors.push(Math.hypot(data[2 * (y * width + x)] - u, data[2 * (y * width + x) + 1] - v));
    }
  return errors.sort((a, b) => a - b)[errors.length >> 1];
}

describe('flowBetween', () => {
  it.each([
    [0, 0],
    [1.3, -0.7],
    [-6.5, 4.25],
    [17, -9],
  ])('finds a shift by (%f, %f), whatever the light', (u, v) => {
    const at = texture(3);
    const first = picture(160, 100, at);
    const second = picture(160, 100, (x, y) => 12 + at(x - u, y - v));
    expect(medianError(first, second, () => [u, v])).toBeLessThan(0.05 + 0.01 * Math.hypot(u, v));
  });

  it('follows a turn and a growth about the middle', () => {
    const at = texture(8);
    const [c, s] = [1.04 * Math.cos(0.05), 1.04 * Math.sin(0.05)];
    const to = (x: number, y: number): [number, number] => [c * (x - 80) - s * (y - 50) + 80, s * (x - 80) + c * (y - 50) + 50];
    const det = c * c + s * s;
    const from = (x: number, y: number): [number, number] => [(c * (x - 80) + s * (y - 50)) / det + 80, (-s * (x - 80) + c * (y - 50)) / det + 50];
    const second = picture(160, 100, (x, y) => at(...from(x, y)));
    expect(medianError(picture(160, 100, at), second, (x, y) => [to(x, y)[0] - x, to(x, y)[1] - y])).toBeLessThan(0.15);
  });

  it('leaves a plain picture where it is, and takes pictures no larger than a patch', () => {
    const plain = picture(64, 48, () => 7);
    expect(flowBetween(pyramidOf(plain), pyramidOf(plain)).data.every((v) => v === 0)).toBe(true);
    const small = picture(8, 8, texture(1));
    expect(flowBetween([small], [small]).data).toHaveLength(128);
    const tiny = picture(3, 2, texture(1));
    expect(flowBetween([tiny], [tiny]).data).toEqual(new Float32Array(12));
  });

  it('halves by the mean of four', () => {
    expect([...half({ width: 2, height: 2, data: Float32Array.of(1, 2, 3, 6) }).data]).toEqual([3]);
  });
});
