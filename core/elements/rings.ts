/** Rings that leave the outline of a subject, one after another, and spread. */
import type { Setting } from '../document/schema.ts';
import { type Descriptions, sumOf, type ValuesOf, valuesAt } from '../effects/settings.ts';
import type { Rgba } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { type LentField, lendDistance } from '../matte/distance.ts';
import { hasKeys } from '../time/animated.ts';
import { framesPerSecond } from '../time/rate.ts';
import { borrowKernels } from '../wasm/host.ts';
import { defineFree, type Scene } from './element.ts';
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
  colouring: {
    kind: 'choice',
    label: 'Colours',
    about: 'Whether a keyed colour changes all rings, or each keeps the one of its birth.',
    options: [
      { id: 'now', label: 'As it is on each frame' },
      { id: 'born', label: 'As it was when born' },
    ],
    start: 'now',
  },
  ...lightSettings(1, 8, 50),
} as const satisfies Descriptions;

type V = ValuesOf<typeof SETTINGS>;

/** What a ring keeps from its birth. */
const LASTING = {
  life: SETTINGS.life,
  birthWidth: SETTINGS.birthWidth,
  deathWidth: SETTINGS.deathWidth,
  fadeIn: SETTINGS.fadeIn,
  fadeOut: SETTINGS.fadeOut,
};

/** A ring on a frame: when it was born (frames), how far it is from the outline and how wide (plate pixels), and its strength. */
export interface Ring {
  born: number;
  distance: number;
  width: number;
  strength: number;
}

/** Most rings that are drawn at once; the newest. */
const MOST = 60;

/** What decides rings over time: sums of births and of the way they go, in plate pixels, from one frame to another; and settings by frame. */
export interface Course {
  births(from: number, to: number): number;
  way(from: number, to: number): number;
  at(time: number): Pick<V, 'life' | 'birthWidth' | 'deathWidth' | 'fadeIn' | 'fadeOut'>;
  /** Whether they are born at one rate. */
  steady: boolean;
  /** Frames that a ring lives at most. */
  longest: number;
}

/** @param rate frames a second */
export function courseOf(settings: Record<string, Setting>, rate: number): Course {
  const births = sumOf(SETTINGS.rate, settings.rate);
  const way = sumOf(SETTINGS.speed, settings.speed);
  const lives = settings.life && hasKeys(settings.life) ? settings.life.keys.map((k) => k.frame) : [0];
  return {
    births: (from, to) => births(from, to) / rate,
    way: (from, to) => way(from, to) / rate,
    at: (time) => valuesAt(LASTING, settings, time),
    steady: !settings.rate || !hasKeys(settings.rate),
    // Between keys an ease may go beyond them.
    longest: 2 * Math.max(...lives.map((frame) => valuesAt(LASTING, settings, frame).life)) * rate,
  };
}

/** Of a birth: sums that miss a whole number by so little have reached it. */
const HAIR = 1e-9;

/** The time by which `n` rings have been born since `first`; by `time` there are as many. */
function bornAt({ births, steady }: Course, n: number, first: number, time: number): number {
  if (steady) return first + n / births(0, 1);
  let [low, high] = [first, time];
  while (high - low > 1e-9) {
    const middle = (low + high) / 2;
    if (middle === low || middle === high) break;
    if (births(first, middle) < n - HAIR) low = middle;
    else high = middle;
  }
  return high;
}

/**
 * The rings that live at a time, the oldest first. The first is born on frame `first`. What is keyed changes those to come: a ring has
 * the life, the widths and the fades of its birth, and goes by all speeds that there were since.
 */
export function ringsAt(course: Course, time: number, first: number, rate: number): Ring[] {
  if (time < first) return [];
  const newest = Math.floor(course.births(first, time) + HAIR);
  // Where none is born yet there is no first one either.
  const least = course.births(first, first + 1e-3) > 0 ? 0 : 1;
  const rings: Ring[] = [];
  for (let n = newest; n >= least && rings.length < MOST; n--) {
    const born = n === 0 ? first : bornAt(course, n, first, time);
    if (time - born > course.longest) break;
    const { life, birthWidth, deathWidth, fadeIn: rises, fadeOut: falls } = course.at(born);
    const share = (time - born) / (life * rate);
    if (share >= 1) continue;
    const rising = rises > 0 ? Math.min(1, (share * 100) / rises) : 1;
    const falling = falls > 0 ? Math.min(1, ((1 - share) * 100) / falls) : 1;
    rings.push({
      born,
      distance: course.way(born, time),
      width: birthWidth + (deathWidth - birthWidth) * share,
      strength: Math.min(rising, falling),
    });
  }
  return rings.reverse();
}

