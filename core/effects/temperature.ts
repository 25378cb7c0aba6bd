import { LUMA, lumaAt } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { defineEffect } from './effect.ts';
import { gainOf, number } from './settings.ts';

export const temperatureEffect = defineEffect({
  id: 'temperature',
  label: 'Temperature and tint',
  about: 'Warmer or cooler, greener or more magenta, as bright as before.',
  settings: {
    temperature: number('Temperature', 'Above 0 warmer, below 0 cooler.', '%', [-100, 100, 1], 0),
    tint: number('Tint', 'Above 0 more magenta, below 0 greener.', '%', [-100, 100, 1], 0),
  },
  render({ data }, values) {
    // A whole stop between red and blue at the end of the range, and between green and both others.
    const [warm, magenta] = [values.temperature / 200, values.tint / 300];
    const gains = [gainOf(warm + magenta), gainOf(-2 * magenta), gainOf(-warm + magenta)];
    for (let i = 0; i < data.length; i += 4) {
      const a = data[i + 3];
      const [r, g, b] = [data[i] * gains[0], data[i + 1] * gains[1], data[i + 2] * gains[2]];
      const before = lumaAt(data, i);
      const after = LUMA[0] * r + LUMA[1] * g + LUMA[2] * b;
      const times = after > 0 ? before / after : 1;
      data[i] = clamp(r * times, 0, a);
      data[i + 1] = clamp(g * times, 0, a);
      data[i + 2] = clamp(b * times, 0, a);
    }
  },
});
