import { lumaAt } from '../image/picture.ts';
import { defineEffect } from './effect.ts';

export const monochromeEffect = defineEffect({
  id: 'monochrome',
  label: 'Monochrome',
  about: 'Takes the colour out, leaving the luma, with a tint of your choice.',
  settings: { tint: { kind: 'colour', label: 'Tint', about: 'White gives plain grey; another colour tints it.', start: [1, 1, 1] } },
  render({ data }, values) {
    const [red, green, blue] = values.tint;
    for (let i = 0; i < data.length; i += 4) {
      const y = lumaAt(data, i);
      data[i] = y * red;
      data[i + 1] = y * green;
      data[i + 2] = y * blue;
    }
  },
});
