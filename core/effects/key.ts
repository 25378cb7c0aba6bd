import { CHROMA, LUMA } from '../image/picture.ts';
import { clamp, smoothstep } from '../math/clamp.ts';
import { defineEffect } from './effect.ts';
import { choice, colour, number } from './settings.ts';

/** Differences of blue and red from luma (ITU-R BT.709), so that light and dark of one colour are alike. */
const chroma = (r: number, g: number, b: number): [number, number] => {
  const y = LUMA[0] * r + LUMA[1] * g + LUMA[2] * b;
  return [(b - y) / CHROMA[0], (r - y) / CHROMA[1]];
};

export const keyEffect = defineEffect({
  id: 'key',
  label: 'Key',
  about: 'Makes see-through what is dark, or what is of one colour.',
  settings: {
    by: choice('By', 'What tells what stays.', { luma: 'Luma', colour: 'Colour' }),
    low: number('Gone up to', 'Of luma: what is as dark as this is gone.', '%', [0, 100, 0.5], 5),
    high: number('There from', 'Of luma: what is as bright as this is there.', '%', [0, 100, 0.5], 40),
    colour: colour('Colour', 'Of colour: the one that goes.', [0.1, 0.6, 0.2]),
    near: number('Nearness', 'How unlike the colour something may be and still go.', '%', [0, 100, 0.5], 12),
    softness: number('Softness', 'Over which unlikeness it comes back.', '%', [0, 100, 0.5], 12),
    inverted: choice('Keeps', 'Which side of it stays.', { rest: 'What is brighter, or unlike', same: 'What is darker, or alike' }),
  },
  cuts: true,
  render({ data }, v) {
    const [low, high] = [v.low / 100, Math.max(v.low + 0.1, v.high) / 100];
    const [cb, cr] = chroma(v.colour[0], v.colour[1], v.colour[2]);
    const [near, soft] = [v.near / 100, Math.max(1e-3, v.softness / 100)];
    for (let i = 0; i < data.length; i += 4) {
      const a = data[i + 3];
      if (a <= 0) continue;
      const [r, g, b] = [data[i] / a, data[i + 1] / a, data[i + 2] / a];
      let t: number;
      if (v.by === 'luma') t = (LUMA[0] * r + LUMA[1] * g + LUMA[2] * b - low) / (high - low);
      else {
        const [pb, pr] = chroma(r, g, b);
        t = (Math.hypot(pb - cb, pr - cr) - near) / soft;
      }
      const there = smoothstep(clamp(t, 0, 1));
      const times = v.inverted === 'same' ? 1 - there : there;
      for (let k = i; k < i + 4; k++) data[k] *= times;
    }
  },
});
