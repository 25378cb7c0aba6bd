/** Where an element stands on the plate. */
import { followedMotion } from '../document/follow.ts';
import type { Element, ShotDocument } from '../document/schema.ts';
import { type Descriptions, POINT, valuesAt } from '../effects/settings.ts';
import type { Size } from '../image/picture.ts';
import { type Homography, multiply, scaling, toCorners, translation } from '../math/homography.ts';
import { mixLists, valueAt } from '../time/animated.ts';

/** Settings of everything that stands somewhere: where its middle is, its size and turn, and how long the shutter is open for its motion. */
export const PLACE = {
  ...POINT,
  scale: { kind: 'number', label: 'Scale', about: '100 is as large as it is.', unit: '%', min: 0, max: 10_000, step: 0.5, start: 100, usual: [0, 300] },
  turn: { kind: 'number', label: 'Turn', about: 'Clockwise, in degrees.', unit: '°', min: -36_000, max: 36_000, step: 0.5, start: 0, usual: [-180, 180] },
  shutter: {
    kind: 'number',
    label: 'Motion blur',
    about: 'How long the shutter is open for its own motion; 180 is usual for film, 0 is none.',
    unit: '°',
    min: 0,
    max: 720,
    step: 5,
    start: 0,
    usual: [0, 360],
  },
} as const satisfies Descriptions;

/** Takes own pixels of an element, (0, 0) its middle, to those of the plate, before it follows anything. */
function standing(item: Element, { width, height }: Size, time: number): Homography | null {
  if (item.corners) {
    const square = toCorners(valueAt(item.corners, time, mixLists));
    return square && multiply(square, multiply(scaling(1 / width, 1 / height), translation(width / 2, height / 2)));
  }
  const { x, y, scale, turn: degrees } = valuesAt(PLACE, item.settings, time);
  const size = scale / 100;
  if (size <= 0) return null;
  const turn = (degrees * Math.PI) / 180;
  const [c, s] = [Math.cos(turn) * size, Math.sin(turn) * size];
  return [c, -s, x, s, c, y, 0, 0, 1];
}

/** Takes own pixels of an element of that size to those of the plate at a time; null where it is flattened to nothing. */
export function placeAt(document: Pick<ShotDocument, 'tracks'>, item: Element, box: Size, time: number): Homography | null {
  const own = standing(item, box, time);
  if (!own || !item.follow || !document.tracks.some((t) => t.id === item.follow?.track)) return own;
  const motion = followedMotion(document, item.follow, time);
  return motion && multiply(motion, own);
}
