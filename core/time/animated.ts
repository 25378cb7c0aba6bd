/** Values over time: one shape for numbers, colours, points and whole paths. */
import { z } from 'zod';
import { type Ease, easedShare, easeSchema, splitEase } from './ease.ts';

export interface Key<T> {
  /** Integer frame from 0. */
  frame: number;
  value: T;
  /** How the value goes from this key to the next. */
  ease: Ease;
}

/** Either one value for all time, or keys in rising frame order (at least one). */
export type Animated<T> = { constant: T } | { keys: Key<T>[] };

/** The highest number that a frame can have. */
export const LAST_FRAME = 10_000_000;
export const frameSchema = z.number().int().min(0).max(LAST_FRAME);

/** Schema of an animated value whose single values satisfy `value`. */
export function animatedSchema<S extends z.ZodType>(value: S) {
  const key = z.strictObject({ frame: frameSchema, value, ease: easeSchema });
  const rising = (keys: { frame: number }[]) => keys.every((k, i) => i === 0 || keys[i - 1].frame < k.frame);
  return z.union([
    z.strictObject({ constant: value }),
    z.strictObject({
      keys: z.array(key).min(1).max(100_000).refine(rising, { error: 'Keys must be in rising order of frames, one a frame.' }),
    }),
  ]);
}

/** Index of the last key at or before `time`, or -1. */
export function keyBefore<T>(keys: readonly Key<T>[], time: number): number {
  let low = 0;
  let high = keys.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (keys[middle].frame <= time) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

/** The value at `time` (frames, fractions allowed). `mix(a, b, share)` blends two key values. Exact at keys. */
export function valueAt<T>(animated: Animated<T>, time: number, mix: (a: T, b: T, share: number) => T): T {
  if ('constant' in animated) return animated.constant;
  const { keys } = animated;
  const i = keyBefore(keys, time);
  if (i < 0) return keys[0].value;
  if (i === keys.length - 1 || keys[i].frame === time) return keys[i].value;
  const share = easedShare(keys[i].ease, (time - keys[i].frame) / (keys[i + 1].frame - keys[i].frame));
  return share === 0 ? keys[i].value : mix(keys[i].value, keys[i + 1].value, share);
}

export const mixNumbers = (a: number, b: number, share: number): number => a + (b - a) * share;

/** Lists of different lengths have nothing between them: the first stands until the next key. */
export const mixLists = (a: number[], b: number[], share: number): number[] => (a.length === b.length ? a.map((v, i) => v + (b[i] - v) * share) : a);

/** Choices have nothing between them: each stands until the next key. */
export const mixChoices = <T>(a: T): T => a;

export const choiceAt = <T>(animated: Animated<T>, time: number): T => valueAt(animated, time, mixChoices);

export const numberAt = (animated: Animated<number>, time: number): number => valueAt(animated, time, mixNumbers);

export const hasKeys = <T>(animated: Animated<T>): animated is { keys: Key<T>[] } => 'keys' in animated;

/** Where `time` lies between two keys: the index of the one before and the eased share of the way; null outside or on a key. */
export function stretchAt<T>(keys: readonly Key<T>[], time: number): { index: number; share: number } | null {
  const index = keyBefore(keys, time);
  if (index < 0 || index === keys.length - 1 || keys[index].frame === time) return null;
  return { index, share: easedShare(keys[index].ease, (time - keys[index].frame) / (keys[index + 1].frame - keys[index].frame)) };
}

/**
 * `keys` with a key holding `value` at `frame`, and the eases of the stretch it divides split, so that a key that only says
 * what was there changes no frame.
 */
export function withKeySplit<T>(keys: readonly Key<T>[], frame: number, value: T): Key<T>[] {
  const i = keyBefore(keys, frame);
  if (i >= 0 && keys[i].frame === frame) return keys.map((k, n) => (n === i ? { ...k, value } : k));
  if (i < 0) return [{ frame, value, ease: 'linear' }, ...keys];
  const before = keys[i];
  const after = keys[i + 1];
  const [first, second]: [Ease, Ease] = after
    ? splitEase(before.ease, (frame - before.frame) / (after.frame - before.frame))
    : [before.ease === 'hold' ? 'hold' : 'linear', before.ease];
  return [...keys.slice(0, i), { ...before, ease: first }, { frame, value, ease: second }, ...keys.slice(i + 1)];
}

/** Frames that hold a key, rising. */
/** All values that are set: of its keys, or the one that it has. */
export const valuesIn = <T>(animated: Animated<T>): T[] => (hasKeys(animated) ? animated.keys.map((k) => k.value) : [animated.constant]);

export const keyFrames = <T>(animated: Animated<T>): number[] => (hasKeys(animated) ? animated.keys.map((k) => k.frame) : []);

/** `keys` with those in `clear` gone and those in `set` put in or replaced; rising order kept. */
export function withKeys<T>(keys: readonly Key<T>[], set: readonly Key<T>[], clear: readonly number[]): Key<T>[] {
  const byFrame = new Map(keys.map((k) => [k.frame, k]));
  for (const frame of clear) byFrame.delete(frame);
  for (const key of set) byFrame.set(key.frame, key);
  return [...byFrame.values()].sort((a, b) => a.frame - b.frame);
}

/** The value with its keys `by` frames later; those that would fall before frame 0 lie on it, the last of them. */
export function keysLater<T>(value: Animated<T>, by: number): Animated<T> {
  if (!hasKeys(value)) return value;
  const to = (frame: number) => Math.max(0, frame + by);
  return { keys: [...new Map(value.keys.map((k) => [to(k.frame), { ...k, frame: to(k.frame) }])).values()] };
}
