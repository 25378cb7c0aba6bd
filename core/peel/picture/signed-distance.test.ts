import { describe, expect, it } from 'vitest';
import { randomFrom } from '../../math/random.ts';
import { maskDistance } from './signed-distance.ts';

/** The same by relaxing every pixel from its neighbours until nothing gets nearer. */
function plainDistance(mask: Uint8Array, width: number, height: number, most: number): number[] {
  const d = new Array<number>(mask.length).fill(most);
  const inside = (x: number, y: number) => x >= 0 && y >= 0 && x < width && y < height;
  const eachNeighbour = (i: number, each: (j: number, length: number) => void) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    for (let dy = -1; dy <= 1; dy++)
      for (let dx = -1; dx <= 1; dx++) if ((dx || dy) && inside(x + dx, y + dy)) each(i + dy * width + dx, dx && dy ? 1.3693 : 0.955);
  };
  for (let i = 0; i < d.length; i++)
    eachNeighbour(i, (j, length) => {
      if (length < 1 && mask[j] !== mask[i]) d[i] = 0.5;
    });
  for (let moved = true; moved; ) {
    moved = false;
    for (let i = 0; i < d.length; i++)
      eachNeighbour(i, (j, length) => {
        if (d[j] + length < d[i] - 1e-9) {
          d[i] = d[j] + length;
          moved = true;
        }
      });
  }
  return d.map((v, i) => (mask[i] ? v : -v));
}

describe('maskDistance', () => {
  it.each([
    [1, 1],
    [1, 9],
    [9, 1],
    [15, 7],
    [16, 16],
    [17, 5],
    [33, 12],
    [67, 40],
  ])('is the length of the shortest way to the edge, by straight and slanting steps, in %i by %i', (width, height) => {
    const random = randomFrom(width * height);
    for (const share of [0.02, 0.5, 0.9]) {
      const mask = Uint8Array.from({ length: width * height }, () => (random() < share ? 1 : 0));
      const got = maskDistance(mask, width, height, 12);
      const want = plainDistance(mask, width, height, 12);
      for (let i = 0; i < want.length; i++) expect(got[i]).toBeCloseTo(want[i], 4);
    }
  });

  it('is exactly a half next to the edge, on both sides', () => {
    const mask = Uint8Array.from({ length: 40 * 30 }, (_, i) => (i % 40 > 12 && i % 40 < 31 && i > 200 && i < 900 ? 1 : 0));
    const found = maskDistance(mask, 40, 30, 20);
    for (let y = 0; y < 30; y++)
      for (let x = 0; x + 1 < 40; x++) {
        const i = y * 40 + x;
        if (mask[i] !== mask[i + 1]) expect([found[i], found[i + 1]].map(Math.abs)).toEqual([0.5, 0.5]);
      }
  });

  it('is as far as is asked where there is no edge', () => {
    expect([...maskDistance(new Uint8Array(35), 7, 5, 9)]).toEqual(new Array(35).fill(-9));
    expect([...maskDistance(new Uint8Array(35).fill(1), 7, 5, 9)]).toEqual(new Array(35).fill(9));
  });
});
