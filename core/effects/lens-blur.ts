import { discBlur } from '../image/disc.ts';
import { lumaAt } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { defineEffect } from './effect.ts';
import { gainOf, number } from './settings.ts';

export const lensBlurEffect = defineEffect({
  id: 'lens-blur',
  label: 'Lens blur',
  about: 'Out of focus: each point becomes a disc, and bright ones shine through as such.',
  settings: {
    radius: number('Radius', 'Of the disc that a point becomes.', 'px', [0, 200, 0.5], 10, [0, 60]),
    bloom: number('Highlights', 'How much brighter highlights are before they are spread.', 'stops', [0, 8, 0.1], 0),
    from: number('From luma', 'From which luma on something is a highlight.', '%', [0, 99, 1], 80),
  },
  reach: ({ radius }) => radius,
  mixes: true,
  pictures: 1,
  render(layer, values, { scale }) {
    const { data } = layer;
    if (values.bloom > 0) {
      const gain = gainOf(values.bloom) - 1;
      const from = values.from / 100;
      for (let i = 0; i < data.length; i += 4) {
        const a = data[i + 3];
        if (a <= 0) continue;
        const luma = lumaAt(data, i) / a;
        const times = 1 + gain * clamp((luma - from) / (1 - from), 0, 1);
        for (let k = i; k < i + 3; k++) data[k] *= times;
      }
    }
    discBlur(layer, values.radius * scale);
    if (values.bloom > 0) for (let i = 0; i < data.length; i += 4) for (let k = i; k < i + 3; k++) data[k] = Math.min(data[k], data[i + 3]);
  },
});
