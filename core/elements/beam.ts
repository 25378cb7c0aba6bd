/** A beam between two ends: a core, and the light round it. */
import { colour, number, type ValuesOf } from '../effects/settings.ts';
import type { Rgba } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { defineFree, type Scene } from './element.ts';
import { coverage, GLOW_REACH, glowAt } from './paint.ts';
import { endOn, endsAt, TWO_ENDS, twoEnds } from './place.ts';

const SETTINGS = {
  ...TWO_ENDS,
  begin: number('Begins', 'Where on the way between its ends it begins.', '%', [0, 100, 0.5], 0),
  finish: number('Length', 'Where on the way it stops; keyed from 0, it shoots out.', '%', [0, 100, 0.5], 100),
  width: number('Width', 'Of the core, where it begins.', 'px', [0, 1000, 0.5], 8, [0, 60]),
  lastWidth: number('Last width', 'Of the core, where it stops.', 'px', [0, 1000, 0.5], 8, [0, 60]),
  core: colour('Core', 'The colour of the core.', [1, 0.98, 0.9]),
  softness: number('Softness', 'How far the core fades at its sides.', 'px', [0, 500, 0.5], 2, [0, 40]),
  glow: number('Glow', 'How far the light round it reaches.', 'px', [0, 500, 0.5], 18, [0, 80]),
  glowColour: colour('Glow colour', 'The colour of the light round it.', [0.98, 0.62, 0.2]),
  glowStrength: number('Glow strength', 'How strong that light is.', '%', [0, 100, 1], 80),
} as const;
type V = ValuesOf<typeof SETTINGS>;

async function render(layer: Rgba, scene: Scene<V>): Promise<void> {
  const { values, scale } = scene;
  const [ax, ay] = endOn(scene, 'fromX', 'fromY');
  const [bx, by] = endOn(scene, 'toX', 'toY');
  const whole = Math.hypot(bx - ax, by - ay);
  const [first, last] = [(whole * values.begin) / 100, (whole * values.finish) / 100];
  if (last <= first || whole < 1e-6) return;
  const [dx, dy] = [(bx - ax) / whole, (by - ay) / whole];
  const [softness, glow, strength] = [values.softness * scale, values.glow * scale, values.glowStrength / 100];
  const [half, lastHalf] = [(values.width * scale) / 2, (values.lastWidth * scale) / 2];
  const reach = Math.max(half, lastHalf) + Math.max(softness, GLOW_REACH * glow) + 2;
  const ends = [first, last].map((t) => [ax + dx * t, ay + dy * t]);
  const left = Math.max(0, Math.floor(Math.min(ends[0][0], ends[1][0]) - reach));
  const right = Math.min(layer.width, Math.ceil(Math.max(ends[0][0], ends[1][0]) + reach));
  const top = Math.max(0, Math.floor(Math.min(ends[0][1], ends[1][1]) - reach));
  const bottom = Math.min(layer.height, Math.ceil(Math.max(ends[0][1], ends[1][1]) + reach));
  const { core, glowColour } = values;
  for (let y = top; y < bottom; y++)
    for (let x = left, o = 4 * (y * layer.width + left); x < right; x++, o += 4) {
      const px = x + 0.5 - ax;
      const py = y + 0.5 - ay;
      const t = px * dx + py * dy;
      const along = clamp(t, first, last);
      const wide = half + (lastHalf - half) * ((along - first) / (last - first));
      const far = Math.hypot(px - along * dx, py - along * dy) - wide;
      const a = wide > 0 ? coverage(far, softness) : 0;
      const light = (1 - a) * strength * glowAt(far, glow);
      if (a + light <= 0) continue;
      for (let k = 0; k < 3; k++) layer.data[o + k] = core[k] * a + glowColour[k] * light;
      layer.data[o + 3] = a + light;
    }
}

export const beamElement = defineFree({
  id: 'beam',
  label: 'Beam',
  about: 'Light between two ends, each of which can be fixed to something of its own.',
  has: null,
  settings: SETTINGS,
  ends: twoEnds('First end', 'Second end'),
  startsOn: ({ width, height }) => endsAt(width / 4, height / 2, (3 * width) / 4, height / 2),
  render,
});
