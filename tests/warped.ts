/** Pictures whose motion is known: a surface of smooth noise, seen through a homography. */

import type { Gray, Size } from '../core/image/picture.ts';
import { applyTo, type Homography, inverseOf } from '../core/math/homography.ts';
import { randomFrom } from '../core/math/random.ts';
import { fractalNoise } from '../demo/noise.ts';

export type Surface = (x: number, y: number) => number;

/** Grey levels round 128, with detail from `grain` pixels on upwards. */
export const noiseSurface =
  (seed: number, grain = 6, contrast = 170): Surface =>
  (x, y) =>
    128 + contrast * (fractalNoise(x / grain / 8 + 500, y / grain / 8 + 500, seed, 4) - 0.5);

/** The surface as it looks after `motion` (from its own coordinates to the picture's): the mean of four samples a pixel. */
export function seenThrough(surface: Surface, motion: Homography, { width, height }: Size): Gray {
  const back = inverseOf(motion) as number[];
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (const [dx, dy] of [
        [0.25, 0.25],
        [0.75, 0.25],
        [0.25, 0.75],
        [0.75, 0.75],
      ]) {
        const [u, v] = applyTo(back, x + dx, y + dy);
        sum += surface(u, v);
      }
      data[y * width + x] = sum / 4;
    }
  return { width, height, data };
}

/** Light times gain plus offset, grain of a standard deviation of about `noise` grey levels, rounded to bytes. */
export function asFilmed({ width, height, data }: Gray, { gain = 1, offset = 0, noise = 1, seed = 1 }): Gray {
  const random = randomFrom(seed);
  const out = data.map((v) => Math.max(0, Math.min(255, Math.round(v * gain + offset + noise * 2 * (random() + random() + random() - 1.5)))));
  return { width, height, data: out };
}
