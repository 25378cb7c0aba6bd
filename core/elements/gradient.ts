/** Colours that go into one another over the picture, between two ends. */
import { choice, number, stops, type ValuesOf } from '../effects/settings.ts';
import type { Rgba } from '../image/picture.ts';
import { coloursOf } from '../image/stops.ts';
import { STEPS } from '../math/curve.ts';
import { defineFree, type Scene } from './element.ts';
import { endOn, endsAt, TWO_ENDS, twoEnds } from './place.ts';

const SETTINGS = {
  ...TWO_ENDS,
  form: choice('Form', 'Which way the colours go.', { linear: 'From end to end', radial: 'Outwards, a circle', round: 'Round the first end' }),
  colours: stops('Colours', 'From the first end on the left to the second on the right.', [0, 0.1, 0.22, 0.3, 1, 1, 0.86, 0.66, 0.42, 1]),
  repeats: choice('Beyond', 'What is seen beyond the ends.', { hold: 'The last colour', again: 'The colours again', mirror: 'The colours back' }),
  shift: number('Shift', 'How far the colours are moved along.', '%', [-10_000, 10_000, 0.5], 0, [-100, 100]),
} as const;
type V = ValuesOf<typeof SETTINGS>;

/** A place along the gradient within [0,1]. */
function within(t: number, repeats: V['repeats']): number {
  if (repeats === 'hold') return t < 0 ? 0 : Math.min(1, t);
  const cut = t - Math.floor(t);
  return repeats === 'again' || Math.floor(t) % 2 === 0 ? cut : 1 - cut;
}

async function render({ data, width, height }: Rgba, scene: Scene<V>): Promise<void> {
  const { values } = scene;
  const [ax, ay] = endOn(scene, 'fromX', 'fromY');
  const [bx, by] = endOn(scene, 'toX', 'toY');
  const [dx, dy] = [bx - ax, by - ay];
  const length = Math.max(1e-3, Math.hypot(dx, dy));
  const first = Math.atan2(dy, dx);
  const table = coloursOf(values.colours);
  const shift = values.shift / 100;
  const { form, repeats } = values;
  for (let y = 0, o = 0; y < height; y++)
    for (let x = 0; x < width; x++, o += 4) {
      const px = x + 0.5 - ax;
      const py = y + 0.5 - ay;
      const t =
        form === 'linear'
          ? (px * dx + py * dy) / (length * length)
          : form === 'radial'
            ? Math.sqrt(px * px + py * py) / length
            : (Math.atan2(py, px) - first) / (2 * Math.PI) + 1;
      // Round, there is no beyond.
      const s = 4 * Math.round(within(t - shift, form === 'round' ? 'again' : repeats) * STEPS);
      data[o] = table[s];
      data[o + 1] = table[s + 1];
      data[o + 2] = table[s + 2];
      data[o + 3] = table[s + 3];
    }
}

export const gradientElement = defineFree({
  id: 'gradient',
  label: 'Gradient',
  about: 'Any number of colours, with alpha, from one end to another.',
  has: null,
  settings: SETTINGS,
  ends: twoEnds('First end', 'Second end'),
  startsOn: ({ width, height }) => endsAt(width / 2, 0, width / 2, height),
  render,
});
