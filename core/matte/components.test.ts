import { describe, expect, it } from 'vitest';
import { type Gray, newGray, wholeOf } from '../image/picture.ts';
import { randomFrom } from '../math/random.ts';
import { cleanPieces } from './components.ts';

/** Pieces of what `inside` says, by walking from pixel to pixel. */
function pieces({ data, width, height }: Gray, inside: (value: number) => boolean): number[][] {
  const seen = new Uint8Array(data.length);
  const found: number[][] = [];
  for (let start = 0; start < data.length; start++) {
    if (seen[start] || !inside(data[start])) continue;
    const piece = [start];
    seen[start] = 1;
    for (let k = 0; k < piece.length; k++) {
      const [x, y] = [piece[k] % width, Math.floor(piece[k] / width)];
      for (const [nx, ny] of [
        [x - 1, y],
        [x + 1, y],
        [x, y - 1],
        [x, y + 1],
      ]) {
        const at = ny * width + nx;
        if (nx < 0 || ny < 0 || nx >= width || ny >= height || seen[at] || !inside(data[at])) continue;
        seen[at] = 1;
        piece.push(at);
      }
    }
    found.push(piece);
  }
  return found;
}

describe('cleanPieces', () => {
  it.each([
    [67, 45, 0.55],
    [64, 33, 0.42],
    [3, 90, 0.6],
    [131, 2, 0.5],
    [1, 1, 0.5],
  ])('takes and fills just what a walk over the pixels finds, in %i by %i', (width, height, share) => {
    const random = randomFrom(width * 7 + height);
    const noise = newGray(width, height);
    for (let i = 0; i < noise.data.length; i++) noise.data[i] = random() < share ? 1 : 0;
    // A few soft values: they count their alpha as a piece, and what they lack as a hole.
    for (let i = 0; i < noise.data.length; i += 13) noise.data[i] *= 0.5;

    const expected = noise.data.slice();
    const plain = { ...noise, data: expected };
    for (const piece of pieces(plain, (v) => v > 0.01)) if (piece.reduce((s, i) => s + expected[i], 0) < 6) for (const i of piece) expected[i] = 0;
    for (const piece of pieces(plain, (v) => v < 0.99)) {
      const atBorder = piece.some((i) => i % width === 0 || i % width === width - 1 || i < width || i >= width * (height - 1));
      if (!atBorder && piece.reduce((s, i) => s + 1 - expected[i], 0) < 4) for (const i of piece) expected[i] = 1;
    }

    cleanPieces(noise, wholeOf(noise), 0.5, 1, 6, 4);
    expect(noise.data).toEqual(expected);
  });
});
