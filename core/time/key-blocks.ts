/** Keys of a range of frames handled together: moved, stretched, turned round, copied and deleted. */
import { type Key, withKeys } from './animated.ts';
import { reversedEase } from './ease.ts';
import type { FrameRange } from './ranges.ts';

const within =
  ({ first, last }: FrameRange) =>
  (k: { frame: number }) =>
    k.frame >= first && k.frame <= last;

export const keysIn = <T>(keys: readonly Key<T>[], range: FrameRange): Key<T>[] => keys.filter(within(range));

/** Keys put in at new frames, replacing what is there; those that fall outside the shot are let go. */
const placed = <T>(rest: readonly Key<T>[], moved: readonly Key<T>[], frames: number): Key<T>[] =>
  withKeys(
    rest,
    moved.filter((k) => k.frame >= 0 && k.frame < frames),
    [],
  );

export const withoutRange = <T>(keys: readonly Key<T>[], range: FrameRange): Key<T>[] => keys.filter((k) => !within(range)(k));

export function shiftKeys<T>(keys: readonly Key<T>[], range: FrameRange, by: number, frames: number): Key<T>[] {
  return placed(
    withoutRange(keys, range),
    keysIn(keys, range).map((k) => ({ ...k, frame: k.frame + by })),
    frames,
  );
}

/** Distances from the range's first frame multiplied by `factor` (> 0), rounded to frames; where two meet the later one stays. */
export function stretchKeys<T>(keys: readonly Key<T>[], range: FrameRange, factor: number, frames: number): Key<T>[] {
  return placed(
    withoutRange(keys, range),
    keysIn(keys, range).map((k) => ({ ...k, frame: range.first + Math.round((k.frame - range.first) * factor) })),
    frames,
  );
}

/** The keys of a range in reverse, eases turned round as well. */
export function reverseKeys<T>(keys: readonly Key<T>[], range: FrameRange): Key<T>[] {
  const inside = keysIn(keys, range);
  if (inside.length < 2) return [...keys];
  const [first, last] = [inside[0].frame, inside[inside.length - 1].frame];
  const turned = inside.map((k, i) => ({
    frame: first + last - k.frame,
    value: k.value,
    // The stretch after this key, turned, is the one that was before it.
    ease: i > 0 ? reversedEase(inside[i - 1].ease) : inside[inside.length - 1].ease,
  }));
  return placed(withoutRange(keys, range), turned, Number.POSITIVE_INFINITY);
}

/** Copied keys put down so that the first of them lies at `at`. */
export function pasteKeys<T>(keys: readonly Key<T>[], copied: readonly Key<T>[], at: number, frames: number): Key<T>[] {
  if (copied.length === 0) return [...keys];
  const by = at - copied[0].frame;
  return placed(
    keys,
    copied.map((k) => ({ ...k, frame: k.frame + by })),
    frames,
  );
}
