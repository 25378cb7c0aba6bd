import { describe, expect, it } from 'vitest';
import { randomFrom } from '../../math/random.ts';
import { boxMean } from '../picture/box-mean.ts';
import { labPicture } from '../picture/lab.ts';
import { layerErrors, layerMotion, sources } from './layers.ts';

const [WIDTH, HEIGHT] = [48, 36];
const FACTOR = 4;
const flow = (at: (x: number, y: number) => [number, number]) => ({
  width: WIDTH / FACTOR,
  height: HEIGHT / FACTOR,
  data: Float32Array.from({ length: (2 * WIDTH * HEIGHT) / FACTOR ** 2 }, (_, i) => {
    const k = i >> 1;
    return at(k % (WIDTH / FACTOR), Math.floor(k / (WIDTH / FACTOR)))[i % 2];
  }),
});
const box = { left: 5, top: 3, width: 20, height: 17 };

describe('where a layer came from', () => {
  it('is back along an even motion, all over the box', () => {
    const even = flow(() => [0.75, -0.5]);
    const from = sources(even.data, even, FACTOR, box);
    for (let y = 0; y < box.height; y++)
      for (let x = 0; x < box.width; x++) {
        expect(from[2 * (y * box.width + x)]).toBeCloseTo(x + box.left - 3, 4);
        expect(from[2 * (y * box.width + x) + 1]).toBeCloseTo(y + box.top + 2, 4);
      }
  });

  it('goes, under a motion that changes from place to place, to where that motion leads back from', () => {
    // A pixel at p goes to p + FACTOR·v(p): what lies at q now came from the p of which that is true.
    const growing = flow((x) => [0.05 * x, 0]);
    const from = sources(growing.data, growing, FACTOR, box);
    for (let x = 0; x < box.width; x++) {
      const came = from[2 * (8 * box.width + x)];
      const coarse = (came + 0.5) / FACTOR - 0.5;
      expect(came + FACTOR * 0.05 * Math.max(0, coarse)).toBeCloseTo(x + box.left, 1);
    }
  });
});

/** How far a value is from those that a picture has between the middles of a pixel and of its four neighbours, halfway. */
function offAt(value: number, at: (x: number, y: number) => number, x: number, y: number): number {
  const here = at(x, y);
  const halfway = [
    [x - 1, y],
    [x + 1, y],
    [x, y - 1],
    [x, y + 1],
  ]
    .filter(([u, v]) => u >= 0 && v >= 0 && u < WIDTH && v < HEIGHT)
    .map(([u, v]) => (here + at(u, v)) / 2);
  return Math.max(0, value - Math.max(here, ...halfway), Math.min(here, ...halfway) - value);
}

describe('a layer that goes along as a whole', () => {
  const size = { width: 24, height: 20 };
  const whole = [0.98, -0.06, 2, 0.06, 0.98, 1, 0, 0, 1];
  const box = { left: 0, top: 0, width: 96, height: 80 };
  const moves = (x: number, y: number) => [(whole[0] - 1) * x + whole[1] * y + whole[2], whole[3] * x + (whole[4] - 1) * y + whole[5]];
  const motionWith = (at: (x: number, y: number) => number[], forwardBackwardError: number) => {
    const data = Float32Array.from({ length: 2 * size.width * size.height }, (_, i) => at((i >> 1) % size.width, Math.floor((i >> 1) / size.width))[i % 2]);
    const flow = { ...size, data };
    const misses = new Float32Array(data.length / 2).fill(forwardBackwardError);
    return { forward: flow, backward: flow, forwardBackwardError: misses, backwardForwardError: misses };
  };
  const everywhere = new Float32Array(box.width * box.height).fill(9);

  it('goes by that where little is sure of its own motion', () => {
    const layer = layerMotion(
      motionWith(() => [5, 5], 50),
      everywhere,
      box,
      FACTOR,
      1,
      whole,
    );
    for (const [x, y] of [
      [3, 4],
      [20, 15],
    ]) {
      const want = moves(x, y);
      for (const c of [0, 1]) expect(layer[2 * (y * size.width + x) + c]).toBeCloseTo(want[c], 1);
    }
  });

  it('goes by its own where that is sure', () => {
    const layer = layerMotion(
      motionWith((x) => [1 + 0.1 * x, -2], 0),
      everywhere,
      box,
      FACTOR,
      1,
      whole,
    );
    for (const x of [3, 12, 20]) {
      expect(layer[2 * (9 * size.width + x)]).toBeCloseTo(1 + 0.1 * x, 0);
      expect(Math.abs(layer[2 * (9 * size.width + x) + 1] + 2)).toBeLessThan(0.15);
    }
  });
});

describe('how badly a layer explains a picture', () => {
  it('is the difference from where it came from where that was the layer, and a set cost elsewhere', () => {
    const random = randomFrom(3);
    const picture = () => labPicture({ width: WIDTH, height: HEIGHT, data: Uint8Array.from({ length: 4 * WIDTH * HEIGHT }, () => 90 + 60 * random()) });
    const [next, before] = [picture(), picture()];
    const mask = Uint8Array.from({ length: WIDTH * HEIGHT }, () => (random() < 0.7 ? 1 : 0));
    const from = Float32Array.from({ length: 2 * WIDTH * HEIGHT }, (_, i) => {
      const k = i >> 1;
      return (i % 2 === 0 ? k % WIDTH : Math.floor(k / WIDTH)) + 6 * (random() - 0.5);
    });
    for (const side of [1, 0] as const) {
      const raw = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
        const [x, y] = [Math.round(from[2 * i]), Math.round(from[2 * i + 1])];
        const at = y * WIDTH + x;
        if (x < 0 || y < 0 || x >= WIDTH || y >= HEIGHT || mask[at] !== side) return 8;
        return Math.min(
          25,
          [0, 1, 2].reduce((sum, c) => sum + offAt(next.lab[3 * i + c], (u, v) => before.lab[3 * (v * WIDTH + u) + c], x, y), 0),
        );
      });
      const want = boxMean(raw, WIDTH, HEIGHT, 2);
      const errors = layerErrors(next, before, mask, from, from);
      const got = side === 1 ? errors.keep : errors.drop;
      for (let i = 0; i < want.length; i++) expect(got[i]).toBeCloseTo(want[i], 3);
    }
  });
});
