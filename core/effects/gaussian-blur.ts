import { gaussianBlur } from '../image/gaussian.ts';
import { defineEffect } from './effect.ts';

export const gaussianBlurEffect = defineEffect({
  id: 'gaussian-blur',
  label: 'Gaussian blur',
  about: 'Softens, with its own amount across and down.',
  settings: {
    x: { kind: 'number', label: 'Across', about: 'How far it softens from left to right.', unit: 'px', min: 0, max: 200, step: 0.5, start: 8 },
    y: { kind: 'number', label: 'Down', about: 'How far it softens up and down.', unit: 'px', min: 0, max: 200, step: 0.5, start: 8 },
  },
  // Its kernel is cut at three sigma.
  reach: ({ x, y }) => 3 * Math.max(x, y),
  mixes: true,
  render(layer, values, { scale }) {
    gaussianBlur(layer.data, layer.width, layer.height, 4, values.x * scale, values.y * scale);
  },
});
