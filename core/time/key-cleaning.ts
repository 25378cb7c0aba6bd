/** Cleaning of keys: the fewest that hold a motion within a tolerance, and jitter smoothed out. */
import { type Animated, type Key, keyBefore } from './animated.ts';
import type { FrameRange } from './ranges.ts';
import type { ValueKind } from './reach.ts';

/** After so many keys in a row that cannot be reached in one stretch, none farther is tried. */
const PATIENCE = 24;

/**
 * The fewest of the keys in `range` with which, going evenly between them, every frame stays within `tolerance` of what it
 * was (shortest way through all stretches that hold it). Keys outside the range stay.
 * @param distance how far two values are apart, in the unit of the tolerance
 */
export function thinKeys<T>(keys: readonly Key<T>[], range: FrameRange, tolerance: number, kind: ValueKind<T>, distance: (a: T, b: T) => number): Key<T>[] {
  const first = keys.findIndex((k) => k.frame >= range.first);
  let last = keyBefore(keys, range.last);
  if (first < 0) return [...keys];
  last = Math.max(first, last);
  const inside = keys.slice(first, last + 1);
  const n = inside.length;
  if (n < 3) return [...keys];
  const was: Animated<T> = { keys: [...keys] };
  const before = new Map<number, T>();
  const valueBefore = (frame: number): T => {
    let value = before.get(frame);
    if (value === undefined) {
      value = kind.at(was, frame);
      before.set(frame, value);
    }
    return value;
  };
  const held = (i: number, j: number): boolean => {
    const pair: Animated<T> = {
      keys: [
        { ...inside[i], ease: 'linear' },
        { ...inside[j], ease: 'linear' },
      ],
    };
    for (let frame = inside[i].frame + 1; frame < inside[j].frame; frame++) if (distance(kind.at(pair, frame), valueBefore(frame)) > tolerance) return false;
    return true;
  };
  const cost = new Int32Array(n).fill(n + 1);
  const from = new Int32Array(n).fill(-1);
  cost[0] = 0;
  for (let i = 0; i < n - 1; i++) {
    let failed = 0;
    for (let j = i + 1; j < n && failed < PATIENCE; j++) {
      // The keys' own stretch always holds: it is kept with its own ease.
      if (j > i + 1 && !held(i, j)) {
        failed++;
        continue;
      }
      failed = 0;
      if (cost[i] + 1 < cost[j]) {
        cost[j] = cost[i] + 1;
        from[j] = i;
      }
    }
  }
  const kept: Key<T>[] = [inside[n - 1]];
  for (let j = n - 1; j > 0; j = from[j]) kept.unshift(from[j] === j - 1 ? inside[from[j]] : { ...inside[from[j]], ease: 'linear' });
  return [...keys.slice(0, first), ...kept, ...keys.slice(last + 1)];
}

/** Keys in `range` drawn towards what their neighbours say, `strength` in [0,1] of the way each of `rounds` times; ends stay. */
export function smoothKeys<T>(keys: readonly Key<T>[], range: FrameRange, strength: number, rounds: number, kind: ValueKind<T>): Key<T>[] {
  let out = [...keys];
  for (let round = 0; round < rounds; round++) {
    const now = out;
    out = now.map((key, i) => {
      const [before, after] = [now[i - 1], now[i + 1]];
      if (!before || !after || key.frame < range.first || key.frame > range.last) return key;
      const middle = kind.mix(before.value, after.value, (key.frame - before.frame) / (after.frame - before.frame));
      return { ...key, value: kind.mix(key.value, middle, strength * 0.5) };
    });
  }
  return out;
}
