/** The geometry of the curve editor: keys, handles and samples of one setting, in frames across and values up. */
import { clamp } from '~/core/math/clamp.ts';
import type { Key } from '~/core/time/animated.ts';
import { type Ease, easedShare, easedSpeed, timingOf } from '~/core/time/ease.ts';

/** A key as the editor sees it: shapes count their keys, so that their curve says how far along the way they are. */
export interface GraphKey {
  frame: number;
  value: number;
  ease: Ease;
}

export const graphKeys = (keys: readonly Key<unknown>[]): GraphKey[] =>
  keys.map((k, i) => ({ frame: k.frame, ease: k.ease, value: typeof k.value === 'number' ? k.value : i }));

export type Mode = 'value' | 'speed';

/** Value, or change of value a frame, at a time within the keys. */
export function graphAt(keys: readonly GraphKey[], time: number, mode: Mode): number {
  const after = keys.findIndex((k) => k.frame > time);
  const i = after < 0 ? keys.length - 1 : after - 1;
  if (i < 0) return mode === 'value' ? keys[0].value : 0;
  const [a, b] = [keys[i], keys[i + 1]];
  if (!b) return mode === 'value' ? a.value : 0;
  const span = b.frame - a.frame;
  const share = (time - a.frame) / span;
  if (mode === 'value') return a.value + (b.value - a.value) * easedShare(a.ease, share);
  return a.ease === 'hold' ? 0 : ((b.value - a.value) / span) * easedSpeed(a.ease, share);
}

/** Smallest and largest of what the graph shows, with some room. */
export function graphBounds(keys: readonly GraphKey[], first: number, last: number, mode: Mode): [number, number] {
  let low = Number.POSITIVE_INFINITY;
  let high = Number.NEGATIVE_INFINITY;
  const step = Math.max(0.25, (last - first) / 400);
  for (let t = first; t <= last; t += step) {
    const v = graphAt(keys, t, mode);
    low = Math.min(low, v);
    high = Math.max(high, v);
  }
  if (high - low < 1e-6) [low, high] = [low - 1, high + 1];
  const room = (high - low) * 0.15;
  return [low - room, high + room];
}

export interface Handle {
  /** The stretch after which key, and which of its two control points. */
  key: number;
  end: 'leave' | 'arrive';
  frame: number;
  value: number;
}

/** The control points of the stretches round a key. In speed, they stand at the speed with which the key is left or reached. */
export function handlesOf(keys: readonly GraphKey[], index: number, mode: Mode): Handle[] {
  const out: Handle[] = [];
  const add = (key: number, end: Handle['end']) => {
    const [a, b] = [keys[key], keys[key + 1]];
    const curve = a && b ? timingOf(a.ease) : null;
    if (!curve) return;
    const [span, rise] = [b.frame - a.frame, b.value - a.value];
    const [x, y] = end === 'leave' ? [curve[0], curve[1]] : [curve[2], curve[3]];
    const frame = a.frame + x * span;
    if (mode === 'value') out.push({ key, end, frame, value: a.value + y * rise });
    else {
      const slope = end === 'leave' ? y / Math.max(1e-3, x) : (1 - y) / Math.max(1e-3, 1 - x);
      out.push({ key, end, frame, value: (rise / span) * slope });
    }
  };
  add(index, 'leave');
  add(index - 1, 'arrive');
  return out;
}

/** The ease that a stretch has once one of its control points is put at (frame, value). */
export function easeFor(keys: readonly GraphKey[], handle: { key: number; end: Handle['end'] }, frame: number, value: number, mode: Mode): Ease {
  const [a, b] = [keys[handle.key], keys[handle.key + 1]];
  const curve = timingOf(a.ease) ?? timingOf('linear');
  if (!b || !curve) return a.ease;
  const [span, rise] = [b.frame - a.frame, b.value - a.value];
  const x = clamp((frame - a.frame) / span, 0, 1);
  let y: number;
  if (Math.abs(rise) < 1e-9) y = handle.end === 'leave' ? 0 : 1;
  else if (mode === 'value') y = (value - a.value) / rise;
  else {
    const slope = (value * span) / rise;
    y = handle.end === 'leave' ? slope * Math.max(1e-3, x) : 1 - slope * Math.max(1e-3, 1 - x);
  }
  y = clamp(y, -20, 21);
  return handle.end === 'leave' ? [x, y, curve[2], curve[3]] : [curve[0], curve[1], x, y];
}

/**
 * Keys with those in `which` moved by `frames` and, for numbers, by `value`: none leaves the shot, none goes past a key that
 * stays (they stop beside it).
 */
export function moveKeys(keys: readonly Key<unknown>[], which: ReadonlySet<number>, frames: number, value: number, shotFrames: number): Key<unknown>[] {
  let by = Math.round(frames);
  for (const [i, k] of keys.entries()) {
    if (!which.has(i)) continue;
    const before = keys[i - 1];
    const after = keys[i + 1];
    const least = before && !which.has(i - 1) ? before.frame + 1 : 0;
    const most = after && !which.has(i + 1) ? after.frame - 1 : shotFrames - 1;
    by = clamp(by, least - k.frame, most - k.frame);
  }
  return keys.map((k, i) => (which.has(i) ? { ...k, frame: k.frame + by, value: typeof k.value === 'number' ? k.value + value : k.value } : k));
}
