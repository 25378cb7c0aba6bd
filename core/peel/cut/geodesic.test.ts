import { describe, expect, it } from 'vitest';
import { randomFrom } from '../../math/random.ts';
import { labPicture } from '../picture/lab.ts';
import { DROP, KEEP } from '../strokes/strokes.ts';
import { eachReached, geodesicDistances } from './geodesic.ts';

const [WIDTH, HEIGHT] = [40, 30];
const BESIDE = [-1, 0, 1].flatMap((dy) => [-1, 0, 1].map((dx) => [dx, dy])).filter(([dx, dy]) => dx || dy);

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

/** How long the shortest way from some pixels to each is: all ways are lengthened until none changes. */
function waysTo(from: Int32Array, lab: Float32Array, open: (i: number) => boolean, step: (length: number, colour: number) => number): Float64Array {
  const way = new Float64Array(WIDTH * HEIGHT).fill(Number.POSITIVE_INFINITY);
  for (const i of from) way[i] = 0;
  for (let changed = true; changed; ) {
    changed = false;
    for (let i = 0; i < way.length; i++)
      for (const [dx, dy] of BESIDE) {
        const [x, y] = [(i % WIDTH) + dx, Math.floor(i / WIDTH) + dy];
        if (!open(i) || x < 0 || y < 0 || x >= WIDTH || y >= HEIGHT) continue;
        const j = y * WIDTH + x;
        const d =
          way[j] +
          step(
            Math.hypot(dx, dy),
            [0, 1, 2].reduce((sum, c) => sum + Math.abs(lab[3 * i + c] - lab[3 * j + c]), 0),
          );
        if (d >= way[i]) continue;
        way[i] = d;
        changed = true;
      }
  }
  return way;
}

describe('what a stroke reaches', () => {
  it.each([1, 2, 3])('is what ways no longer than that lead to, as lengthening all ways until none changes finds it (%i)', (seed) => {
    const { picture, open } = scene(seed);
    const { lab } = picture;
    const from = Int32Array.of(615, 616, 617, 657);
    const way = waysTo(
      from,
      lab,
      (i) => open[i] === 1,
      (_, colour) => 1 + colour,
    );
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

describe('how far pixels are from painted ones', () => {
  it.each([1, 2, 3])('is never less than the shortest way, and hardly more (%i)', (seed) => {
    const { picture } = scene(seed);
    const seeds = new Uint8Array(WIDTH * HEIGHT);
    seeds.fill(KEEP, 615, 618);
    seeds[200] = DROP;
    const found = geodesicDistances(picture, seeds, [KEEP, DROP]);
    [Int32Array.of(615, 616, 617), Int32Array.of(200)].forEach((from, k) => {
      const way = waysTo(
        from,
        picture.lab,
        () => true,
        (length, colour) => length + 0.3 * colour,
      );
      const over = found[k].map((d, i) => d - way[i]);
      expect(Math.min(...over)).toBeGreaterThan(-1e-3);
      expect(over.reduce((sum, d) => sum + d, 0)).toBeLessThan(0.01 * way.reduce((sum, d) => sum + d, 0));
    });
  });

  it('finds the way round what differs in colour', () => {
    const data = new Uint8Array(4 * 41 * 21).fill(120);
    // A wall with a gap at the bottom.
    for (let y = 0; y < 18; y++) data.set([250, 10, 10, 255], 4 * (y * 41 + 20));
    const seeds = new Uint8Array(41 * 21);
    seeds[3 * 41 + 10] = KEEP;
    const [d, none] = geodesicDistances(labPicture({ width: 41, height: 21, data }), seeds, [KEEP, DROP]);
    expect(d[3 * 41 + 10]).toBe(0);
    expect(d[3 * 41 + 18]).toBeCloseTo(8, 4);
    // Straight through it would be 20; round the wall's end it is 2·(15 + …).
    const around = 2 * (10 * Math.SQRT2 + 5);
    expect(d[3 * 41 + 30]).toBeGreaterThan(around - 2);
    expect(d[3 * 41 + 30]).toBeLessThan(around + 2);
    expect(none.every((v) => v === Number.POSITIVE_INFINITY)).toBe(true);
  });
});
