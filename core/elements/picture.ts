/** Elements that are pictures: other footage, and the cut-out of a subject. */

import type { ShownFootage } from '../document/schema.ts';
import { type Descriptions, sumOf, type ValuesOf } from '../effects/settings.ts';
import { gaussianBlur } from '../image/gaussian.ts';
import { copyIn, rawLayer } from '../image/in-room.ts';
import { type Rgba, type Size, toCover, wholeOf } from '../image/picture.ts';
import { warpInto } from '../image/warp.ts';
import { clamp } from '../math/clamp.ts';
import { type Homography, inverseOf, multiply, scaleAt, scaling, translation } from '../math/homography.ts';
import { renderCutout } from '../matte/cutout.ts';
import { betweenFrames } from './between-frames.ts';
import { definePlaced, type PlacedScene, type Scene } from './element.ts';
import { subjectOf } from './source.ts';

/** A number of one of its frames. */
const ONE_OF_ITS = { kind: 'number' as const, unit: 'fr' as const, min: 0, max: 1_000_000, step: 1, usual: [0, 200] as [number, number] };

export const TIMING = {
  shows: {
    kind: 'choice',
    label: 'Shows',
    about: 'Whether its frames run, or one of them is chosen, which keys can change.',
    options: [
      { id: 'run', label: 'Its frames in turn' },
      { id: 'frame', label: 'The frame below' },
    ],
    start: 'run',
  },
  frame: {
    ...ONE_OF_ITS,
    label: 'Its frame',
    about: 'The frame that is shown, where one is chosen.',
    start: 0,
  },
  offset: {
    kind: 'number',
    label: 'Starts on',
    about: 'Frame of this shot on which its first frame is shown.',
    unit: 'fr',
    min: -1_000_000,
    max: 1_000_000,
    step: 1,
    start: 0,
    usual: [-200, 200],
    frames: 'place',
  },
  ends: {
    kind: 'choice',
    label: 'At its ends',
    about: 'What is shown before its first and after its last frame.',
    options: [
      { id: 'hold', label: 'Its last frame stays' },
      { id: 'nothing', label: 'Nothing' },
      { id: 'repeat', label: 'Begins again' },
      { id: 'to-and-fro', label: 'To and fro' },
    ],
    start: 'hold',
  },
  speed: {
    kind: 'number',
    label: 'Speed',
    about: 'How fast its frames run: 100 is frame for frame, below 0 backwards. Keyed, it changes what comes, not where it is.',
    unit: '%',
    min: -10_000,
    max: 10_000,
    step: 1,
    start: 100,
    usual: [0, 400],
  },
  first: {
    ...ONE_OF_ITS,
    label: 'From frame',
    about: 'The first of its frames that is used.',
    start: 0,
  },
  last: {
    ...ONE_OF_ITS,
    label: 'To frame',
    about: 'The last of its frames that is used; beyond its end, its last one.',
    start: 1_000_000,
  },
  between: {
    kind: 'choice',
    label: 'Between frames',
    about: 'What is shown at a time that lies between two of its frames.',
    options: [
      { id: 'nearest', label: 'The nearer one' },
      { id: 'mixed', label: 'Both, mixed' },
      { id: 'flow', label: 'Both, moved along their motion' },
    ],
    start: 'nearest',
  },
  flip: {
    kind: 'choice',
    label: 'Flip',
    about: 'Mirrors it.',
    options: [
      { id: 'no', label: 'No' },
      { id: 'across', label: 'Left and right' },
      { id: 'down', label: 'Up and down' },
    ],
    start: 'no',
  },
} as const satisfies Descriptions;

type V = ValuesOf<typeof TIMING>;

/** Of something of so many frames the one that shows, where `own` would if there were more of them; null where none does. */
export function shownFrame(own: number, ends: string, frames: number): number | null {
  if (frames === 1 || (own >= 0 && own < frames)) return frames === 1 ? 0 : own;
  const within = (n: number, of: number) => ((n % of) + of) % of;
  switch (ends) {
    case 'nothing':
      return null;
    case 'repeat':
      return within(own, frames);
    case 'to-and-fro': {
      const there = within(own, 2 * frames - 2);
      return there < frames ? there : 2 * frames - 2 - there;
    }
    default:
      return clamp(own, 0, frames - 1);
  }
}

/** What shows of footage: a frame, or a place between two of them. */
export interface Shown {
  frame: number;
  next: number;
  /** Of the way from the one to the other, [0,1). */
  share: number;
}

type Timed = Pick<Scene<V>, 'values' | 'time' | 'item'>;

/** What shows of something of so many frames at a time: in turn from where it begins, or the frame that is set. Null where nothing does. */
export function shownAt({ values, time, item }: Timed, frames: number): Shown | null {
  const first = Math.min(Math.round(values.first), frames - 1);
  const count = clamp(Math.round(values.last), first, frames - 1) - first + 1;
  const begins = Math.round(values.offset);
  const ran = sumOf(TIMING.speed, item.settings.speed, asShare)(begins, time);
  // What a chosen frame names is told from the first of all.
  const own = values.shows === 'run' ? ran : values.frame - first;
  const steady = values.between === 'nearest' ? Math.round(own) : own;
  // A sum may miss a whole frame by a hair.
  const whole = Math.abs(steady - Math.round(steady)) < 1e-6 ? Math.round(steady) : Math.floor(steady);
  const share = Math.max(0, steady - whole);
  const [one, other] = [shownFrame(whole, values.ends, count), shownFrame(whole + (share > 0 ? 1 : 0), values.ends, count)];
  return one === null || other === null ? null : { frame: first + one, next: first + other, share: one === other ? 0 : share };
}
const asShare = (percent: number): number => percent / 100;

