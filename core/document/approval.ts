/** Approved frames: what the artist called right stays as it is until it is released. */
import { type Animated, hasKeys } from '../time/animated.ts';
import { type FrameRange, isWithin } from '../time/ranges.ts';
import { changedFrames, EVERYWHERE } from './changed-frames.ts';
import { peelTask } from './fence.ts';
import { kindOfPart } from './part-kinds/index.ts';
import type { DocumentChange } from './part-kinds/kind.ts';
import { joinedIn } from './parts.ts';
import type { Part, ShotDocument, Subject } from './schema.ts';

export const isApproved = (subject: Subject, frame: number): boolean => isWithin(subject.approved, frame);

/** Doubt of 0 to 100 from which on a found frame is worth a look. */
export const DOUBTFUL = 50;

/** Whether a frame that was found for a subject is doubtful still: what was painted there, or approved, is not. */
export const isDoubtful = (subject: Subject | null, { frame, doubt, anchor }: { frame: number; doubt: number; anchor: number | null }): boolean =>
  doubt >= DOUBTFUL && anchor !== frame && !(subject && isApproved(subject, frame));

/** Frames near approved ones, on which a change may reach them. */
const near = (approved: readonly FrameRange[], frames: number): FrameRange[] =>
  approved.map((r) => ({ first: Math.max(0, r.first - MOST_WIDENED), last: Math.min(frames - 1, r.last + MOST_WIDENED) }));

/** Frames on which a part, as it is before and after, can differ; a change of name, colour or lock changes none. */
function changedByPart(before: Part | undefined, after: Part | undefined, change: DocumentChange): FrameRange[] {
  if (before === after && change.was.tracks === change.is.tracks) return [];
  const alive = (part: Part): FrameRange[] => (part.enabled ? [part.range ?? EVERYWHERE] : []);
  if (!before || !after) return alive((before ?? after) as Part);
  const plain = (p: Part) => JSON.stringify([p.enabled, p.operation, p.inverted, p.range]);
  if (plain(before) !== plain(after)) return [...alive(before), ...alive(after)];
  const [lives] = alive(after);
  if (!lives) return [];
  const changed = [changedFrames(before.opacity, after.opacity, 0)];
  if (before.type === after.type) changed.push(...kindOfPart(after).changes(before, after, change));
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
  const change: DocumentChange = { was, is, task: peelTask, asked: near(before.approved, was.plate.frames) };
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
  // What it is joined of changes it too; a circle is refused where it is made.
  for (const id of joinedIn(after)) {
    const [a, b] = [was.cast.find((s) => s.id === id), is.cast.find((s) => s.id === id)];
    if (a && b) changed.push(...changedBySubject(a, b, was, is));
    else if (a !== b) changed.push(EVERYWHERE);
  }
  return changed.flatMap((r) => (r ? [{ first: r.first - widen, last: r.last + widen }] : []));
}

/** Why a change from `before` to `after` must not be: it would change approved frames. Null where it may. */
export function approvedConflict(before: ShotDocument, after: ShotDocument): string | null {
  if (before.cast === after.cast && before.tracks === after.tracks) return null;
  const first = before.plate.firstNumber;
  for (const subject of before.cast) {
    if (subject.approved.length === 0) continue;
    const now = after.cast.find((s) => s.id === subject.id);
    if (now === subject && before.tracks === after.tracks && joinedIn(subject).length === 0) continue;
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
