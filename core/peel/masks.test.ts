import { describe, expect, it } from 'vitest';
import { randomFrom } from '../math/random.ts';
import { eachPiece } from './masks.ts';

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
      for (const [u, v] of [
        [x - 1, y],
        [x + 1, y],
        [x, y - 1],
        [x, y + 1],
      ]) {
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

describe('eachPiece', () => {
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
        eachPiece(mask, width, height, value, (pixels, atBorder) => got.push(`${atBorder} ${[...pixels].sort((a, b) => a - b)}`));
        expect(got.sort()).toEqual(plainPieces(mask, width, height, value));
      }
  });

  it('joins what meets only far down, as the turns of a spiral do', () => {
    const rows = ['#######', '......#', '#####.#', '#...#.#', '#.###.#', '#.....#', '#######'];
    const mask = Uint8Array.from(rows.join(''), (c) => (c === '#' ? 1 : 0));
    const sizes: number[] = [];
    eachPiece(mask, 7, 7, 1, (pixels) => sizes.push(pixels.length));
    expect(sizes).toEqual([mask.reduce((a, b) => a + b, 0)]);
  });

  it('may change the mask as it goes', () => {
    const mask = Uint8Array.from('1010110001', Number);
    eachPiece(mask, 10, 1, 1, (pixels) => {
      if (pixels.length < 2) for (const i of pixels) mask[i] = 0;
    });
    expect([...mask].join('')).toBe('0000110000');
  });
});
