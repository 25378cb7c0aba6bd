/** Fills what is not known of a picture from what lies round it: push-pull (Gortler, Grzeszczuk, Szeliski, Cohen 1996). */
import type { Gray, Rgba } from './picture.ts';

interface Level {
  width: number;
  height: number;
  /** Colour times weight, and the weight, four floats a pixel. */
  data: Float32Array;
}

/** Half as large: colours and weights summed by fours, weights no more than 1. */
function pulled({ width, height, data }: Level): Level {
  const [w, h] = [(width + 1) >> 1, (height + 1) >> 1];
  const out = new Float32Array(w * h * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const o = ((y >> 1) * w + (x >> 1)) * 4;
      const i = (y * width + x) * 4;
      for (let k = 0; k < 4; k++) out[o + k] += data[i + k];
    }
  for (let o = 0; o < out.length; o += 4) {
    const sum = out[o + 3];
    if (sum <= 1) continue;
    for (let k = 0; k < 4; k++) out[o + k] /= sum;
  }
  return { width: w, height: h, data: out };
}

/** What is missing of a level taken from the half as large one, bilinear. */
function pushed(fine: Level, coarse: Level): void {
  const { width, height, data } = fine;
  const at = (x: number, y: number) => (Math.min(coarse.height - 1, Math.max(0, y)) * coarse.width + Math.min(coarse.width - 1, Math.max(0, x))) * 4;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = (y * width + x) * 4;
      const rest = 1 - data[i + 3];
      if (rest <= 0) continue;
      const [cx, cy] = [x >> 1, y >> 1];
      const [nx, ny] = [cx + (x & 1 ? 1 : -1), cy + (y & 1 ? 1 : -1)];
      const four = [at(cx, cy), at(nx, cy), at(cx, ny), at(nx, ny)];
      for (let k = 0; k < 4; k++) {
        const from = 0.5625 * coarse.data[four[0] + k] + 0.1875 * (coarse.data[four[1] + k] + coarse.data[four[2] + k]) + 0.0625 * coarse.data[four[3] + k];
        data[i + k] += rest * from;
      }
    }
}

/** An opaque picture of which only what `unknown` leaves at 0 is taken; the rest goes on from there. Black where nothing is known. */
export function filledIn(picture: Rgba, unknown: Gray): Rgba {
  const { width, height } = picture;
  const data = new Float32Array(width * height * 4);
  for (let p = 0, i = 0; i < data.length; p++, i += 4) {
    if (unknown.data[p] > 0) continue;
    data[i] = picture.data[i];
    data[i + 1] = picture.data[i + 1];
    data[i + 2] = picture.data[i + 2];
    data[i + 3] = 1;
  }
  const levels: Level[] = [{ width, height, data }];
  while (levels[levels.length - 1].width > 1 || levels[levels.length - 1].height > 1) levels.push(pulled(levels[levels.length - 1]));
  for (let k = levels.length - 2; k >= 0; k--) pushed(levels[k], levels[k + 1]);
  for (let i = 0; i < data.length; i += 4) {
    const weight = data[i + 3];
    if (weight > 0 && weight < 1) for (let k = 0; k < 3; k++) data[i + k] /= weight;
    data[i + 3] = 1;
  }
  return { width, height, data };
}
