import { alongMotion } from '../image/along-motion.ts';
import { about, scaling } from '../math/homography.ts';
import { defineEffect } from './effect.ts';
import { number, POINT } from './settings.ts';

export const zoomBlurEffect = defineEffect({
  id: 'zoom-blur',
  label: 'Zoom blur',
  about: 'Softens towards and away from a place, as a camera that rushes there.',
  placed: true,
  settings: {
    ...POINT,
    amount: number('Amount', 'How much larger the picture grows while it is softened.', '%', [0, 400, 0.5], 15, [0, 100]),
  },
  whole: true,
  mixes: true,
  pictures: 1,
  render(layer, values, { at }) {
    const [cx, cy] = at(values.x, values.y);
    const grows = Math.log(1 + values.amount / 100);
    const farthest = Math.hypot(Math.max(cx, layer.width - cx), Math.max(cy, layer.height - cy));
    alongMotion(layer, farthest * grows, (share) => {
      const by = Math.exp(share * grows);
      return about(cx, cy, scaling(by, by));
    });
  },
});
