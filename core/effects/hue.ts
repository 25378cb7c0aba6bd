import { clamp, smoothstep } from '../math/clamp.ts';
import { fromHsl, toHsl } from '../math/hue.ts';
import { defineEffect } from './effect.ts';
import { number } from './settings.ts';

export const hueEffect = defineEffect({
  id: 'hue',
  label: 'Hue, saturation, lightness',
  about: 'Turns, strengthens or lightens colours, all of them or those of some hues alone.',
  settings: {
    turn: number('Turn', 'How far hues go round the colour wheel.', '°', [-360, 360, 1], 0, [-180, 180]),
    saturation: number('Saturation', '100 leaves it, 0 takes colours out.', '%', [0, 400, 1], 100, [0, 200]),
    lightness: number('Lightness', 'Towards white above 0, towards black below.', '%', [-100, 100, 1], 0),
    middle: number('Of hue', 'The hue in the middle of those that change: 0 red, 120 green, 240 blue.', '°', [0, 360, 1], 0),
    range: number('Range', 'How many degrees of hue change; 360 is all of them.', '°', [0, 360, 1], 360),
    fade: number('Fade', 'Degrees of hue beyond those, over which the change fades.', '°', [0, 180, 1], 30),
  },
  render({ data }, values) {
    const [turn, saturation, lightness] = [values.turn / 360, values.saturation / 100, values.lightness / 100];
    const [half, fade] = [values.range / 2, Math.max(0.01, values.fade)];
    const hsl = new Float64Array(3);
    const rgb = new Float64Array(3);
    for (let i = 0; i < data.length; i += 4) {
      const a = data[i + 3];
      if (a <= 0) continue;
      toHsl(clamp(data[i] / a, 0, 1), clamp(data[i + 1] / a, 0, 1), clamp(data[i + 2] / a, 0, 1), hsl);
      const away = Math.abs(((hsl[0] * 360 - values.middle + 540) % 360) - 180);
      let share = away <= half ? 1 : smoothstep(clamp(1 - (away - half) / fade, 0, 1));
      // What has no colour has no hue: it changes with all of them only.
      if (half < 180) share *= clamp(hsl[1] * 10, 0, 1);
      if (share === 0) continue;
      const light = lightness > 0 ? hsl[2] + (1 - hsl[2]) * lightness : hsl[2] * (1 + lightness);
      fromHsl(hsl[0] + turn, clamp(hsl[1] * saturation, 0, 1), light, rgb);
      for (let k = 0; k < 3; k++) data[i + k] = clamp(data[i + k] + (rgb[k] * a - data[i + k]) * share, 0, a);
    }
  },
});
