import { describe, expect, it } from 'vitest';
import { randomFrom } from '../../math/random.ts';
import { bandOf, dilate, eachComponent, eachUnlike, sizeOf } from './masks.ts';

const besideOf = (x: number, y: number) => [
  [x - 1, y],
  [x + 1, y],
  [x, y - 1],
  [x, y + 1],
];

/** Pieces by flooding each from its first pixel, and whether they touch the border. */
function plainPieces(mask: Uint8Array, width: number, height: number, value: 0 | 1): string[] {
  const seen = new Uint8Array(mask.length);
  const pieces: string[] = [];
  const flood = (start: number): number[] => {
    const [open, piece]: number[][] = [[start], []];
    seen[start] = 1;
    for (let i = open.pop(); i !== undefined; i = open.pop()) {
      piece.push(i);
      const [x, y] = [i % width, Math.floor(i / width)];
      for (const [u, v] of besideOf(x, y)) {
        const j = v * width + u;
        if (u < 0 || v < 0 || u >= width || v >= height || seen[j] || mask[j] !== value) continue;
        seen[j] = 1;
        open.push(j);
      }
    }
    return piece.sort((a, b) => a - b);
  };
  for (let i = 0; i < mask.length; i++) {
    if (seen[i] || mask[i] !== value) continue;
    const piece = flood(i);
    const atBorder = piece.some((j) => j % width === 0 || j % width === width - 1 || j < width || j >= width * (height - 1));
    pieces.push(`${atBorder} ${piece}`);
  }
  return pieces.sort();
}

/** 1 where `test` holds for any place within `radius` in rows and columns. */
const plainWithin = (width: number, height: number, radius: number, test: (x: number, y: number) => boolean): Uint8Array =>
  Uint8Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    for (let v = Math.max(0, y - radius); v <= Math.min(height - 1, y + radius); v++)
      for (let u = Math.max(0, x - radius); u <= Math.min(width - 1, x + radius); u++) if (test(u, v)) return 1;
    return 0;
  });

describe('what is near', () => {
  it.each([
    [1, 1, 3],
    [5, 1, 1],
    [1, 7, 2],
    [31, 23, 0],
    [31, 23, 3],
    [40, 12, 7],
    [9, 11, 30],
  ])('a mask and its edge is as far as it should be, in %i by %i with %i', (width, height, radius) => {
    const random = randomFrom(width + 100 * height + radius);
    for (const share of [0, 0.02, 0.1, 0.5, 1]) {
      const mask = Uint8Array.from({ length: width * height }, () => (random() < share ? 1 : 0));
      const at = (x: number, y: number) => mask[y * width + x];
      expect([...dilate(mask, width, height, radius)]).toEqual([...plainWithin(width, height, radius, (x, y) => at(x, y) === 1)]);
      const edge = (x: number, y: number) => besideOf(x, y).some(([u, v]) => u >= 0 && v >= 0 && u < width && v < height && at(u, v) !== at(x, y));
      expect([...bandOf(mask, width, height, radius)]).toEqual([...plainWithin(width, height, radius, edge)]);
    }
  });
});

describe('masks that are read four pixels at a time', () => {
  const random = randomFrom(5);
  const bytes = Uint8Array.from({ length: 103 }, () => (random() < 0.3 ? 1 : 0));

  it.each([0, 1, 4, 7])('are counted and compared whole, from byte %i on', (from) => {
    const mask = bytes.subarray(from);
    expect(sizeOf(mask)).toBe(mask.reduce((a, b) => a + b, 0));
    const other = mask.map((v, i) => (i % 10 === 3 || i === mask.length - 1 ? 1 - v : v));
    const unlike: number[] = [];
    eachUnlike(mask, other, (i) => unlike.push(i));
    expect(unlike).toEqual([...mask.keys()].filter((i) => mask[i] !== other[i]));
    expect(unlike.length).toBeGreaterThan(9);
  });
});

describe('eachComponent', () => {
  it.each([
    [1, 1],
    [6, 1],
    [1, 6],
    [2, 9],
    [23, 17],
    [40, 31],
  ])('gives what a flood from each pixel finds, in %i by %i', (width, height) => {
    const random = randomFrom(width + 100 * height);
    for (const share of [0, 0.3, 0.55, 0.7, 1])
      for (const value of [0, 1] as const) {
        const mask = Uint8Array.from({ length: width * height }, () => (random() < share ? 1 : 0));
        const got: string[] = [];
        eachComponent(mask, width, height, value, (pixels, atBorder) => got.push(`${atBorder} ${[...pixels].sort((a, b) => a - b)}`));
        expect(got.sort()).toEqual(plainPieces(mask, width, height, value));
      }
  });

  it('joins what meets only far down, as the turns of a spiral do', () => {
    const rows = ['#######', '......#', '#####.#', '#...#.#', '#.###.#', '#.....#', '#######'];
    const mask = Uint8Array.from(rows.join(''), (c) => (c === '#' ? 1 : 0));
    const sizes: number[] = [];
    eachComponent(mask, 7, 7, 1, (pixels) => sizes.push(pixels.length));
    expect(sizes).toEqual([mask.reduce((a, b) => a + b, 0)]);
  });

  it('may change the mask as it goes', () => {
    const mask = Uint8Array.from('1010110001', Number);
    eachComponent(mask, 10, 1, 1, (pixels) => {
      if (pixels.length < 2) for (const i of pixels) mask[i] = 0;
    });
    expect([...mask].join('')).toBe('0000110000');
  });
});
