import { lumaAt } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { defineEffect } from './effect.ts';
import { number, SEED } from './settings.ts';

/** A number in [0,1) for a place of a lattice, the same everywhere (B. Jenkins' one-at-a-time mixing of its coordinates). */
function hashed(x: number, y: number, z: number): number {
  let h = Math.imul(x, 0x8da6b343) ^ Math.imul(y, 0xd8163841) ^ Math.imul(z, 0xcb1ab31f);
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d);
  h = Math.imul(h ^ (h >>> 12), 0x297a2d39);
  return ((h ^ (h >>> 15)) >>> 0) / 4294967296;
}

/** About normally spread, of variance 1: the sum of three even ones (Irwin and Hall). */
const normal = (x: number, y: number, z: number): number => 2 * (hashed(x, y, z) + hashed(x, y, z + 977) + hashed(x, y, z + 1831) - 1.5);

export const grainEffect = defineEffect({
  id: 'grain',
  label: 'Grain',
  about: 'The noise of film or a sensor, new on each frame; as strong as that of the plate where it is measured.',
  measures: 'grain',
  settings: {
    strength: number('Strength', 'How far values stray (standard deviation).', '%', [0, 50, 0.05], 2, [0, 10]),
    size: number('Size', 'How large a grain is.', 'px', [0.5, 50, 0.1], 1, [0.5, 6]),
    colour: number('Colour', 'How much red, green and blue stray apart; 0 is grey.', '%', [0, 100, 1], 40),
    dark: number('In the dark', 'How strong it is in black, against the middle.', '%', [0, 200, 1], 60),
    bright: number('In the bright', 'How strong it is in white, against the middle.', '%', [0, 200, 1], 60),
    seed: SEED,
  },
  render({ data, width, height }, v, { scale, frame, left, top }) {
    const cell = Math.max(1, v.size * scale);
    // A smaller picture is the mean of several grains a pixel.
    const strength = (v.strength / 100) * Math.min(1, v.size * scale);
    if (strength === 0) return;
    const own = v.colour / 100;
    const z = Math.imul(frame + 1, 7919) + Math.imul(Math.round(v.seed) + 1, 104_729);
    const [dark, bright] = [v.dark / 100, v.bright / 100];
    const grain = new Float64Array(4);
    for (let y = 0, i = 0; y < height; y++) {
      const gy = (y + top) / cell;
      const y0 = Math.floor(gy);
      const fy = cell === 1 ? 0 : gy - y0;
      for (let x = 0; x < width; x++, i += 4) {
        const a = data[i + 3];
        if (a <= 0) continue;
        const gx = (x + left) / cell;
        const x0 = Math.floor(gx);
        const fx = cell === 1 ? 0 : gx - x0;
        for (let k = 0; k < 4; k++) {
          if ((k < 3 && own === 0) || (k === 3 && own === 1)) continue;
          const zk = z + 3571 * k;
          let n = normal(x0, y0, zk);
          if (cell > 1) {
            // Between four of the lattice, as strong as they are.
            const weight = Math.sqrt((fx * fx + (1 - fx) * (1 - fx)) * (fy * fy + (1 - fy) * (1 - fy)));
            const upper = n * (1 - fx) + normal(x0 + 1, y0, zk) * fx;
            const lower = normal(x0, y0 + 1, zk) * (1 - fx) + normal(x0 + 1, y0 + 1, zk) * fx;
            n = (upper * (1 - fy) + lower * fy) / weight;
          }
          grain[k] = n;
        }
        const luma = clamp(lumaAt(data, i) / a, 0, 1);
        const here = strength * a * (luma < 0.5 ? dark + (1 - dark) * 2 * luma : 1 + (bright - 1) * (2 * luma - 1));
        for (let k = 0; k < 3; k++) {
          const n = own === 0 ? grain[3] : own === 1 ? grain[k] : Math.sqrt(1 - own * own) * grain[3] + own * grain[k];
          data[i + k] = clamp(data[i + k] + here * n, 0, a);
        }
      }
    }
  },
});
