import { pixelWithin } from '../image/remap.ts';
import { defineEffect } from './effect.ts';
import { number } from './settings.ts';

const across = (of: string) => number(`${of} across`, `How far ${of.toLowerCase()} is moved to the right.`, 'px', [-500, 500, 0.5], 0, [-40, 40]);
const down = (of: string) => number(`${of} down`, `How far ${of.toLowerCase()} is moved down.`, 'px', [-500, 500, 0.5], 0, [-40, 40]);

export const channelOffsetEffect = defineEffect({
  id: 'channel-offset',
  label: 'Channel offset',
  about: 'Red, green and blue part from one another.',
  settings: {
    redX: { ...across('Red'), start: -4 },
    redY: down('Red'),
    greenX: across('Green'),
    greenY: down('Green'),
    blueX: { ...across('Blue'), start: 4 },
    blueY: down('Blue'),
  },
  reach: (v) => Math.max(...[v.redX, v.redY, v.greenX, v.greenY, v.blueX, v.blueY].map(Math.abs)),
  render({ data, width, height }, v, { scale }) {
    const from = data.slice();
    const moves = [
      [v.redX, v.redY],
      [v.greenX, v.greenY],
      [v.blueX, v.blueY],
    ].map(([x, y]) => [Math.round(x * scale), Math.round(y * scale)]);
    for (let y = 0, o = 0; y < height; y++)
      for (let x = 0; x < width; x++, o += 4) {
        let alpha = from[o + 3];
        for (let k = 0; k < 3; k++) {
          const s = 4 * (pixelWithin(y - moves[k][1], height, 'hold') * width + pixelWithin(x - moves[k][0], width, 'hold'));
          data[o + k] = from[s + k];
          alpha = Math.max(alpha, from[s + 3]);
        }
        data[o + 3] = alpha;
      }
  },
});