/** The picture of what shows, in the room or in memory of its own. */
async function pictureOf(
  { frame, next, share }: Shown,
  { values, room }: Pick<Scene<V>, 'values' | 'room'>,
  at: (frame: number) => Promise<Rgba>,
): Promise<Rgba> {
  const one = await at(frame);
  return copyIn(room, share === 0 || values.between === 'nearest' ? one : betweenFrames(one, await at(next), share, values.between));
}

/** Pixels of a picture that stands for a box of the element to pixels of the layer. */
function seenBy(picture: Size, { box, motion, values }: Pick<PlacedScene<V>, 'box' | 'motion' | 'values'>): Homography {
  const [fx, fy] = [values.flip === 'across' ? -1 : 1, values.flip === 'down' ? -1 : 1];
  const [sx, sy] = [box.width / picture.width, box.height / picture.height];
  return multiply(motion, multiply(scaling(fx, fy), multiply(translation(-box.width / 2, -box.height / 2), scaling(sx, sy))));
}

/** Softens a picture that is made much smaller, so that it does not crawl. */
function softened(picture: Rgba, scene: Pick<PlacedScene<V>, 'box' | 'motion' | 'values'>): Rgba {
  const smaller = 1 / scaleAt(seenBy(picture, scene), picture.width / 2, picture.height / 2);
  if (smaller > 1.25) {
    const sigma = 0.5 * Math.sqrt(smaller * smaller - 1);
    gaussianBlur(picture.data, picture.width, picture.height, 4, sigma, sigma);
  }
  return picture;
}

/** Adds a share of the picture of an element to a layer, or paints it all over that. */
async function render(layer: Rgba, scene: PlacedScene<V>, picture: Rgba | null, share: number): Promise<void> {
  const back = picture && inverseOf(seenBy(picture, scene));
  if (picture && back) warpInto(layer, picture, back, share < 1 ? share : 0);
  else if (share === 1) layer.data.fill(0);
}

/** Pixels of a picture that is asked for, at most: one of 8192 by 4320. */
const MOST_PIXELS = 8192 * 4320;

/** The size at which a picture is asked for that is seen `grows` times as large as it is: halved as often as nothing is lost, or as it is too large. */
function askedSize({ width, height }: Size, grows: number): Size {
  const lossless = Math.floor(Math.log2(1 / Math.max(1e-3, grows)));
  const bounded = Math.ceil(Math.log2((width * height) / MOST_PIXELS) / 2);
  const halved = 2 ** Math.max(0, lossless, bounded);
  return { width: Math.max(1, Math.round(width / halved)), height: Math.max(1, Math.round(height / halved)) };
}

/** Footage as large as it has to be to fill the layer, at its middle: a picture of the size of the layer. */
export async function coveringPicture(scene: Scene<V>, footage: ShownFootage, shown: Shown): Promise<Rgba> {
  const { size, sources, values, room, document } = scene;
  // In pixels of the plate, which a layer may have in another number across than down.
  const { plate } = document;
  const grows = toCover(plate, footage);
  const box = { width: footage.width * grows, height: footage.height * grows };
  const motion = multiply(scaling(size.width / plate.width, size.height / plate.height), translation(plate.width / 2, plate.height / 2));
  const asked = askedSize(footage, grows * scene.scale);
  const picture = await pictureOf(shown, scene, (frame) => sources.footage(footage, frame, asked));
  const out = rawLayer(room, wholeOf(size));
  const back = inverseOf(seenBy(picture, { box, motion, values }));
  if (back) warpInto(out, softened(picture, { box, motion, values }), back);
  return out;
}

export const footageElement = definePlaced({
  id: 'footage',
  label: 'Footage',
  about: 'Another shot of the production, what is made in it, or a still.',
  has: 'footage',
  settings: TIMING,
  boxOf: async ({ item: { footage } }) => footage && { width: footage.width, height: footage.height },
  async picture(scene) {
    const { item, sources, box, motion } = scene;
    const { footage } = item;
    const shown = footage && shownAt(scene, footage.frames);
    if (!footage || !shown) return null;
    const size = askedSize(box, scaleAt(motion, 0, 0));
    return softened(await pictureOf(shown, scene, (frame) => sources.footage(footage, frame, size)), scene);
  },
  render,
});

export const cutoutElement = definePlaced({
  id: 'cutout',
  label: 'Cut-out',
  about: 'A subject of this shot once more, somewhere else.',
  has: 'subject',
  settings: TIMING,
  boxOf: async ({ document, item }) => (subjectOf(document, item) ? { width: document.plate.width, height: document.plate.height } : null),
  async picture(scene) {
    const { document, item, sources, size, mattes } = scene;
    const subject = subjectOf(document, item);
    const shown = shownAt(scene, document.plate.frames);
    if (!subject || !shown) return null;
    return softened(await pictureOf(shown, scene, (frame) => renderCutout(document, subject.id, frame, sources, size, mattes)), scene);
  },
  render,
});
