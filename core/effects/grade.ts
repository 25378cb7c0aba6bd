import { LUMA } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { roomOf } from '../wasm/room.ts';
import { defineEffect } from './effect.ts';
import { gainOf } from './settings.ts';

export const gradeEffect = defineEffect({
  id: 'grade',
  label: 'Exposure and saturation',
  about: 'Brighter or darker in stops, more or less colour.',
  settings: {
    exposure: {
      kind: 'number',
      label: 'Exposure',
      about: 'One stop is twice or half the light; 0 changes nothing.',
      unit: 'stops',
      min: -8,
      max: 8,
      step: 0.05,
      start: 0,
    },
    saturation: { kind: 'number', label: 'Saturation', about: '100 leaves the colours, 0 takes them out.', unit: '%', min: 0, max: 400, step: 1, start: 100 },
  },
  render({ data }, values) {
    const gain = gainOf(values.exposure);
    const saturation = values.saturation / 100;
    const room = roomOf(data);
    if (room) {
      room.kernels.gradePixels(data.byteOffset, data.length / 4, gain, saturation, ...LUMA);
      return;
    }
    for (let i = 0; i < data.length; i += 4) {
      const a = data[i + 3];
      const r = data[i] * gain;
      const g = data[i + 1] * gain;
      const b = data[i + 2] * gain;
      const y = LUMA[0] * r + LUMA[1] * g + LUMA[2] * b;
      data[i] = clamp(y + (r - y) * saturation, 0, a);
      data[i + 1] = clamp(y + (g - y) * saturation, 0, a);
      data[i + 2] = clamp(y + (b - y) * saturation, 0, a);
    }
  },
});
