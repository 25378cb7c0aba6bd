/** Blur by a disc. */
import { roomOf } from '../wasm/room.ts';
import type { Rgba } from './picture.ts';

/**
 * The mean of a premultiplied picture over a disc, in place, its sides held. Rows are summed up once, so that each row of a disc is a
 * difference of two sums; between pixels these sums go on straight, so that a disc grows without steps.
 */
export function discBlur({ width, height, data }: Rgba, radius: number): void {
  if (radius < 0.5) return;
  const rows = Math.ceil(radius - 0.5);
  const halves = Float64Array.from({ length: 2 * rows + 1 }, (_, k) => Math.sqrt(Math.max(0, radius * radius - (k - rows) ** 2)));
  const share = 1 / halves.reduce((sum, half) => sum + 2 * half, 0);
  const pad = Math.ceil(radius) + 1;
  const room = roomOf(data);
  const mark = room?.mark() ?? 0;
  const [own, ring] = [room?.take(halves.length), room?.take(4 * (width + 2 * pad + 2) * (2 * rows + 2))];
  if (room && own && ring) {
    own.set(halves);
    room.kernels.discRows(data.byteOffset, width, height, own.byteOffset, rows, pad, ring.byteOffset, share);
    room.release(mark);
    return;
  }
  room?.release(mark);
  const line = width + 2 * pad + 1;
  // Sums of each row up to before a pixel, its sides held.
  const sums = new Float64Array(4 * line * height);
  for (let y = 0; y < height; y++)
    for (let i = 1; i < line; i++) {
      const x = Math.max(0, Math.min(width - 1, i - 1 - pad));
      const o = 4 * (y * line + i);
      for (let k = 0; k < 4; k++) sums[o + k] = sums[o - 4 + k] + data[4 * (y * width + x) + k];
    }
  const row = new Float64Array(4 * width);
  for (let y = 0; y < height; y++) {
    row.fill(0);
    for (let dy = -rows; dy <= rows; dy++) {
      const half = halves[dy + rows];
      const from = 4 * Math.max(0, Math.min(height - 1, y + dy)) * line;
      const first = pad + 0.5 - half;
      const last = pad + 0.5 + half;
      const [i, j] = [Math.floor(first), Math.floor(last)];
      const [fi, fj] = [first - i, last - j];
      let [a, b] = [from + 4 * i, from + 4 * j];
      for (let o = 0; o < 4 * width; o++, a++, b++) row[o] += sums[b] + (sums[b + 4] - sums[b]) * fj - sums[a] - (sums[a + 4] - sums[a]) * fi;
    }
    const to = 4 * y * width;
    for (let o = 0; o < 4 * width; o++) data[to + o] = row[o] * share;
  }
}
