import { describe, expect, it } from 'vitest';
import { randomFrom } from '../math/random.ts';
import { borrowParts } from './host.ts';

/** A picture of random colours with distances from an edge that runs across it. */
function scene(width: number, height: number) {
  const n = width * height;
  const random = randomFrom(width);
  const colours = Float32Array.from({ length: 4 * n }, (_, i) => (i % 4 === 3 ? 1 : 100 * random()));
  const distance = Float32Array.from({ length: n }, (_, i) => (i % width) - width / 3 + 4 * (random() - 0.5));
  return { n, colours, distance, random };
}

describe('sideMeans', () => {
  it.each([
    [23, 17, 3],
    [9, 30, 12],
    [40, 5, 1],
  ])('are the mean colours of one side in each square and its share, in %i by %i with radius %i', (width, height, radius) => {
    const { n, colours, distance } = scene(width, height);
    for (const side of [1, -1]) {
      const { kernels, part, at } = borrowParts({ colours: 4 * n, distance: n, rows: 4 * n, sums: 4 * width, out: 4 * n });
      part.colours.set(colours);
      part.distance.set(distance);
      kernels.sideMeans(at.colours, at.distance, side, 1.5, at.rows, at.sums, at.out, width, height, radius);
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          let [count, all] = [0, 0];
          const sum = [0, 0, 0];
          for (let v = Math.max(0, y - radius); v <= Math.min(height - 1, y + radius); v++)
            for (let u = Math.max(0, x - radius); u <= Math.min(width - 1, x + radius); u++) {
              const i = v * width + u;
              all++;
              if (side * distance[i] <= 1.5) continue;
              count++;
              for (let c = 0; c < 3; c++) sum[c] += colours[4 * i + c];
            }
          const got = part.out.subarray(4 * (y * width + x), 4 * (y * width + x) + 4);
          expect(got[3]).toBeCloseTo(count / all, 5);
          if (count > 0) for (let c = 0; c < 3; c++) expect(got[c]).toBeCloseTo(sum[c] / count, 2);
        }
    }
  });
});

describe('mixErrors', () => {
  it('are squared differences from the mix, nothing far from the edge, and unknown where a side with part in it is not there', () => {
    const n = 60;
    const { colours, random } = scene(n, 1);
    const { kernels, part, at } = borrowParts({ alpha: n, inside: 4 * n, outside: 4 * n, colours: 4 * n, near: n, error: n });
    part.colours.set(colours);
    for (let i = 0; i < n; i++) {
      part.alpha[i] = i % 5 === 0 ? 0 : i % 5 === 1 ? 1 : 0.01 + 0.98 * random();
      part.near[i] = i % 7 === 0 ? 0 : 1;
      for (const [side, every] of [
        [part.inside, 4],
        [part.outside, 3],
      ] as const) {
        for (let c = 0; c < 3; c++) side[4 * i + c] = 100 * random();
        side[4 * i + 3] = i % every === 0 ? 0.004 : 0.2;
      }
    }
    kernels.mixErrors(at.alpha, at.inside, at.outside, at.colours, at.near, 1e5, at.error, n);
    for (let i = 0; i < n; i++) {
      const a = part.alpha[i];
      const missing = (a > 0 && i % 4 === 0) || (a < 1 && i % 3 === 0);
      const mix = [0, 1, 2].map((c) => a * part.inside[4 * i + c] + (1 - a) * part.outside[4 * i + c]);
      const want = mix.reduce((sum, m, c) => sum + (colours[4 * i + c] - m) ** 2, 0);
      expect(part.error[i] / (i % 7 === 0 ? 1 : missing ? 1e5 : want), `pixel ${i}`).toBeCloseTo(i % 7 === 0 ? 0 : 1, 4);
    }
  });
});

describe('meanMotion', () => {
  it('gives each pixel the mean of the patches over it, the better ones counting for more, and the last ones that of their neighbours', () => {
    const [width, height, apart, patch] = [31, 22, 3, 8];
    const columns = Math.floor((width - patch) / apart) + 1;
    const rows = Math.floor((height - patch) / apart) + 1;
    const n = width * height;
    const count = columns * rows;
    const { kernels, part, at } = borrowParts({ u: count, v: count, cost: count, sums: 4 * n, motion: 2 * n });
    const random = randomFrom(9);
    for (let p = 0; p < count; p++) {
      part.u[p] = 8 * (random() - 0.5);
      part.v[p] = 8 * (random() - 0.5);
      part.cost[p] = 12 * random();
    }
    kernels.meanMotion(at.u, at.v, at.cost, columns, rows, apart, at.sums, width, height, at.motion);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const [px, py] = [Math.min(x, (columns - 1) * apart + patch - 1), Math.min(y, (rows - 1) * apart + patch - 1)];
        let [u, v, weight] = [0, 0, 0];
        for (let p = 0; p < count; p++) {
          const [left, top] = [(p % columns) * apart, Math.floor(p / columns) * apart];
          if (px < left || py < top || px >= left + patch || py >= top + patch) continue;
          const w = 1 / Math.max(1, part.cost[p]);
          u += w * part.u[p];
          v += w * part.v[p];
          weight += w;
        }
        expect(part.motion[2 * (y * width + x)]).toBeCloseTo(u / weight, 4);
        expect(part.motion[2 * (y * width + x) + 1]).toBeCloseTo(v / weight, 4);
      }
  });
});
