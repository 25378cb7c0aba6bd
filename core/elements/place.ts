/** Where an element stands on the plate, and what moves it there. */
import { followedMotion, placedSpline, shapeAt, sureWay, wayAt } from '../document/follow.ts';
import { leaderOf } from '../document/leaders.ts';
import type { Element, LaneItem, Setting, ShotDocument, SplinePart } from '../document/schema.ts';
import { type Descriptions, number, POINT, valuesAt } from '../effects/settings.ts';
import type { Size } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { fitHomography } from '../math/fit-homography.ts';
import { applyTo, type Homography, inverseOf, multiply, scaling, toCorners, translation } from '../math/homography.ts';
import { shareOf, takenOf } from '../math/motion.ts';
import type { Shape } from '../path/path.ts';
import { fitSimilarity } from '../path/similarity.ts';
import { mixLists, numberAt, valueAt } from '../time/animated.ts';
import type { End, Scene } from './element.ts';

const fromLeft = (label: string) => number(`${label} X`, 'From the left side of the plate.', 'px', [-20_000, 20_000, 0.5], 0);
const fromTop = (label: string) => number(`${label} Y`, 'From the top of the plate.', 'px', [-20_000, 20_000, 0.5], 0);

/** Settings of what lies between two ends: where they are. */
export const TWO_ENDS = { fromX: fromLeft('From'), fromY: fromTop('From'), toX: fromLeft('To'), toY: fromTop('To') } as const;

/** These ends, by what they are called. */
export const twoEnds = (from: string, to: string): End[] => [
  { x: 'fromX', y: 'fromY', label: from },
  { x: 'toX', y: 'toY', label: to },
];

/** Where they start from, plate pixels. */
export const endsAt = (fromX: number, fromY: number, toX: number, toY: number): Record<keyof typeof TWO_ENDS, Setting> => ({
  fromX: { constant: fromX },
  fromY: { constant: fromY },
  toX: { constant: toX },
  toY: { constant: toY },
});

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

export type Leading = Pick<ShotDocument, 'tracks' | 'cast' | 'lanes'>;

/** A motion, and the place against which what is taken of it is told. */
interface Led {
  motion: Homography;
  pivot: readonly [number, number];
}

/** How the points of a Spline went from one time to another: moved, turned and scaled, or under perspective where four and more of them are taken along. */
function motionOfSpline(document: Leading, part: SplinePart, from: number, to: number, perspective: boolean): Led | null {
  const { paths } = placedSpline(document, part);
  const pairs = paths.flatMap((path): [Shape[number], Shape[number]][] => {
    const [then, now] = [shapeAt(path, from), shapeAt(path, to)];
    return then.length === now.length ? then.map((v, i) => [v, now[i]]) : [];
  });
  if (pairs.length === 0) return null;
  const middle = (k: 0 | 1): [number, number] => [
    pairs.reduce((sum, p) => sum + p[k].x, 0) / pairs.length,
    pairs.reduce((sum, p) => sum + p[k].y, 0) / pairs.length,
  ];
  const [pivot, there] = [middle(0), middle(1)];
  const points = (k: 0 | 1) => pairs.map((p) => [p[k].x, p[k].y]);
  const full = perspective ? fitHomography(points(0), points(1)) : null;
  if (full) return { motion: full, pivot };
  const similar = fitSimilarity(
    pairs.map((p) => p[0]),
    pairs.map((p) => p[1]),
  );
  // A single point, or points all in one place, only move.
  if (!similar) return { motion: translation(there[0] - pivot[0], there[1] - pivot[1]), pivot };
  const { fromX, fromY, toX, toY, angle, scale } = similar;
  const [c, s] = [Math.cos(angle) * scale, Math.sin(angle) * scale];
  return { motion: multiply(translation(toX, toY), multiply([c, -s, 0, s, c, 0, 0, 0, 1], translation(-fromX, -fromY))), pivot };
}

/** Of an element that leads others the size does not count: they go where its plane goes. */
const ANY_SIZE = { width: 1, height: 1 };

function motionOfElement(document: Leading, leader: Element, from: number, to: number, followers: readonly string[]): Led | null {
  const [then, now] = [placeAt(document, leader, ANY_SIZE, from, followers), placeAt(document, leader, ANY_SIZE, to, followers)];
  const back = then && inverseOf(then);
  return back && now && { motion: multiply(now, back), pivot: applyTo(then, 0, 0) };
}

/**
 * What takes places of the plate, as they are on the frame from which an item follows, to where what it follows has them; null where that
 * is not there, or nothing is followed.
 * @param followers items that are led by this one: where one of them is met again, the circle is left
 */
export function ledMotion(document: Leading, item: LaneItem, time: number, followers: readonly string[] = []): Homography | null {
  const { follow } = item;
  const leader = follow && leaderOf(document, follow.track);
  if (!follow || !leader || followers.includes(item.id)) return null;
  const amount = clamp(numberAt(item.followAmount, time), 0, 1);
  if (leader.type === 'track') {
    const motion = followedMotion(document, follow, time);
    return motion && (amount < 1 ? shareOf(motion, wayAt(sureWay(leader), follow.frame), amount) : motion);
  }
  const led =
    leader.type === 'spline'
      ? motionOfSpline(document, leader, follow.frame, time, follow.takes.includes('shape'))
      : motionOfElement(document, leader, follow.frame, time, [...followers, item.id]);
  const taken = led && takenOf(led.motion, led.pivot, follow.takes);
  return taken && shareOf(taken, led.pivot, amount);
}

/** Takes own pixels of an element of that size to those of the plate at a time; null where it is flattened to nothing. */
export function placeAt(document: Leading, item: Element, box: Size, time: number, followers: readonly string[] = []): Homography | null {
  const own = standing(item, box, time);
  if (!own || !item.follow || !leaderOf(document, item.follow.track)) return own;
  const motion = ledMotion(document, item, time, followers);
  return motion && multiply(motion, own);
}

/** The same for an end of an element: fixed to something of its own, or going with the whole. */
export const endMotion = (document: Leading, item: LaneItem, { x }: Pick<End, 'x'>, time: number): Homography | null => {
  const pin = item.type === 'element' ? item.pins[x] : undefined;
  return ledMotion(document, pin ? { ...item, follow: pin, followAmount: { constant: 1 } } : item, time);
};

/** Where an end is on the plate at a time. @param values of the settings of the item then */
export function endAt(document: Leading, item: LaneItem, end: Pick<End, 'x' | 'y'>, values: object, time: number): [number, number] {
  const own = values as Readonly<Record<string, number>>;
  const [x, y] = [own[end.x], own[end.y]];
  const motion = endMotion(document, item, end, time);
  return motion ? applyTo(motion, x, y) : [x, y];
}

/** The same in pixels of the layer. */
export function endOn<V extends object>({ document, item, values, time, size }: Scene<V>, x: keyof V & string, y: keyof V & string): [number, number] {
  const [px, py] = endAt(document, item, { x, y }, values, time);
  return [(px * size.width) / document.plate.width, (py * size.height) / document.plate.height];
}

/** Where what is seen on a frame lies on the one from which it goes with something, and that in pixels of the layer; null: where it is. */
export function ledOnLayer({ document, item, size }: Pick<Scene, 'document' | 'item' | 'size'>, time: number): Homography | null {
  const led = ledMotion(document, item, time);
  const toLayer = scaling(size.width / document.plate.width, size.height / document.plate.height);
  return led && multiply(toLayer, multiply(led, inverseOf(toLayer) as Homography));
}
