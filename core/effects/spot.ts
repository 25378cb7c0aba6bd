import { clamp, smoothstep } from '../math/clamp.ts';
import { defineEffect } from './effect.ts';
import { gainOf, POINT } from './settings.ts';

export const spotEffect = defineEffect({
  id: 'spot',
  label: 'Spot',
  about: 'Brighter or darker round a place, which can follow a track.',
  placed: true,
  settings: {
    ...POINT,
    radius: {
      kind: 'number',
      label: 'Radius',
      about: 'How far the spot reaches from its middle.',
      unit: 'px',
      min: 0,
      max: 10_000,
      step: 1,
      start: 140,
      usual: [0, 800],
    },
    softness: { kind: 'number', label: 'Softness', about: 'How much of the radius the change fades over.', unit: '%', min: 0, max: 100, step: 1, start: 70 },
    exposure: {
      kind: 'number',
      label: 'Inside',
      about: 'Brighter or darker inside, in stops; 0 changes nothing.',
      unit: 'stops',
      min: -8,
      max: 8,
      step: 0.05,
      start: 0,
    },
    around: {
      kind: 'number',
      label: 'Around',
      about: 'Brighter or darker outside, in stops; 0 changes nothing.',
      unit: 'stops',
      min: -8,
      max: 8,
      step: 0.05,
      start: 0,
    },
  },
  render({ data, width, height }, values, { scale, at }) {
    const [cx, cy] = at(values.x, values.y);
    const radius = Math.max(0.5, values.radius * scale);
    const inner = radius * (1 - values.softness / 100);
    const [inside, around] = [values.exposure, values.around];
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const dx = x + 0.5 - cx;
        const dy = y + 0.5 - cy;
        const far = Math.sqrt(dx * dx + dy * dy);
        // At least over a pixel, so that a hard edge is not jagged.
        const t = clamp((radius + 0.5 - far) / Math.max(1, radius - inner), 0, 1);
        const stops = around + (inside - around) * smoothstep(t);
        if (stops === 0) continue;
        const gain = gainOf(stops);
        const i = (y * width + x) * 4;
        for (let k = i; k < i + 3; k++) data[k] = Math.min(data[i + 3], data[k] * gain);
      }
  },
});
