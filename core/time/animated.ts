/** Values over time: one shape for numbers, colours, points and whole paths. */
import { z } from 'zod';

export const EASES = ['linear', 'hold', 'ease-in', 'ease-out', 'ease-both'] as const;
export const easeSchema = z.enum(EASES);
/** How the value goes from this key to the next. */
export type Ease = z.infer<typeof easeSchema>;

export interface Key<T> {
  /** Integer frame from 0. */
  frame: number;
  value: T;
  ease: Ease;
}

/** Either one value for all time, or keys in rising frame order (at least one). */
export type Animated<T> = { constant: T } | { keys: Key<T>[] };

export const frameSchema = z.number().int().min(0).max(10_000_000);

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

/** Share of the way from one key to the next after easing; `t` and the result in [0,1]. */
export function easedShare(ease: Ease, t: number): number {
  switch (ease) {
    case 'hold':
      return 0;
    case 'ease-in':
      return t * t * t;
    case 'ease-out':
      return 1 - (1 - t) ** 3;
    case 'ease-both':
      return t * t * (3 - 2 * t);
    default:
      return t;
  }
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

export const mixLists = (a: number[], b: number[], share: number): number[] => a.map((v, i) => v + ((b[i] ?? v) - v) * share);

export const numberAt = (animated: Animated<number>, time: number): number => valueAt(animated, time, mixNumbers);

export const hasKeys = <T>(animated: Animated<T>): animated is { keys: Key<T>[] } => 'keys' in animated;

/** Frames that hold a key, rising. */
export const keyFrames = <T>(animated: Animated<T>): number[] => (hasKeys(animated) ? animated.keys.map((k) => k.frame) : []);

/** `keys` with those in `clear` gone and those in `set` put in or replaced; rising order kept. */
export function withKeys<T>(keys: readonly Key<T>[], set: readonly Key<T>[], clear: readonly number[]): Key<T>[] {
  const byFrame = new Map(keys.map((k) => [k.frame, k]));
  for (const frame of clear) byFrame.delete(frame);
  for (const key of set) byFrame.set(key.frame, key);
  return [...byFrame.values()].sort((a, b) => a.frame - b.frame);
}
