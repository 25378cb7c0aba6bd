/** Approved frames: what the artist called right stays as it is until it is released. */
import { CONTROLS, peelKeys } from '../peel/results/inputs.ts';
import { type Animated, hasKeys, type Key } from '../time/animated.ts';
import { type FrameRange, isWithin } from '../time/ranges.ts';
import { type PeelTask, peelTask } from './fence.ts';
import { type Carried, carriedIn, placedPathsOf } from './follow.ts';
import type { Part, Path, ShotDocument, Subject } from './schema.ts';

export const isApproved = (subject: Subject, frame: number): boolean => isWithin(subject.approved, frame);

/** Doubt of 0 to 100 from which on a found frame is worth a look. */
export const DOUBTFUL = 50;

/** Whether a frame that was found for a subject is doubtful still: what was painted there, or approved, is not. */
export const isDoubtful = (subject: Subject | null, { frame, doubt, anchor }: { frame: number; doubt: number; anchor: number | null }): boolean =>
  doubt >= DOUBTFUL && anchor !== frame && !(subject && isApproved(subject, frame));

const EVERYWHERE: FrameRange = { first: 0, last: Number.MAX_SAFE_INTEGER };

/**
 * A range that holds all frames on which two animated values can differ; null where they are the same. `beyond` is how many
 * keys more than its two neighbours a frame depends on.
 */
