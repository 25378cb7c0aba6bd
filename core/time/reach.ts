/** Reach: which frames an edit of a keyed value changes, and the keys that make it so. */
import { type Animated, hasKeys, type Key, keyBefore, valueAt } from './animated.ts';

export const REACHES = ['this-frame', 'between-keys', 'all-frames'] as const;
/**
 * this-frame: only this frame; its neighbours are held by keys of their own. between-keys: a key here, so the frames as far
 * as the neighbouring keys change. all-frames: the same difference is added to every key.
 */
export type Reach = (typeof REACHES)[number];

/** How values of one kind mix between keys, and how a value moves by the difference of two others. */
export interface ValueKind<T> {
  mix(a: T, b: T, share: number): T;
  shift(value: T, from: T, to: T): T;
}

export const NUMBERS: ValueKind<number> = {
  mix: (a, b, share) => a + (b - a) * share,
  shift: (value, from, to) => value + to - from,
};

/** The frames that an edit at `frame` will change, first and last, and the keys it sets, for a shot of `frames` frames. */
export function reachedFrames<T>(animated: Animated<T>, frame: number, reach: Reach, frames: number): { first: number; last: number; keys: number } {
  if (!hasKeys(animated)) return { first: 0, last: frames - 1, keys: 0 };
  if (reach === 'all-frames') return { first: 0, last: frames - 1, keys: animated.keys.length };
  if (reach === 'this-frame') return { first: frame, last: frame, keys: 1 };
  const { keys } = animated;
  const i = keyBefore(keys, frame);
  const here = i >= 0 && keys[i].frame === frame;
  const before = here ? keys[i - 1] : keys[i];
  const after = keys[i + 1];
  return {
    first: before ? Math.min(before.frame + 1, frame) : 0,
    last: after ? Math.max(after.frame - 1, frame) : frames - 1,
    keys: 1,
  };
}

/**
 * The keys to set so that the value is `value` at `frame`, changing the frames that `reach` allows and no other. Null for a
 * constant, which has one value for all frames whatever the reach.
 */
export function keysForReach<T>(animated: Animated<T>, frame: number, value: T, reach: Reach, frames: number, kind: ValueKind<T>): Key<T>[] | null {
  if (!hasKeys(animated)) return null;
  const now = valueAt(animated, frame, kind.mix);
  const { keys } = animated;
  if (reach === 'all-frames') return keys.map((k) => ({ ...k, value: kind.shift(k.value, now, value) }));
  const i = keyBefore(keys, frame);
  const here: Key<T> = { frame, value, ease: i >= 0 ? keys[i].ease : 'linear' };
  if (reach === 'between-keys') return [here];
  const guards: Key<T>[] = [];
  for (const f of [frame - 1, frame + 1]) {
    if (f < 0 || f >= frames || keys.some((k) => k.frame === f)) continue;
    const j = keyBefore(keys, f);
    guards.push({ frame: f, value: valueAt(animated, f, kind.mix), ease: j >= 0 ? keys[j].ease : 'linear' });
  }
  return [...guards, here].sort((a, b) => a.frame - b.frame);
}
