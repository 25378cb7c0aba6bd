import { gaussianBlur } from '../image/gaussian.ts';
import { newRgba } from '../image/picture.ts';
import { defineEffect } from './effect.ts';
import { number } from './settings.ts';

export const lightWrapEffect = defineEffect({
  id: 'light-wrap',
  label: 'Light wrap',
  about: 'Light of what is behind comes round the edge of a subject or an element.',
  settings: {
    width: number('Width', 'How far the light comes in.', 'px', [0, 300, 0.5], 10, [0, 60]),
    strength: number('Strength', 'How much light comes in.', '%', [0, 400, 1], 100, [0, 200]),
  },
  sees: 'behind',
  mixes: true,
  render({ data, width, height }, v, { scale, left, top, behind }) {
    if (!behind) return;
    const sigma = v.width * scale;
    const margin = Math.ceil(3 * sigma);
    // What is behind, where nothing of this covers it, as far round the layer as its light reaches.
    const light = newRgba(width + 2 * margin, height + 2 * margin);
    const { picture, matte } = behind;
    const mostX = picture.width - 1;
    const mostY = picture.height - 1;
    for (let y = 0, o = 0; y < light.height; y++) {
      const py = y - margin + top;
      const cy = py < 0 ? 0 : Math.min(py, mostY);
      const by = cy * picture.width;
      const ly = cy - top;
      for (let x = 0; x < light.width; x++, o += 4) {
        const px = x - margin + left;
        const cx = px < 0 ? 0 : Math.min(px, mostX);
        const p = by + cx;
        const lx = cx - left;
        const covered = matte ? matte.data[p] : lx >= 0 && ly >= 0 && lx < width && ly < height ? data[4 * (ly * width + lx) + 3] : 0;
        const free = 1 - covered;
        for (let k = 0; k < 3; k++) light.data[o + k] = picture.data[4 * p + k] * free;
        light.data[o + 3] = free;
      }
    }
    gaussianBlur(light.data, light.width, light.height, 4, sigma, sigma);
    const strength = v.strength / 100;
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0, o = 4 * ((y + margin) * light.width + margin); x < width; x++, i += 4, o += 4) {
        const a = data[i + 3];
        if (a <= 0) continue;
        for (let k = 0; k < 3; k++) {
          // Screened onto the colour.
          const l = Math.min(1, light.data[o + k] * strength);
          data[i + k] += l * (a - data[i + k]);
        }
      }
  },
});
