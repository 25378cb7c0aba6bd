/** Blurs by way of smaller pictures, against the sums of the true kernel. */
import { describe, expect, it } from 'vitest';
import { randomFrom } from '../math/random.ts';
import { withRoom } from '../wasm/room.ts';
import { gaussianBlur } from './gaussian.ts';

/** The true kernel, far enough cut that nothing is missed, edges repeated. */
function plain(data: Float32Array, width: number, height: number, sigmaX: number, sigmaY: number): Float32Array {
  const pass = (from: Float32Array, count: number, step: number, lines: number, line: number, sigma: number): Float32Array => {
    if (sigma === 0) return from;
    const out = new Float32Array(from.length);
    const reach = Math.ceil(5 * sigma);
    const weights = Array.from({ length: reach + 1 }, (_, i) => Math.exp(-(i * i) / (2 * sigma * sigma)));
    const all = weights.reduce((sum, w, i) => sum + (i === 0 ? w : 2 * w), 0);
    for (let l = 0; l < lines; l++)
      for (let k = 0; k < count; k++)
        for (let c = 0; c < 4; c++) {
          let sum = 0;
          for (let t = -reach; t <= reach; t++) sum += weights[Math.abs(t)] * from[l * line + Math.min(count - 1, Math.max(0, k + t)) * step + c];
          out[l * line + k * step + c] = sum / all;
        }
    return out;
  };
  return pass(pass(data, width, 4, height, 4 * width, sigmaX), height, 4 * width, width, 4, sigmaY);
}

const [WIDTH, HEIGHT] = [93, 70];
type Paint = (x: number, y: number) => number;
const random = randomFrom(3);
const PICTURES: [string, Paint][] = [
  ['noise of single pixels', () => random()],
  ['stripes of single pixels', (x) => x % 2],
  ['a chequerboard of pairs', (x, y) => ((x >> 1) + (y >> 1)) % 2],
  ['one white pixel', (x, y) => (x === 41 && y === 30 ? 1 : 0)],
  ['a white corner and a white side', (x, y) => ((x < 2 && y < 2) || x > 90 ? 1 : 0)],
  ['an edge', (x) => (x > 44 ? 1 : 0)],
];

describe('a blur by way of smaller pictures', () => {
  it.each(PICTURES)('is within a five hundred and twelfth of the true one: %s', async (_name, paint) => {
    const picture = new Float32Array(WIDTH * HEIGHT * 4);
    for (let y = 0; y < HEIGHT; y++) for (let x = 0; x < WIDTH; x++) picture.fill(paint(x, y), (y * WIDTH + x) * 4, (y * WIDTH + x) * 4 + 4);
    for (const [sx, sy] of [
      [2.5, 2.5],
      [3, 9],
      [5.1, 5.1],
      [12, 0],
      [0, 7],
      [24, 17],
      [60, 45],
    ]) {
      const expected = plain(picture, WIDTH, HEIGHT, sx, sy);
      const found = await withRoom(1 << 18, async (room) => {
        const data = room?.take(picture.length) as Float32Array;
        data.set(picture);
        gaussianBlur(data, WIDTH, HEIGHT, 4, sx, sy);
        return data.slice();
      });
      let worst = 0;
      for (let i = 0; i < found.length; i++) worst = Math.max(worst, Math.abs(found[i] - expected[i]));
      expect(worst, `sigma ${sx}, ${sy}`).toBeLessThan(1 / 512);
    }
  });
});
