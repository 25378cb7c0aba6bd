import { defineEffect } from './effect.ts';
import { number } from './settings.ts';

export const pixelateEffect = defineEffect({
  id: 'pixelate',
  label: 'Pixelate',
  about: 'Squares of one colour, each the mean of what is in it.',
  settings: { size: number('Size', 'How wide and high a square is.', 'px', [1, 2000, 1], 16, [1, 100]) },
  reach: ({ size }) => size,
  mixes: true,
  render({ data, width, height }, values, { scale, left, top }) {
    const size = values.size * scale;
    if (size < 1.5) return;
    const sum = new Float64Array(4);
    // Squares are told from the left top corner of the picture, wherever the layer begins.
    for (let row = Math.floor(top / size); row * size - top < height; row++) {
      const [y0, y1] = [Math.max(0, Math.round(row * size) - top), Math.min(height, Math.round((row + 1) * size) - top)];
      for (let column = Math.floor(left / size); column * size - left < width; column++) {
        const [x0, x1] = [Math.max(0, Math.round(column * size) - left), Math.min(width, Math.round((column + 1) * size) - left)];
        const count = (x1 - x0) * (y1 - y0);
        if (count <= 0) continue;
        sum.fill(0);
        for (let y = y0; y < y1; y++) for (let i = 4 * (y * width + x0); i < 4 * (y * width + x1); i++) sum[i & 3] += data[i];
        for (let k = 0; k < 4; k++) sum[k] /= count;
        for (let y = y0; y < y1; y++) for (let i = 4 * (y * width + x0); i < 4 * (y * width + x1); i++) data[i] = sum[i & 3];
      }
    }
  },
});
