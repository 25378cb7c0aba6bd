import { gaussianBlur } from '../image/gaussian.ts';
import { copyIn } from '../image/in-room.ts';
import { lumaAt } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { roomOf } from '../wasm/room.ts';
import { defineEffect } from './effect.ts';
import { colour, number } from './settings.ts';

export const glowEffect = defineEffect({
  id: 'glow',
  label: 'Glow',
  about: 'What is bright sheds light on what lies round it.',
  settings: {
    radius: number('Radius', 'How far the light spreads.', 'px', [0, 300, 0.5], 16, [0, 100]),
    strength: number('Strength', 'How much light is added.', '%', [0, 400, 1], 80, [0, 200]),
    from: number('From luma', 'What is darker sheds none.', '%', [0, 99, 1], 40),
    tint: colour('Tint', 'White keeps the colour of what glows.', [1, 1, 1]),
  },
  reach: ({ radius }) => 3 * radius,
  mixes: true,
  pictures: 1,
  render(layer, values, { scale }) {
    const { data, width, height } = layer;
    const room = roomOf(data);
    const mark = room?.mark() ?? 0;
    const light = copyIn(room, layer).data;
    const from = values.from / 100;
    for (let i = 0; i < data.length; i += 4) {
      const a = data[i + 3];
      const luma = a > 0 ? lumaAt(data, i) / a : 0;
      const share = clamp((luma - from) / (1 - from), 0, 1);
      for (let k = 0; k < 3; k++) light[i + k] *= share * values.tint[k];
      light[i + 3] *= share;
    }
    const sigma = values.radius * scale;
    gaussianBlur(light, width, height, 4, sigma, sigma);
    const strength = values.strength / 100;
    for (let i = 0; i < data.length; i += 4) {
      const a = data[i + 3];
      // Screened, so that nothing is brighter than white; where there was nothing, the light is what there is.
      const alpha = a + (1 - a) * Math.min(1, light[i + 3] * strength);
      for (let k = i; k < i + 3; k++) {
        const l = Math.min(1, light[k] * strength);
        data[k] = Math.min(alpha, data[k] + l * (1 - data[k]));
      }
      data[i + 3] = alpha;
    }
    room?.release(mark);
  },
});
