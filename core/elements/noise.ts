/** Noise: clouds, smoke, water, fire. */
import { number, SEED, stops, sumOf, type ValuesOf } from '../effects/settings.ts';
import type { Rgba } from '../image/picture.ts';
import { coloursOf } from '../image/stops.ts';
import { clamp } from '../math/clamp.ts';
import { STEPS } from '../math/curve.ts';
import { fractal, noiseOf } from '../math/noise.ts';
import { framesPerSecond } from '../time/rate.ts';
import { definePlaced, type PlacedScene } from './element.ts';
import { coverage, overOwnPlaces } from './paint.ts';

const SETTINGS = {
  width: number('Width', 'Of the field that is filled.', 'px', [0, 20_000, 1], 640, [0, 4000]),
  height: number('Height', 'Of the field that is filled.', 'px', [0, 20_000, 1], 360, [0, 4000]),
  softness: number('Softness', 'How far the field fades at its sides.', 'px', [0, 2000, 1], 0, [0, 200]),
  size: number('Size', 'How large its forms are.', 'px', [1, 10_000, 1], 80, [2, 400]),
  stretch: number('Stretch', 'How much higher than wide they are.', '%', [1, 10_000, 1], 100, [10, 500]),
  lean: number('Turned', 'How far they are turned.', '°', [-36_000, 36_000, 1], 0, [-180, 180]),
  octaves: number('Octaves', 'How many finer forms are in them.', '', [1, 8, 1], 4),
  low: number('From', 'Noise under this is the first colour.', '%', [0, 100, 0.5], 20),
  high: number('To', 'Noise above this is the last colour.', '%', [0, 100, 0.5], 80),
  colours: stops('Colours', 'From little noise on the left to much on the right.', [0, 0.1, 0.14, 0.2, 0, 1, 0.9, 0.92, 0.94, 1]),
  change: number('Changes', 'How fast it becomes another one.', '/s', [0, 60, 0.05], 0.4, [0, 5]),
  across: number('Drifts across', 'How fast it goes to the right.', 'px/s', [-10_000, 10_000, 1], 0, [-500, 500]),
  rise: number('Rises', 'How fast it goes up.', 'px/s', [-10_000, 10_000, 1], 0, [-500, 500]),
  bend: number('Bent by', 'How far it is moved aside by a noise of its own, which makes tongues of clouds.', 'px', [0, 2000, 1], 0, [0, 200]),
  thins: number('Thins upwards', 'How much less there is of it at the top of the field than at its foot.', '%', [0, 200, 1], 0),
  seed: SEED,
} as const;
type V = ValuesOf<typeof SETTINGS>;

async function render(layer: Rgba, { values: v, box, motion, document, item, time }: PlacedScene<V>): Promise<void> {
  const perSecond = framesPerSecond(document.plate.rate);
  const since = (key: 'change' | 'across' | 'rise') => sumOf(SETTINGS[key], item.settings[key])(0, time) / perSecond;
  const [z, driftX, driftY] = [since('change'), since('across'), since('rise')];
  const turn = (v.lean * Math.PI) / 180;
  const [c, s] = [Math.cos(turn) / v.size, Math.sin(turn) / v.size];
  const high = 100 / v.stretch;
  const [noise, other] = [noiseOf(v.seed), noiseOf(v.seed + 10_000)];
  const octaves = Math.round(v.octaves);
  const [low, wide] = [v.low / 100, Math.max(1e-3, (v.high - v.low) / 100)];
  const [bend, thins] = [v.bend, v.thins / 100];
  const table = coloursOf(v.colours);
  const [halfWidth, halfHeight] = [box.width / 2, box.height / 2];
  overOwnPlaces(layer, motion, { width: box.width + 2 * v.softness, height: box.height + 2 * v.softness }, (u, q, o) => {
    const alpha = coverage(Math.max(Math.abs(u) - halfWidth, Math.abs(q) - halfHeight), v.softness);
    if (alpha <= 0) return;
    let px = u - driftX;
    let py = q + driftY;
    if (bend > 0) {
      const bx = fractal(other, 2, px / v.size, (py * high) / v.size, z + 3.3);
      const by = fractal(other, 2, px / v.size + 41.3, (py * high) / v.size, z + 3.3);
      px += bend * bx;
      py += bend * by;
    }
    const n = 0.5 + 0.7 * fractal(noise, octaves, px * c + py * s, (py * c - px * s) * high, z);
    // From its foot to its top.
    const less = thins > 0 ? thins * (0.5 - q / box.height) : 0;
    const t = 4 * Math.round(clamp((n - less - low) / wide, 0, 1) * STEPS);
    for (let k = 0; k < 4; k++) layer.data[o + k] = table[t + k] * alpha;
  });
}

export const noiseElement = definePlaced({
  id: 'noise',
  label: 'Noise',
  about: 'Forms without order that change, drift and rise: clouds, smoke, water, fire.',
  has: null,
  settings: SETTINGS,
  startsOn: ({ width, height }) => ({ width: { constant: width }, height: { constant: height } }),
  boxOf: async ({ values: { width, height } }) => (width > 0 && height > 0 ? { width, height } : null),
  beyond: ({ softness }) => softness,
  render,
});
