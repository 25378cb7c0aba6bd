/** Reach: which frames an edit of a keyed path changes, and the keys that make it so. */
import { type Animated, hasKeys, type Key, keyBefore, valueAt } from '../time/animated.ts';
import { mixShapes, type Shape } from './path.ts';

export const REACHES = ['this-frame', 'between-keys', 'all-frames'] as const;
/**
 * this-frame: only this frame; its neighbours are held by keys of their own. between-keys: a key here, so the frames as far
 * as the neighbouring keys change. all-frames: the same offsets are added to every key.
 */
export type Reach = (typeof REACHES)[number];

/** The frames that an edit at `frame` will change, first and last, for a shot of `frames` frames. */
export function reachedFrames(animated: Animated<Shape>, frame: number, reach: Reach, frames: number): { first: number; last: number; keys: number } {
  if (!hasKeys(animated) || reach === 'all-frames') return { first: 0, last: frames - 1, keys: hasKeys(animated) ? animated.keys.length : 0 };
  if (reach === 'this-frame') return { first: frame, last: frame, keys: 1 };
  const { keys } = animated;
  const i = keyBefore(keys, frame);
  const here = i >= 0 && keys[i].frame === frame;
  const before = here ? keys[i - 1] : keys[i];
  const after = keys[i + 1];
  if (keys.length === 1 && here) return { first: 0, last: frames - 1, keys: 1 };
  return {
    first: before ? Math.min(before.frame + 1, frame) : 0,
    last: after ? Math.max(after.frame - 1, frame) : frames - 1,
    keys: 1,
  };
}

const offsetShape = (shape: Shape, from: Shape, to: Shape): Shape =>
  shape.length !== to.length
    ? shape
    : shape.map((v, i) => {
        const a = from[i];
        const b = to[i];
        return {
          x: v.x + b.x - a.x,
          y: v.y + b.y - a.y,
          inX: v.inX + b.inX - a.inX,
          inY: v.inY + b.inY - a.inY,
          outX: v.outX + b.outX - a.outX,
          outY: v.outY + b.outY - a.outY,
        };
      });

/** The keys to set so that the path has `shape` at `frame`, changing the frames that `reach` allows and no other. */
export function keysForReach(animated: Animated<Shape>, frame: number, shape: Shape, reach: Reach, frames: number): Key<Shape>[] {
  const now = valueAt(animated, frame, mixShapes);
  if (!hasKeys(animated)) {
    if (reach !== 'this-frame') return [{ frame, value: shape, ease: 'linear' }];
    const around = [frame - 1, frame + 1].filter((f) => f >= 0 && f < frames);
    return [...around.map((f): Key<Shape> => ({ frame: f, value: now, ease: 'linear' })), { frame, value: shape, ease: 'linear' as const }].sort((a, b) => a.frame - b.frame);
  }
  const { keys } = animated;
  if (reach === 'all-frames') {
    const moved = keys.map((k) => ({ ...k, value: offsetShape(k.value, now, shape) }));
    return moved;
  }
  const i = keyBefore(keys, frame);
  const ease = i >= 0 ? keys[i].ease : 'linear';
  const here: Key<Shape> = { frame, value: shape, ease };
  if (reach === 'between-keys') return [here];
  const guards: Key<Shape>[] = [];
  for (const f of [frame - 1, frame + 1]) {
    if (f < 0 || f >= frames || keys.some((k) => k.frame === f)) continue;
    const j = keyBefore(keys, f);
    guards.push({ frame: f, value: valueAt(animated, f, mixShapes), ease: j >= 0 ? keys[j].ease : 'linear' });
  }
  return [...guards, here].sort((a, b) => a.frame - b.frame);
}
