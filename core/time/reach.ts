/** Reach: which frames an edit of a keyed value changes, and the keys that make it so. */
import { clamp, smoothstep } from '../math/clamp.ts';
import { type Animated, choiceAt, hasKeys, type Key, keyBefore, mixChoices, mixLists, mixNumbers, valueAt, withKeySplit } from './animated.ts';
import type { FrameRange } from './ranges.ts';

export const REACHES = ['this-frame', 'between-keys', 'marked-range', 'all-frames'] as const;
/**
 * this-frame: only this frame; its neighbours are held by keys of their own. between-keys: a key here, so the frames as far
 * as the neighbouring keys change, ever less towards them. marked-range: the same difference on all frames of a range, fading
 * at its ends over some frames. all-frames: the same difference on every key.
 */
export type Reach = (typeof REACHES)[number];

/** What Reach needs to know of the shot. */
export interface ReachContext {
  /** Frames of the shot. */
  frames: number;
  /** The marked range; without one, marked-range reaches all frames. */
  range: FrameRange | null;
  /** Frames over which a difference fades in and out within the marked range, >= 0. */
  fade: number;
}

/** How values of one kind go over time, and how a value moves by the difference of two others. */
export interface ValueKind<T> {
  at(animated: Animated<T>, time: number): T;
  mix(a: T, b: T, share: number): T;
  shift(value: T, from: T, to: T): T;
  /** How many keys beyond its neighbours a key still has a say in: 0 where frames depend on the two keys round them alone. */
  beyond: number;
}

export const NUMBERS: ValueKind<number> = {
  at: (animated, time) => valueAt(animated, time, mixNumbers),
  mix: mixNumbers,
  shift: (value, from, to) => value + to - from,
  beyond: 0,
};

/** Lists of numbers: colours, curves, stops. */
export const LISTS: ValueKind<number[]> = {
  at: (animated, time) => valueAt(animated, time, mixLists),
  mix: mixLists,
  shift: (v, from, to) => (v.length === to.length && v.length === from.length ? v.map((n, i) => n + to[i] - from[i]) : to),
  beyond: 0,
};

/** One of several words: no difference can be taken, so what an edit reaches becomes the new choice. */
export const CHOICES: ValueKind<string> = { at: choiceAt, mix: mixChoices, shift: (_value, _from, to) => to, beyond: 0 };

/** The marked range that counts for an edit at `frame`: cut to the shot; null where the frame is not in it. */
function markedRange(frame: number, { frames, range }: ReachContext): FrameRange | null {
  const first = Math.max(0, range?.first ?? 0);
  const last = Math.min(frames - 1, range?.last ?? frames - 1);
  return frame >= first && frame <= last ? { first, last } : null;
}

/** Frames round `frame` whose values a new key there takes part in. */
function spanOf<T>(keys: readonly Key<T>[], frame: number, beyond: number, frames: number): FrameRange {
  const i = keyBefore(keys, frame);
  const here = i >= 0 && keys[i].frame === frame;
  const before = keys[(here ? i - 1 : i) - beyond];
  const after = keys[i + 1 + beyond];
  return { first: before ? Math.min(before.frame + 1, frame) : 0, last: after ? Math.max(after.frame - 1, frame) : frames - 1 };
}

/** The frames that an edit at `frame` will change, first and last, and how many keys it sets. */
export function reachedFrames<T>(animated: Animated<T>, frame: number, reach: Reach, context: ReachContext, beyond = 0): FrameRange & { keys: number } {
  const { frames } = context;
  if (!hasKeys(animated)) return { first: 0, last: frames - 1, keys: 0 };
  if (reach === 'all-frames') return { first: 0, last: frames - 1, keys: animated.keys.length };
  if (reach === 'this-frame') {
    if (beyond === 0) return { first: frame, last: frame, keys: 1 };
    return { ...spanOf(animated.keys, frame, beyond, frames), keys: 1 };
  }
  if (reach === 'marked-range') {
    const range = markedRange(frame, context);
    if (range) return { ...range, keys: animated.keys.filter((k) => k.frame >= range.first && k.frame <= range.last).length };
  }
  return { ...spanOf(animated.keys, frame, beyond, frames), keys: 1 };
}

/** Strength of a difference at a frame of the range: 1 inside, falling smoothly to 0 just outside over `fade` frames. */
function fadeWeight(frame: number, { first, last }: FrameRange, fade: number, frames: number): number {
  const ramp = (distance: number): number => {
    const t = clamp(distance / (fade + 1), 0, 1);
    return smoothstep(t);
  };
  // At the ends of the shot there is nothing to fade into.
  const rising = first === 0 ? 1 : ramp(frame - first + 1);
  const falling = last === frames - 1 ? 1 : ramp(last - frame + 1);
  return Math.min(rising, falling);
}

/** A value that is set on a frame, and which others that may change. */
export interface ValueChange<T> {
  frame: number;
  value: T;
  reach: Reach;
  context: ReachContext;
}

/**
 * All keys after an edit, so that the value is `value` at `frame`, changing the frames that `reach` allows and no other. Null
 * for a constant, which has one value for all frames whatever the reach. A frame outside the marked range is edited between
 * its keys.
 */
export function keysForReach<T>(animated: Animated<T>, { frame, value, reach, context }: ValueChange<T>, kind: ValueKind<T>): Key<T>[] | null {
  if (!hasKeys(animated)) return null;
  const { frames } = context;
  const now = kind.at(animated, frame);
  let { keys } = animated;
  if (reach === 'all-frames') return keys.map((k) => ({ ...k, value: kind.shift(k.value, now, value) }));
  const pin = (f: number) => {
    if (f >= 0 && f < frames) keys = withKeySplit(keys, f, kind.at(animated, f));
  };
  const range = reach === 'marked-range' ? markedRange(frame, context) : null;
  if (range) {
    const { first, last } = range;
    const { fade } = context;
    // Keys just outside hold what lies there; keys where the fade begins and ends give it its form.
    for (const f of [first - 1, first, first + fade, last - fade, last, last + 1]) if (f === first - 1 || f === last + 1 || (f >= first && f <= last)) pin(f);
    pin(frame);
    return keys.map((k) => {
      if (k.frame < first || k.frame > last) return k;
      if (k.frame === frame) return { ...k, value };
      const weight = fadeWeight(k.frame, range, fade, frames) / Math.max(1e-6, fadeWeight(frame, range, fade, frames));
      const moved = kind.shift(k.value, now, value);
      return { ...k, value: weight >= 1 ? moved : kind.mix(k.value, moved, weight) };
    });
  }
  if (reach === 'this-frame') {
    pin(frame - 1);
    pin(frame + 1);
  }
  return withKeySplit(keys, frame, value);
}

/** Keys of `after` that are not in `before` as they are, and frames of those that are gone: what an edit has to say. */
export function keyDifference<T>(before: readonly Key<T>[], after: readonly Key<T>[]): { set: Key<T>[]; clear: number[] } {
  const old = new Map(before.map((k) => [k.frame, k]));
  const kept = new Set(after.map((k) => k.frame));
  return { set: after.filter((k) => old.get(k.frame) !== k), clear: before.filter((k) => !kept.has(k.frame)).map((k) => k.frame) };
}