/** Which frame's outline a ring goes by. */
const outlineFrame = (ring: Ring, values: V, time: number, frames: number): number =>
  clamp(Math.round(values.outline === 'born' ? ring.born : time), 0, frames - 1);

/** Distances of a table of rings, a pixel: so many that nearest ones differ by less than 1/512. */
const STEPS = 256;
const STEPS_SOFT = 128;

async function render(layer: Rgba, scene: Scene<V>): Promise<void> {
  const { document, item, values, time, scale, mattes } = scene;
  const subject = subjectOf(document, item);
  if (!subject) return;
  const { frames, rate } = document.plate;
  const perSecond = framesPerSecond(rate);
  const first = item.lives.find((r) => time >= r.first && time <= r.last)?.first ?? 0;
  const rings = ringsAt(courseOf(item.settings, perSecond), time, first, perSecond);
  const colourOf = ({ born }: Ring) => (values.colouring === 'born' ? valuesAt({ colour: SETTINGS.colour }, item.settings, born).colour : values.colour);
  const [softness, glow, glowing] = [values.softness * scale, values.glow * scale, values.glowStrength / 100];
  const byFrame = new Map<number, Ring[]>();
  for (const ring of rings) {
    const frame = outlineFrame(ring, values, time, frames);
    byFrame.set(frame, [...(byFrame.get(frame) ?? []), ring]);
  }
  for (const [frame, born] of byFrame) {
    const beyond = softness + GLOW_REACH * glow + 2;
    // No pixel is farther from the outline than the picture is long.
    const reach = Math.min(Math.max(...born.map((r) => (r.distance + r.width / 2) * scale)) + beyond, Math.hypot(layer.width, layer.height) + 1);
    const field = lendDistance(await mattes(subject.id, frame), 0.5, reach, 0.1);
    if (!field) continue;
    const steps = softness > 1 ? STEPS_SOFT : STEPS;
    // What all of them are together at a distance, premultiplied: looked up where a pixel has that distance.
    const first = Math.min(...born.map((r) => (r.distance - r.width / 2) * scale)) - beyond;
    const table = new Float32Array(4 * (Math.max(0, Math.ceil((reach - first) * steps)) + 1));
    for (const ring of born) {
      const [red, green, blue] = colourOf(ring);
      const [middle, half] = [ring.distance * scale - first, (ring.width * scale) / 2];
      const last = Math.min(table.length / 4 - 1, Math.floor((middle + half + beyond) * steps));
      for (let i = Math.max(0, Math.ceil((middle - half - beyond) * steps)); i <= last; i++) {
        const off = Math.abs(i / steps - middle);
        const a = Math.max(coverage(off - half, softness), glowing * glowAt(off - half, glow)) * ring.strength;
        if (a > 0) layOver(table, 4 * i, red, green, blue, a);
      }
    }
    layByDistance(layer, field, table, first, steps);
  }
}

/** Lays onto a layer, at each pixel of a field, what a table says of its distance: values from `first` on, `steps` a pixel. */
function layByDistance(layer: Rgba, { box, stride }: LentField, table: Float32Array, first: number, steps: number): void {
  const { floats } = borrowKernels(0);
  const { data } = layer;
  const most = table.length / 4 - 1;
  for (let y = 0; y < box.height; y++) {
    let o = 4 * ((y + box.top) * layer.width + box.left);
    for (let f = y * stride; f < y * stride + box.width; f++, o += 4) {
      const at = Math.round((-floats[f] - first) * steps);
      if (at < 0 || at > most) continue;
      const i = 4 * at;
      const a = table[i + 3];
      if (a === 0) continue;
      const rest = 1 - a;
      data[o] = table[i] + data[o] * rest;
      data[o + 1] = table[i + 1] + data[o + 1] * rest;
      data[o + 2] = table[i + 2] + data[o + 2] * rest;
      data[o + 3] = a + data[o + 3] * rest;
    }
  }
}

export const ringsElement = defineFree({
  id: 'rings',
  label: 'Rings',
  about: 'Rings that leave the outline of a subject, one after another, and spread.',
  has: 'subject',
  settings: SETTINGS,
  render,
});
