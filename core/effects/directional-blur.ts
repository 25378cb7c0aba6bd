import { alongMotion } from '../image/along-motion.ts';
import { defineEffect } from './effect.ts';
import { angle, number } from './settings.ts';

export const directionalBlurEffect = defineEffect({
  id: 'directional-blur',
  label: 'Directional blur',
  about: 'Softens along one direction, as a camera that moves past.',
  settings: {
    angle: angle('Angle', 'The direction of the blur; 90 is up and down.'),
    length: number('Length', 'How far each point is drawn out.', 'px', [0, 2000, 1], 40, [0, 300]),
  },
  aim: { angle: 'angle', length: 'length' },
  reach: ({ length }) => length / 2,
  mixes: true,
  pictures: 1,
  render(layer, values, { scale }) {
    const turn = (values.angle * Math.PI) / 180;
    const length = values.length * scale;
    const [dx, dy] = [Math.cos(turn) * length, Math.sin(turn) * length];
    // Far steps go by whole pixels: between them each would soften it a little across the direction too.
    const step = (by: number) => (Math.abs(by) > 2 ? Math.round(by) : by);
    alongMotion(layer, length, (share) => [1, 0, step(share * dx), 0, 1, step(share * dy), 0, 0, 1]);
  },
});
