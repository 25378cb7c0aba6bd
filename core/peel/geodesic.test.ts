import { describe, expect, it } from 'vitest';
import { randomFrom } from '../math/random.ts';
import { eachReached } from './geodesic.ts';
import { labPicture } from './lab.ts';

const [WIDTH, HEIGHT] = [40, 30];

/** Some colours in blocks, with grain; and three quarters of the pixels open. */
function scene(seed: number) {
  const random = randomFrom(seed);
  const blocks = Array.from({ length: 20 }, () => [random(), random(), random()].map((v) => 60 + 120 * v));
  const data = Uint8Array.from({ length: 4 * WIDTH * HEIGHT }, (_, k) => {
    const [i, c] = [k >> 2, k % 4];
    return c === 3 ? 255 : blocks[Math.floor((i % WIDTH) / 8) + 5 * Math.floor(i / WIDTH / 8)][c] + 6 * random();
  });
  const open = Uint8Array.from({ length: WIDTH * HEIGHT }, () => (random() < 0.75 ? 1 : 0));
  return { picture: labPicture({ width: WIDTH, height: HEIGHT, data }), open };
}

describe('what a stroke reaches', () => {
  it.each([1, 2, 3])('is what ways no longer than that lead to, as lengthening all ways until none changes finds it (%i)', (seed) => {
    const { picture, open } = scene(seed);
    const { lab } = picture;
    const from = Int32Array.of(615, 616, 617, 657);
    const way = new Float64Array(WIDTH * HEIGHT).fill(Number.POSITIVE_INFINITY);
    for (const i of from) way[i] = 0;
    for (let changed = true; changed; ) {
      changed = false;
      for (let i = 0; i < way.length; i++)
        for (let j = 0; j < way.length; j++) {
          if (!open[i] || Math.abs((i % WIDTH) - (j % WIDTH)) > 1 || Math.abs(Math.floor(i / WIDTH) - Math.floor(j / WIDTH)) > 1 || i === j) continue;
          const d = way[j] + 1 + [0, 1, 2].reduce((sum, c) => sum + Math.abs(lab[3 * i + c] - lab[3 * j + c]), 0);
          if (d < way[i]) {
            way[i] = d;
            changed = true;
          }
        }
    }
    for (const limit of [0.5, 12, 40]) {
      const reached: number[] = [];
      eachReached(
        picture,
        from,
        (i) => open[i] === 1,
        limit,
        (i) => reached.push(i),
      );
      expect(reached.sort((a, b) => a - b)).toEqual(Array.from(way.keys()).filter((i) => open[i] === 1 && way[i] <= limit));
    }
  });

  it('is all that is open round it where the picture is plain, and nothing from nowhere', () => {
    const picture = labPicture({ width: WIDTH, height: HEIGHT, data: new Uint8Array(4 * WIDTH * HEIGHT).fill(90) });
    const count = (from: number[], limit: number) => {
      let all = 0;
      eachReached(
        picture,
        Int32Array.from(from),
        () => true,
        limit,
        () => all++,
      );
      return all;
    };
    expect(count([15 * WIDTH + 20], 3)).toBe(49);
    expect(count([0], 3)).toBe(16);
    expect(count([], 30)).toBe(0);
  });
});
