import { gaussianBlur } from '../image/gaussian.ts';
import { copyIn } from '../image/in-room.ts';
import { clamp } from '../math/clamp.ts';
import { roomOf } from '../wasm/room.ts';
import { defineEffect } from './effect.ts';
import { number } from './settings.ts';

export const sharpenEffect = defineEffect({
  id: 'sharpen',
  label: 'Sharpen',
  about: 'Makes what differs from its surroundings differ more (unsharp masking).',
  settings: {
    radius: number('Radius', 'How large the surroundings are.', 'px', [0.1, 100, 0.1], 1.5, [0.1, 20]),
    amount: number('Amount', 'How much more it differs; 0 changes nothing.', '%', [0, 500, 1], 80, [0, 200]),
    above: number('Above', 'Smaller differences, such as grain, are left as they are.', '%', [0, 100, 0.5], 0, [0, 20]),
  },
  pictures: 1,
  render(layer, values, { scale }) {
    const { data, width, height } = layer;
    const room = roomOf(data);
    const mark = room?.mark() ?? 0;
    const soft = copyIn(room, layer).data;
    const sigma = values.radius * scale;
    gaussianBlur(soft, width, height, 4, sigma, sigma);
    const [amount, above] = [values.amount / 100, values.above / 100];
    for (let i = 0; i < data.length; i += 4) {
      const a = data[i + 3];
      // Against the colour round it, whatever the alpha there is: an outline is no edge.
      const grows = soft[i + 3] > 0 ? a / soft[i + 3] : 0;
      if (grows === 0) continue;
      for (let k = 0; k < 3; k++) {
        const differs = data[i + k] - soft[i + k] * grows;
        if (Math.abs(differs) > above * a) data[i + k] = clamp(data[i + k] + amount * (differs - Math.sign(differs) * above * a), 0, a);
      }
    }
    room?.release(mark);
  },
});
