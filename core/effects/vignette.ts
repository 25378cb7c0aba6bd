import { clamp, smoothstep } from '../math/clamp.ts';
import { defineEffect } from './effect.ts';
import { gainOf, number, POINT } from './settings.ts';

export const vignetteEffect = defineEffect({
  id: 'vignette',
  label: 'Vignette',
  about: 'Darker, or brighter, towards the corners of the picture.',
  placed: true,
  settings: {
    ...POINT,
    exposure: number('At the corners', 'Brighter or darker there, in stops.', 'stops', [-8, 8, 0.05], -1.5, [-4, 2]),
    inner: number('Begins', 'Where it begins, as a share of the way from the place to the corners.', '%', [0, 100, 1], 40),
    round: number('Roundness', '100 is a circle, 0 goes with the sides of the picture.', '%', [0, 100, 1], 40),
  },
  render({ data, width, height }, values, { at, left, top, whole }) {
    const [cx, cy] = at(values.x, values.y);
    // The farthest corner tells how far the way is.
    const [wide, high] = [Math.max(cx + left, whole.width - cx - left), Math.max(cy + top, whole.height - cy - top)];
    const round = values.round / 100;
    const far = Math.hypot(wide, high);
    const [rx, ry] = [wide * Math.SQRT2 + (far - wide * Math.SQRT2) * round, high * Math.SQRT2 + (far - high * Math.SQRT2) * round];
    const inner = values.inner / 100;
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i += 4) {
        const dx = (x + 0.5 - cx) / rx;
        const dy = (y + 0.5 - cy) / ry;
        const t = clamp((Math.sqrt(dx * dx + dy * dy) - inner) / Math.max(1e-3, 1 - inner), 0, 1);
        if (t === 0) continue;
        const gain = gainOf(values.exposure * smoothstep(t));
        for (let k = i; k < i + 3; k++) data[k] = Math.min(data[i + 3], data[k] * gain);
      }
  },
});
