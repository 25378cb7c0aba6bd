/**
 * The motion of a tracked thing as few numbers that can be charted, smoothed and mixed. `at` holds where its middle is, x and y in
 * plate pixels; then, where it does more than move, how its neighbourhood is stretched there (xx, xy, yx, yy); then, under
 * perspective, how that changes across it (a pixel). Each is told against the frame on which it was set.
 */
import { applyTo, type Homography, inverseOf, jacobianAt, type MotionModel, multiply, translation } from './homography.ts';

/** Two, six or eight numbers. */
export type At = readonly number[];

const NUMBERS: Record<MotionModel, number> = { move: 2, similarity: 6, affine: 6, perspective: 8 };
const STILL = [0, 0, 1, 0, 0, 1, 0, 0];
/** Decimals kept: a thousandth of a pixel, a thousand pixels from the middle too. */
const DECIMALS = [3, 3, 6, 6, 6, 6, 9, 9];

/** All eight numbers. */
export const wholeAt = (at: At): number[] => [...at, ...STILL.slice(at.length)];

export const roundedAt = (at: readonly number[]): number[] => at.map((v, i) => Math.round(v * 10 ** DECIMALS[i]) / 10 ** DECIMALS[i]);

/** Takes places of the plate on the frame where it was set, with its middle at `pivot`, to where they are now. */
export function motionOf(at: At, [px, py]: readonly number[]): Homography {
  const [x, y, xx, xy, yx, yy, g, h] = wholeAt(at);
  return multiply([xx + x * g, xy + x * h, x, yx + y * g, yy + y * h, y, g, h, 1], translation(-px, -py));
}

/** The numbers of a motion, rounded; those that the model has no use for are left out. */
export function atOf(motion: Homography, [px, py]: readonly number[], model: MotionModel): number[] {
  const [x, y] = applyTo(motion, px, py);
  const w = motion[6] * px + motion[7] * py + motion[8];
  return roundedAt([x, y, ...jacobianAt(motion, px, py), motion[6] / w, motion[7] / w].slice(0, NUMBERS[model]));
}

export const mixAt = (a: At, b: At, share: number): number[] => {
  const [p, q] = a.length === b.length ? [a, b] : [wholeAt(a), wholeAt(b)];
  return p.map((v, i) => v + (q[i] - v) * share);
};

/** Turn in radians (clockwise as seen, for y runs down) and growth of a stretch: the turn nearest to it, and the root of the area's. */
export function turnAndScale([xx, xy, yx, yy]: readonly number[]): { turn: number; scale: number } {
  return { turn: Math.atan2(yx - xy, xx + yy), scale: Math.sqrt(Math.abs(xx * yy - xy * yx)) };
}

/** What can be taken of a motion; shape is what is left: skew, uneven scale and perspective. */
export const ASPECTS = ['position', 'turn', 'scale', 'shape'] as const;
export type Aspect = (typeof ASPECTS)[number];

/** A turn about (0, 0) by so many radians, clockwise in a picture, and a growth. */
export const turned = (by: number, scale = 1): Homography => {
  const [c, s] = [Math.cos(by) * scale, Math.sin(by) * scale];
  return [c, -s, 0, s, c, 0, 0, 0, 1];
};

/**
 * Takes places of the plate on the frame of `then` to where they are on the frame of `now`, as far as `takes` goes. Null where it
 * was flattened to nothing.
 */
export function motionBetween(then: At, now: At, pivot: readonly number[], takes: readonly Aspect[]): Homography | null {
  const back = inverseOf(motionOf(then, pivot));
  if (!back) return null;
  const all = multiply(motionOf(now, pivot), back);
  const has = (aspect: Aspect) => takes.includes(aspect);
  if (ASPECTS.every(has)) return all;
  const to = has('position') ? now : then;
  if (!has('turn') && !has('scale') && !has('shape')) return translation(to[0] - then[0], to[1] - then[1]);
  const { turn, scale } = turnAndScale(jacobianAt(all, then[0], then[1]));
  if (!has('shape'))
    return multiply(translation(to[0], to[1]), multiply(turned(has('turn') ? turn : 0, has('scale') ? scale : 1), translation(-then[0], -then[1])));
  const undone = turned(has('turn') ? 0 : -turn, has('scale') ? 1 : 1 / scale);
  return multiply(translation(to[0], to[1]), multiply(undone, multiply(translation(-now[0], -now[1]), all)));
}

/** The numbers of a motion against a pivot, not rounded. */
const numbersOf = (motion: Homography, [px, py]: readonly number[]): number[] => {
  const w = motion[6] * px + motion[7] * py + motion[8];
  return [...applyTo(motion, px, py), ...jacobianAt(motion, px, py), motion[6] / w, motion[7] / w];
};

/** What is taken of a motion, told against a place. Null where it was flattened to nothing. */
export const takenOf = (motion: Homography, pivot: readonly number[], takes: readonly Aspect[]): Homography | null =>
  motionBetween(pivot, numbersOf(motion, pivot), pivot, takes);

/** A share of a motion in [0,1]: a place near the pivot goes that share of its way, and turns and grows by that share. */
export function shareOf(motion: Homography, pivot: readonly number[], share: number): Homography {
  if (share >= 1) return motion;
  const [x, y, ...stretch] = numbersOf(motion, pivot);
  const { turn, scale } = turnAndScale(stretch);
  const [px, py] = pivot;
  const plain = turned(turn, scale);
  const part = turned(turn * share, scale > 0 ? scale ** share : 1 + (scale - 1) * share);
  // What is left, skew and perspective, goes evenly.
  const at = [px + (x - px) * share, py + (y - py) * share];
  const left = [0, 1, 3, 4].map((i, k) => part[i] + (stretch[k] - plain[i]) * share);
  return motionOf([...at, ...left, stretch[4] * share, stretch[5] * share], pivot);
}
