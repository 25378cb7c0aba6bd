/** Frames on which an animated value can differ between two states of it. */
import { type Animated, hasKeys, type Key } from '../time/animated.ts';
import type { FrameRange } from '../time/ranges.ts';

export const EVERYWHERE: FrameRange = { first: 0, last: Number.MAX_SAFE_INTEGER };

/**
 * A range that holds all frames on which two animated values can differ; null where they are the same. `beyond` is how many
 * keys more than its two neighbours a frame depends on.
 */
export function changedFrames<T>(before: Animated<T>, after: Animated<T>, beyond: number): FrameRange | null {
  if (before === after) return null;
  if (!hasKeys(before) || !hasKeys(after)) return JSON.stringify(before) === JSON.stringify(after) ? null : EVERYWHERE;
  const same = (a: Key<T> | undefined, b: Key<T> | undefined) => a === b || (a && b && a.frame === b.frame && JSON.stringify(a) === JSON.stringify(b));
  const [p, q] = [before.keys, after.keys];
  let head = 0;
  while (head < p.length && head < q.length && same(p[head], q[head])) head++;
  if (head === p.length && head === q.length) return null;
  let tail = 0;
  while (tail < p.length - head && tail < q.length - head && same(p[p.length - 1 - tail], q[q.length - 1 - tail])) tail++;
  // The last key that is the same before the difference, and the first after it, hold their own frames.
  const last = p[head - 1 - beyond];
  const next = p[p.length - tail + beyond];
  // A key whose ease alone changed still holds its frame, and so does one at the head of the difference that moved nothing.
  const leads = p[head] && q[head] && p[head].frame === q[head].frame && JSON.stringify(p[head].value) === JSON.stringify(q[head].value);
  const first = leads && beyond === 0 ? p[head].frame + 1 : last ? last.frame + 1 : 0;
  return { first, last: next ? next.frame - 1 : EVERYWHERE.last };
}
