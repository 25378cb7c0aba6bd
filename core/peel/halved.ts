/** Pictures of half the size, for what changes slowly from place to place. */
import type { Size } from '../image/picture.ts';

export const HALF = 2;

/** The mean of each square of four, of one of so many channels. */
export function halved(data: Float32Array, { width, height }: Size, channels = 1, channel = 0): Float32Array {
  const [w, h] = [Math.floor(width / HALF), Math.floor(height / HALF)];
  const out = new Float32Array(w * h);
  const row = width * channels;
  for (let y = 0; y < h; y++) {
    let i = HALF * y * row + channel;
    for (let x = 0; x < w; x++, i += HALF * channels) out[y * w + x] = (data[i] + data[i + channels] + data[i + row] + data[i + row + channels]) / 4;
  }
  return out;
}
