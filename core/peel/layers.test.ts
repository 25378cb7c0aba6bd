import { describe, expect, it } from 'vitest';
import { randomFrom } from '../math/random.ts';
import { boxMean } from './box-mean.ts';
import { labPicture } from './lab.ts';
import { layerErrors, sources } from './layers.ts';

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
          [0, 1, 2].reduce((sum, c) => sum + Math.abs(next.lab[3 * i + c] - before.lab[3 * at + c]), 0),
        );
      });
      const want = boxMean(raw, WIDTH, HEIGHT, 2);
      const errors = layerErrors(next, before, mask, from, from);
      const got = side === 1 ? errors.keep : errors.drop;
      for (let i = 0; i < want.length; i++) expect(got[i]).toBeCloseTo(want[i], 3);
    }
  });
});
