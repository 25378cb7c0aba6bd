/** Elements that are pictures: other footage, and the cut-out of a subject. */
import type { Descriptions, ValuesOf } from '../effects/settings.ts';
import { gaussianBlur } from '../image/gaussian.ts';
import type { Rgba, Size } from '../image/picture.ts';
import { seenThrough } from '../image/warp.ts';
import { clamp } from '../math/clamp.ts';
import { type Homography, inverseOf, multiply, scaleAt, scaling, translation } from '../math/homography.ts';
import { renderCutout } from '../matte/cutout.ts';
import { definePlaced, type PlacedScene } from './element.ts';
import { subjectOf } from './source.ts';

const TIMING = {
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
    kind: 'number',
    label: 'Its frame',
    about: 'The frame that is shown, where one is chosen.',
    unit: 'fr',
    min: 0,
    max: 1_000_000,
    step: 1,
    start: 0,
    usual: [0, 200],
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
  },
  ends: {
    kind: 'choice',
    label: 'At its ends',
    about: 'What is shown before its first and after its last frame.',
    options: [
      { id: 'hold', label: 'Its last frame stays' },
      { id: 'nothing', label: 'Nothing' },
      { id: 'repeat', label: 'Begins again' },
    ],
    start: 'hold',
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
  if (ends === 'nothing') return null;
  return ends === 'repeat' ? ((own % frames) + frames) % frames : clamp(own, 0, frames - 1);
}

/** The frame that shows: in turn from where it begins, or the one that is set, which keys make faster, slower or stand still. */
function frameOf({ values, time }: PlacedScene<V>, frames: number): number | null {
  const own = values.shows === 'run' ? Math.round(time) - Math.round(values.offset) : Math.round(values.frame);
  return shownFrame(own, values.ends, frames);
}

/** Paints a picture that stands for a box of the element; one that is made much smaller is softened first, so that it does not crawl. */
function paintPicture(layer: Rgba, picture: Rgba, { box, motion, values }: Pick<PlacedScene<V>, 'box' | 'motion' | 'values'>): void {
  const flip = values.flip;
  const [fx, fy] = [flip === 'across' ? -1 : 1, flip === 'down' ? -1 : 1];
  const [sx, sy] = [box.width / picture.width, box.height / picture.height];
  // Pixels of the picture to own pixels of the element.
  const own = multiply(scaling(fx, fy), multiply(translation(-box.width / 2, -box.height / 2), scaling(sx, sy)));
  const seen: Homography = multiply(motion, own);
  const back = inverseOf(seen);
  if (!back) return;
  const smaller = 1 / scaleAt(seen, picture.width / 2, picture.height / 2);
  if (smaller > 1.25) {
    const sigma = 0.5 * Math.sqrt(smaller * smaller - 1);
    gaussianBlur(picture.data, picture.width, picture.height, 4, sigma, sigma);
  }
  layer.data.set(seenThrough(picture, back, layer).data);
}

/** A picture of its own memory. */
const copied = (picture: Rgba): Rgba => ({ ...picture, data: picture.data.slice() });

/** The size at which a picture is asked for that is seen `grows` times as large as it is: halved as often as nothing is lost. */
function askedSize({ width, height }: Size, grows: number): Size {
  const halved = 2 ** Math.max(0, Math.floor(Math.log2(1 / Math.max(1e-3, grows))));
  return { width: Math.max(1, Math.round(width / halved)), height: Math.max(1, Math.round(height / halved)) };
}

export const footageElement = definePlaced({
  id: 'footage',
  label: 'Footage',
  about: 'Another shot of the production, or a still.',
  has: 'footage',
  settings: TIMING,
  boxOf: async ({ item: { footage } }) => footage && { width: footage.width, height: footage.height },
  async render(layer, scene) {
    const { item, sources, box, motion } = scene;
    const frame = item.footage && frameOf(scene, item.footage.frames);
    if (!item.footage || frame === null) return;
    paintPicture(layer, copied(await sources.footage(item.footage, frame, askedSize(box, scaleAt(motion, 0, 0)))), scene);
  },
});

export const cutoutElement = definePlaced({
  id: 'cutout',
  label: 'Cut-out',
  about: 'A subject of this shot once more, somewhere else.',
  has: 'subject',
  settings: TIMING,
  boxOf: async ({ document, item }) => (subjectOf(document, item) ? { width: document.plate.width, height: document.plate.height } : null),
  async render(layer, scene) {
    const { document, item, sources, size, mattes } = scene;
    const subject = subjectOf(document, item);
    const frame = frameOf(scene, document.plate.frames);
    if (!subject || frame === null) return;
    paintPicture(layer, await renderCutout(document, subject.id, frame, sources, size, mattes), scene);
  },
});
