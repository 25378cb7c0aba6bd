import { alongMotion } from '../image/along-motion.ts';
import { about } from '../math/homography.ts';
import { turned } from '../math/motion.ts';
import { defineEffect } from './effect.ts';
import { number, POINT } from './settings.ts';

export const turningBlurEffect = defineEffect({
  id: 'turning-blur',
  label: 'Turning blur',
  about: 'Softens round a place, as a wheel that turns.',
  placed: true,
  settings: {
    ...POINT,
    angle: number('Angle', 'How far it turns while it is softened.', '°', [0, 360, 0.5], 12, [0, 90]),
  },
  whole: true,
  mixes: true,
  pictures: 1,
  render(layer, values, { at }) {
    const [cx, cy] = at(values.x, values.y);
    const turn = (values.angle * Math.PI) / 180;
    const farthest = Math.hypot(Math.max(cx, layer.width - cx), Math.max(cy, layer.height - cy));
    alongMotion(layer, farthest * turn, (share) => about(cx, cy, turned(share * turn)));
  },
});
