import { remapTurned, SIDES } from '../image/remap.ts';
import { fractal, noiseOf } from '../math/noise.ts';
import { defineEffect } from './effect.ts';
import { choice, number, SEED } from './settings.ts';

export const shakeEffect = defineEffect({
  id: 'shake',
  label: 'Shake',
  about: 'Moves and turns the picture about, as a camera that is held by hand or hit.',
  settings: {
    across: number('Across', 'How far it goes to the left and right.', 'px', [0, 2000, 0.5], 12, [0, 100]),
    down: number('Down', 'How far it goes up and down.', 'px', [0, 2000, 0.5], 12, [0, 100]),
    turn: number('Turn', 'How far it turns.', '°', [0, 90, 0.1], 0.5, [0, 10]),
    rate: number('Swings', 'How often in a second it goes to and fro.', '/s', [0, 60, 0.1], 4, [0, 15]),
    roughness: number('Roughness', 'How many quicker and smaller swings go with each.', '', [1, 6, 1], 2),
    sides: choice('Sides', 'What comes in from the sides of the picture.', SIDES),
    seed: SEED,
  },
  whole: true,
  render(layer, v, { scale, sum, rate, left, top, whole }) {
    const time = sum('rate') / rate;
    const at = (k: number) => 1.6 * fractal(noiseOf(v.seed), Math.round(v.roughness), time + 31.7 * k, 7.3 * k, 0.5);
    const [moveX, moveY, turn] = [at(1) * v.across * scale, at(2) * v.down * scale, (at(3) * v.turn * Math.PI) / 180];
    if (moveX === 0 && moveY === 0 && turn === 0) return;
    remapTurned(layer, v.sides, { aboutX: whole.width / 2 - left, aboutY: whole.height / 2 - top, turn, scale: 1, moveX, moveY });
  },
});