function changedFrames<T>(before: Animated<T>, after: Animated<T>, beyond: number): FrameRange | null {
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

/** Frames near approved ones, on which a change may reach them. */
const near = (approved: readonly FrameRange[], frames: number): FrameRange[] =>
  approved.map((r) => ({ first: Math.max(0, r.first - MOST_WIDENED), last: Math.min(frames - 1, r.last + MOST_WIDENED) }));

/** Those of the asked frames of a Peel that are found anew for what changed in it. */
function changedByPeel(before: PeelTask, after: PeelTask, asked: readonly FrameRange[]): FrameRange[] {
  const same = [...CONTROLS, 'strokes', 'hidden', 'held', 'fencing'] as const;
  if (same.every((field) => before[field] === after[field])) return [];
  const [was, is] = [peelKeys(before), peelKeys(after)];
  const holding = new Set(after.held.map((h) => h.frame));
  // What is painted on a frame that is held would count for nothing, which nobody means who paints there.
  const paintedOn = (part: PeelTask, frame: number) => JSON.stringify(part.strokes.filter((s) => s.frame === frame));
  const repainted = (frame: number) => holding.has(frame) && paintedOn(before, frame) !== paintedOn(after, frame);
  const out: FrameRange[] = [];
  for (const { first, last } of asked)
    for (let frame = first; frame <= last; frame++) {
      if (was(frame) === is(frame) && !repainted(frame)) continue;
      const open = out.at(-1);
      if (open?.last === frame - 1) open.last = frame;
      else out.push({ first: frame, last: frame });
    }
  return out;
}

/** Frames on which what carries the curves of a part can differ. */
function changedByCarrying(before: Carried | null, after: Carried | null): FrameRange | null {
  if (!before || !after) return before === after ? null : EVERYWHERE;
  const same = JSON.stringify([before.pivot, before.follow]) === JSON.stringify([after.pivot, after.follow]);
  const changed = same ? changedFrames(before.way, after.way, 0) : EVERYWHERE;
  const { frame } = after.follow;
  // All is told against the frame from which it follows.
  return changed && changed.first <= frame && frame <= changed.last ? EVERYWHERE : changed;
}

/** The documents before and after, and the frames that matter. */
interface Change {
  was: ShotDocument;
  is: ShotDocument;
  asked: readonly FrameRange[];
}

/** Frames on which a part, as it is before and after, can differ; a change of name, colour or lock changes none. */
function changedByPart(before: Part | undefined, after: Part | undefined, { asked, was, is }: Change): FrameRange[] {
  const follows = before?.type === 'spline' && after?.type === 'spline' && was.tracks !== is.tracks;
  if (before === after && !follows) return [];
  const alive = (part: Part): FrameRange[] => (part.enabled ? [part.range ?? EVERYWHERE] : []);
  if (!before || !after) return alive((before ?? after) as Part);
  const plain = (p: Part) => JSON.stringify([p.enabled, p.operation, p.inverted, p.range, p.type === 'imported' ? p.footage : 0]);
  if (plain(before) !== plain(after)) return [...alive(before), ...alive(after)];
  const [lives] = alive(after);
  if (!lives) return [];
  const changed = [changedFrames(before.opacity, after.opacity, 0)];
  if (before.type === 'imported' && after.type === 'imported') changed.push(changedFrames(before.offset, after.offset, 0));
  if (before.type === 'peel' && after.type === 'peel') changed.push(...changedByPeel(peelTask(was, before), peelTask(is, after), asked));
  if (before.type === 'spline' && after.type === 'spline') {
    changed.push(changedByCarrying(carriedIn(was, before), carriedIn(is, after)));
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
  }
  if (before.type === 'spline' && after.type === 'spline' && before.paths !== after.paths) {
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
  }
  return changed.flatMap((r) => {
    if (!r) return [];
    const cut = { first: Math.max(r.first, lives.first), last: Math.min(r.last, lives.last) };
    return cut.first <= cut.last ? [cut] : [];
  });
}

/** Frames a steadied matte looks at on each side, and a shutter. */
export const STEADY_FRAMES = 2;
const SHUTTER_FRAMES = 2;
const MOST_WIDENED = STEADY_FRAMES + SHUTTER_FRAMES;

/** Frames, all near approved ones and maybe others, on which the matte of a subject can differ between two states of it. */
function changedBySubject(before: Subject, after: Subject, was: ShotDocument, is: ShotDocument): FrameRange[] {
  const change = { was, is, asked: near(before.approved, was.plate.frames) };
  const changed: (FrameRange | null)[] = [];
  if (before.parts !== after.parts || was.tracks !== is.tracks) {
    const order = (s: Subject) => s.parts.map((p) => p.id).join();
    const [a, b] = [new Map(before.parts.map((p) => [p.id, p])), new Map(after.parts.map((p) => [p.id, p]))];
    const shared = (s: Subject, other: Map<string, Part>) =>
      s.parts
        .filter((p) => other.has(p.id))
        .map((p) => p.id)
        .join();
    if (order(before) !== order(after) && shared(before, b) !== shared(after, a)) changed.push(EVERYWHERE);
    for (const id of new Set([...a.keys(), ...b.keys()])) changed.push(...changedByPart(a.get(id), b.get(id), change));
  }
  if (before.edge !== after.edge) {
    for (const key of Object.keys(after.edge) as (keyof Subject['edge'])[]) {
      const [p, q] = [before.edge[key], after.edge[key]];
      // Cleaning changes colour, never alpha.
      if (p === q || key === 'cleaning') continue;
      changed.push(changedFrames<unknown>(p, q, 0));
    }
  }
  const { steadiness, shutter } = after.edge;
  const moves = (v: Animated<number>) => hasKeys(v) || v.constant > 0;
  const widen = (moves(steadiness) ? STEADY_FRAMES : 0) + (moves(shutter) ? SHUTTER_FRAMES : 0);
  return changed.flatMap((r) => (r ? [{ first: r.first - widen, last: r.last + widen }] : []));
}

/** Why a change from `before` to `after` must not be: it would change approved frames. Null where it may. */
export function approvedConflict(before: ShotDocument, after: ShotDocument): string | null {
  if (before.cast === after.cast && before.tracks === after.tracks) return null;
  const first = before.plate.firstNumber;
  for (const subject of before.cast) {
    if (subject.approved.length === 0) continue;
    const now = after.cast.find((s) => s.id === subject.id);
    if (now === subject && before.tracks === after.tracks) continue;
    for (const changed of now ? changedBySubject(subject, now, before, after) : [EVERYWHERE]) {
      // Frames released by the same change are free.
      const guarded = subject.approved.find(
        (r) => r.first <= changed.last && r.last >= changed.first && (!now || now.approved.some((k) => k.first <= r.last && k.last >= r.first)),
      );
      if (!guarded) continue;
      const [a, b] = [Math.max(guarded.first, changed.first) + first, Math.min(guarded.last, changed.last) + first];
      return `${a === b ? `Frame ${a} of ${subject.name} is` : `Frames ${a} to ${b} of ${subject.name} are`} approved. Release ${a === b ? 'it' : 'them'} in the Sheet, or use a Reach that leaves ${a === b ? 'it' : 'them'} alone.`;
    }
  }
  return null;
}
