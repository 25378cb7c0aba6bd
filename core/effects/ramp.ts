import { lumaAt } from '../image/picture.ts';
import { coloursOf } from '../image/stops.ts';
import { clamp } from '../math/clamp.ts';
import { STEPS } from '../math/curve.ts';
import { defineEffect } from './effect.ts';
import { stops } from './settings.ts';

export const rampEffect = defineEffect({
  id: 'ramp',
  label: 'Ramp by luma',
  about: 'Each luma gets a colour of its own.',
  settings: {
    colours: stops('Colours', 'From dark on the left to bright on the right.', [0, 0.07, 0.1, 0.2, 1, 0.5, 0.62, 0.4, 0.32, 1, 1, 0.98, 0.93, 0.8, 1]),
  },
  render({ data }, values) {
    const table = coloursOf(values.colours);
    for (let i = 0; i < data.length; i += 4) {
      const a = data[i + 3];
      if (a <= 0) continue;
      const luma = lumaAt(data, i) / a;
      const s = 4 * Math.round(clamp(luma, 0, 1) * STEPS);
      // Where a colour is see-through, what was there stays.
      for (let k = 0; k < 3; k++) data[i + k] = table[s + k] * a + data[i + k] * (1 - table[s + 3]);
    }
  },
});
