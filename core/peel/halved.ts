/** Pictures of half the size, for what changes slowly from place to place. */
import type { Size } from '../image/picture.ts';
import type { LabPicture } from './lab.ts';

export const HALF = 2;

/** The mean of each square of four. */
export function halved(data: Float32Array, { width, height }: Size): Float32Array {
  const [w, h] = [Math.floor(width / HALF), Math.floor(height / HALF)];
  const out = new Float32Array(w * h);
  for (let y = 0; y < h; y++) {
    let i = HALF * y * width;
    for (let x = 0; x < w; x++, i += HALF) out[y * w + x] = (data[i] + data[i + 1] + data[i + width] + data[i + width + 1]) / 4;
  }
  return out;
}

/** The mean colour of each square of four, four floats each, the last of them 1. */
export function halvedColours({ width, height, lab }: LabPicture, out: Float32Array): void {
  const [w, h] = [Math.floor(width / HALF), Math.floor(height / HALF)];
  const row = 3 * width;
  for (let y = 0; y < h; y++) {
    let i = HALF * y * row;
    for (let to = 4 * y * w; to < 4 * (y + 1) * w; to += 4, i += 6) {
      for (let c = 0; c < 3; c++) out[to + c] = (lab[i + c] + lab[i + c + 3] + lab[i + c + row] + lab[i + c + row + 3]) / 4;
      out[to + 3] = 1;
    }
  }
}
