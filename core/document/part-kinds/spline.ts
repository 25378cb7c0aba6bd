/** Curves as a mask. */
import { hasKeys, keyFrames, keysLater } from '../../time/animated.ts';
import type { FrameRange } from '../../time/ranges.ts';
import { changedFrames, EVERYWHERE } from '../changed-frames.ts';
import { type Carried, carriedIn, placedPathsOf, placedSpline } from '../follow.ts';
import { newPart } from '../records.ts';
import type { Path, SplinePart } from '../schema.ts';
import type { DocumentChange, PartKind } from './kind.ts';

export const newSpline = (id: string, name: string, paths: Path[] = []): SplinePart => ({ ...newPart(id, name), type: 'spline', paths, follow: null });

/** Frames on which what carries the curves of a part can differ. */
function changedByCarrying(before: Carried | null, after: Carried | null): FrameRange | null {
  if (!before || !after) return before === after ? null : EVERYWHERE;
  const same = JSON.stringify([before.pivot, before.follow]) === JSON.stringify([after.pivot, after.follow]);
  const changed = same ? changedFrames(before.way, after.way, 0) : EVERYWHERE;
  const { frame } = after.follow;
  // All is told against the frame from which it follows.
  return changed && changed.first <= frame && frame <= changed.last ? EVERYWHERE : changed;
}

/** Frames on which its curves, or what carries them, can differ. */
function changedBySpline(before: SplinePart, after: SplinePart, { was, is }: DocumentChange): (FrameRange | null)[] {
  const changed = [changedByCarrying(carriedIn(was, before), carriedIn(is, after))];
  const then = new Map(placedPathsOf(was, before).map((p) => [p.id, p.pins]));
  for (const { id, shape, pins } of placedPathsOf(is, after)) {
    const own = then.get(id);
    // Which track a point follows is a matter of the shape, and told by that.
    for (const [track, way] of Object.entries(pins ?? {})) {
      const range = own?.[track] ? changedFrames(own[track], way, 0) : null;
      const shapes = hasKeys(shape) ? shape.keys.map((k) => k.value) : [shape.constant];
      const told = shapes[0].some((v) => v.pin?.track === track && range && range.first <= v.pin.frame && v.pin.frame <= range.last);
      changed.push(told ? EVERYWHERE : range);
    }
  }
  if (before.paths === after.paths) return changed;
  const byId = new Map<string, [Path | undefined, Path | undefined]>();
  for (const p of before.paths) byId.set(p.id, [p, undefined]);
  for (const p of after.paths) byId.set(p.id, [byId.get(p.id)?.[0], p]);
  for (const [p, q] of byId.values()) {
    if (p === q) continue;
    if (!p || !q || p.closed !== q.closed || p.between !== q.between) {
      // An open curve masks nothing.
      if (p?.closed || q?.closed) changed.push(EVERYWHERE);
    } else if (p.closed) changed.push(changedFrames(p.shape, q.shape, p.between === 'smooth' ? 1 : 0));
  }
  return changed;
}

function remark({ paths }: SplinePart): string | null {
  if (paths.length === 0) return 'nothing is drawn yet';
  const open = paths.filter((p) => !p.closed).length;
  if (open === 0) return null;
  if (open === paths.length) return open === 1 ? 'its curve is open and masks nothing: close it' : 'its curves are open and mask nothing: close them';
  return open === 1 ? 'one of its curves is open and masks nothing' : `${open} of its curves are open and mask nothing`;
}

export const SPLINE: PartKind<SplinePart> = {
  assignable: ['follow'],
  holds: { field: 'paths', takes: ['path'] },
  keyed: {},
  masks: ({ paths }) => paths.some((p) => p.closed),
  remark,
  mask: (document, part) => ({ from: 'curves', spline: placedSpline(document, part) }),
  changes: changedBySpline,
  workedOn: ({ paths }) => paths.flatMap((p) => keyFrames(p.shape)),
  later: (part, by) => ({ ...part, paths: part.paths.map((p) => ({ ...p, shape: keysLater(p.shape, by) })) }),
};
