/** Rings that leave the outline of a subject, one after another, and spread. */
import type { Descriptions, ValuesOf } from '../effects/settings.ts';
import type { Rgba } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { type DistanceField, signedDistance } from '../matte/distance.ts';
import { framesPerSecond } from '../time/rate.ts';
import { defineOutline, type Scene } from './element.ts';
import { coverage, GLOW_REACH, glowAt, layOver, lightSettings } from './paint.ts';
import { subjectOf } from './source.ts';

const SETTINGS = {
  rate: { kind: 'number', label: 'Births', about: 'Rings that begin in a second.', unit: '/s', min: 0, max: 60, step: 0.1, start: 2, usual: [0, 10] },
  speed: {
    kind: 'number',
    label: 'Spread',
    about: 'How fast a ring leaves the outline.',
    unit: 'px/s',
    min: 0,
    max: 10_000,
    step: 1,
    start: 160,
    usual: [0, 800],
  },
  life: { kind: 'number', label: 'Life', about: 'How long a ring is there.', unit: 's', min: 0.05, max: 60, step: 0.05, start: 1.5, usual: [0.05, 5] },
  birthWidth: {
    kind: 'number',
    label: 'First width',
    about: 'How thick a ring is when it begins.',
    unit: 'px',
    min: 0,
    max: 1000,
    step: 0.5,
    start: 10,
    usual: [0, 80],
  },
  deathWidth: {
    kind: 'number',
    label: 'Last width',
    about: 'How thick it is at its end.',
    unit: 'px',
    min: 0,
    max: 1000,
    step: 0.5,
    start: 2,
    usual: [0, 80],
  },
  fadeIn: { kind: 'number', label: 'Fade in', about: 'Share of its life over which it appears.', unit: '%', min: 0, max: 100, step: 1, start: 5 },
  fadeOut: { kind: 'number', label: 'Fade out', about: 'Share of its life over which it goes.', unit: '%', min: 0, max: 100, step: 1, start: 60 },
  outline: {
    kind: 'choice',
    label: 'Outline',
    about: 'Whether rings keep the outline of their birth, or take the one of each frame.',
    options: [
      { id: 'now', label: 'As it is on each frame' },
      { id: 'born', label: 'As it was when born' },
    ],
    start: 'now',
  },
  ...lightSettings(1, 8, 50),
} as const satisfies Descriptions;

type V = ValuesOf<typeof SETTINGS>;

/** A ring on a frame: when it was born (frames), how far it is from the outline and how wide (plate pixels), and its strength. */
export interface Ring {
  born: number;
  distance: number;
  width: number;
  strength: number;
}

/** Most rings that are drawn at once; the newest. */
const MOST = 60;

type Births = Pick<V, 'rate' | 'life' | 'speed' | 'birthWidth' | 'deathWidth' | 'fadeIn' | 'fadeOut'>;

/** The rings that live at a time, the oldest first. The first is born on frame `first`. */
export function ringsAt(values: Births, time: number, first: number, rate: number): Ring[] {
  const [perSecond, life, speed] = [values.rate, values.life, values.speed];
  if (perSecond <= 0 || life <= 0 || time < first) return [];
  const now = (time - first) / rate;
  const newest = Math.floor(now * perSecond + 1e-9);
  const oldest = Math.max(0, newest - MOST + 1, Math.ceil((now - life) * perSecond));
  const [atBirth, atDeath] = [values.birthWidth, values.deathWidth];
  const [fadeIn, fadeOut] = [values.fadeIn / 100, values.fadeOut / 100];
  const rings: Ring[] = [];
  for (let i = oldest; i <= newest; i++) {
    const age = now - i / perSecond;
    const share = age / life;
    if (share >= 1) continue;
    const rising = fadeIn > 0 ? Math.min(1, share / fadeIn) : 1;
    const falling = fadeOut > 0 ? Math.min(1, (1 - share) / fadeOut) : 1;
    rings.push({
      born: first + (i / perSecond) * rate,
      distance: speed * age,
      width: atBirth + (atDeath - atBirth) * share,
      strength: Math.min(rising, falling),
    });
  }
  return rings;
}

/** Which frame's outline a ring goes by. */
const outlineFrame = (ring: Ring, values: V, time: number, frames: number): number =>
  clamp(Math.round(values.outline === 'born' ? ring.born : time), 0, frames - 1);

async function render(layer: Rgba, scene: Scene<V>): Promise<void> {
  const { document, item, values, time, scale, mattes } = scene;
  const subject = subjectOf(document, item);
  if (!subject) return;
  const { frames, rate } = document.plate;
  const rings = ringsAt(values, time, item.lives.find((r) => time >= r.first && time <= r.last)?.first ?? 0, framesPerSecond(rate));
  const [red, green, blue] = values.colour;
  const [softness, glow, glowing] = [values.softness * scale, values.glow * scale, values.glowStrength / 100];
  const byFrame = new Map<number, Ring[]>();
  for (const ring of rings) {
    const frame = outlineFrame(ring, values, time, frames);
    byFrame.set(frame, [...(byFrame.get(frame) ?? []), ring]);
  }
  for (const [frame, born] of byFrame) {
    const beyond = softness + GLOW_REACH * glow + 2;
    const reach = Math.max(...born.map((r) => (r.distance + r.width / 2) * scale)) + beyond;
    const field: DistanceField | null = signedDistance(await mattes(subject.id, frame), 0.5, reach, 0.1);
    if (!field) continue;
    for (const ring of born) {
      const [middle, half] = [ring.distance * scale, (ring.width * scale) / 2];
      const near = half + beyond;
      for (let y = 0; y < field.height; y++)
        for (let x = 0; x < field.width; x++) {
          const off = Math.abs(-field.data[y * field.width + x] - middle);
          if (off >= near) continue;
          const a = Math.max(coverage(off - half, softness), glowing * glowAt(off - half, glow)) * ring.strength;
          if (a > 0) layOver(layer.data, ((y + field.top) * layer.width + field.left + x) * 4, red, green, blue, a);
        }
    }
  }
}

export const ringsElement = defineOutline({
  id: 'rings',
  label: 'Rings',
  about: 'Rings that leave the outline of a subject, one after another, and spread.',
  has: 'subject',
  settings: SETTINGS,
  render,
});
