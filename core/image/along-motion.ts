/** Blur along a motion of the plane that goes on at one rate: a shift, a turn, a growth. */
import type { Homography } from '../math/homography.ts';
import { roomOf } from '../wasm/room.ts';
import { rawLayer } from './in-room.ts';
import { type Rgba, wholeOf } from './picture.ts';

/** Times that a picture is laid on itself, at most: 2^8 instants. */
const MOST = 8;
/** Numbers of an affine motion. */
const AFFINE = 6;

/** The mean of what is seen of a picture through two affine motions, from its places to places in `from`; bilinear, nothing beyond. */
function meanOfTwo(to: Rgba, from: Rgba, motions: readonly Homography[]): void {
  const { width, height, data } = from;
  const room = roomOf(to.data, data);
  const numbers = room?.take(2 * 2 * AFFINE);
  if (room && numbers) {
    new Float64Array(numbers.buffer, numbers.byteOffset, 2 * AFFINE).set(motions.flatMap((m) => m.slice(0, AFFINE)));
    room.kernels.meanOfTwo(data.byteOffset, width, height, numbers.byteOffset, to.data.byteOffset);
    return;
  }
  to.data.fill(0);
  for (const [a, b, c, d, e, f] of motions)
    for (let y = 0, o = 0; y < height; y++)
      for (let x = 0; x < width; x++, o += 4) {
        const u = a * (x + 0.5) + b * (y + 0.5) + c - 0.5;
        const v = d * (x + 0.5) + e * (y + 0.5) + f - 0.5;
        const [left, top] = [Math.floor(u), Math.floor(v)];
        for (let row = top; row <= top + 1; row++)
          for (let column = left; column <= left + 1; column++) {
            if (row < 0 || column < 0 || row >= height || column >= width) continue;
            const share = 0.5 * (1 - Math.abs(u - column)) * (1 - Math.abs(v - row));
            const s = 4 * (row * width + column);
            for (let k = 0; k < 4; k++) to.data[o + k] += share * data[s + k];
          }
      }
}

/**
 * The mean of a premultiplied picture over a motion, from half of it before to half of it after, in place. Motions of one rate put
 * together are one of them again, so that 2^n instants take n times two: the mean of the picture a quarter this and that way, then of that
 * an eighth, …
 * @param length how far the fastest pixel goes, pixels
 * @param motion affine, by a share of the whole of it, from pixels of the result to those of the picture
 */
export function alongMotion(layer: Rgba, length: number, motion: (share: number) => Homography): void {
  if (length < 0.5) return;
  const times = Math.min(MOST, Math.ceil(Math.log2(length + 1)));
  const room = roomOf(layer.data);
  const mark = room?.mark() ?? 0;
  const spare: Rgba = rawLayer(room, wholeOf(layer));
  let [from, to]: [Rgba, Rgba] = [layer, spare];
  for (let k = 1; k <= times; k++) {
    // Instants in the middle of each of 2^times stretches.
    const share = 0.5 ** (k + 1);
    meanOfTwo(to, from, [motion(share), motion(-share)]);
    [from, to] = [to, from];
  }
  if (from === spare) layer.data.set(spare.data);
  room?.release(mark);
}
