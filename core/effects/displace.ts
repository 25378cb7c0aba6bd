import { remap, SIDES } from '../image/remap.ts';
import { fractal, noiseOf } from '../math/noise.ts';
import { defineEffect } from './effect.ts';
import { choice, number, SEED } from './settings.ts';

export const displaceEffect = defineEffect({
  id: 'displace',
  label: 'Displace',
  about: 'Moves each pixel aside, by noise or by how bright a matte is there.',
  matteMoves: true,
  settings: {
    across: number('Across', 'How far pixels go to the left and right at most.', 'px', [-2000, 2000, 0.5], 20, [-200, 200]),
    down: number('Down', 'How far pixels go up and down at most.', 'px', [-2000, 2000, 0.5], 20, [-200, 200]),
    size: number('Size', 'Of the noise: how large its forms are. A matte has its own.', 'px', [1, 4000, 1], 60, [2, 400]),
    octaves: number('Octaves', 'How many finer forms are in the noise.', '', [1, 8, 1], 2),
    rise: number('Rises', 'How fast the noise goes up.', 'px/s', [-5000, 5000, 1], 0, [-500, 500]),
    change: number('Changes', 'How fast the noise becomes another one.', '/s', [0, 30, 0.05], 0.5, [0, 5]),
    sides: choice('Sides', 'What comes in from the sides of the picture.', SIDES),
    seed: SEED,
  },
  reach: (v) => Math.max(Math.abs(v.across), Math.abs(v.down)),
  render(layer, v, { scale, sum, rate, left, top, matte }) {
    const [across, down] = [v.across * scale, v.down * scale];
    if (matte) {
      remap(layer, v.sides, (x, y, place) => {
        const p = Math.min(matte.height - 1, Math.floor(y) + top) * matte.width + Math.min(matte.width - 1, Math.floor(x) + left);
        // A middle grey moves nothing.
        const by = 2 * matte.data[p] - 1;
        place[0] = x - by * across;
        place[1] = y - by * down;
      });
      return;
    }
    const noise = noiseOf(v.seed);
    const cell = v.size * scale;
    const octaves = Math.round(v.octaves);
    const risen = (sum('rise') / rate) * scale;
    const time = sum('change') / rate;
    remap(layer, v.sides, (x, y, place) => {
      const nx = (x + left) / cell;
      const ny = (y + top + risen) / cell;
      if (across !== 0) place[0] = x - across * fractal(noise, octaves, nx, ny, time);
      else place[0] = x;
      if (down !== 0) place[1] = y - down * fractal(noise, octaves, nx + 71.7, ny + 13.1, time);
      else place[1] = y;
    });
  },
});
