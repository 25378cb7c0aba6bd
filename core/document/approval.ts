/** Approved frames: what the artist called right stays as it is until it is released. */
import { decidedBy } from '../peel/inputs.ts';
import { type Animated, hasKeys, type Key } from '../time/animated.ts';
import type { FrameRange } from '../time/reach.ts';
import type { Part, Path, PeelPart, ShotDocument, Subject } from './schema.ts';

/** `ranges` with the frames of `range` in it, or out of it; rising, apart, neighbours joined. */
export function withApproval(ranges: readonly FrameRange[], range: FrameRange, approved: boolean): FrameRange[] {
  const out: FrameRange[] = [];
  for (const r of ranges) {
    if (r.last < range.first - 1 || r.first > range.last + 1) out.push(r);
    else if (!approved) {
      if (r.first < range.first) out.push({ first: r.first, last: Math.min(r.last, range.first - 1) });
      if (r.last > range.last) out.push({ first: Math.max(r.first, range.last + 1), last: r.last });
    }
  }
  if (approved) {
    const touching = ranges.filter((r) => r.last >= range.first - 1 && r.first <= range.last + 1);
    out.push({ first: Math.min(range.first, ...touching.map((r) => r.first)), last: Math.max(range.last, ...touching.map((r) => r.last)) });
  }
  return out.sort((a, b) => a.first - b.first);
}

export const isApproved = (subject: Subject, frame: number): boolean => subject.approved.some((r) => frame >= r.first && frame <= r.last);

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

function join(a: FrameRange | null, b: FrameRange | null): FrameRange | null {
  if (!a || !b) return a ?? b;
  return { first: Math.min(a.first, b.first), last: Math.max(a.last, b.last) };
}

/** Frames that are found anew for what changed in a Peel. */
function changedByPeel(before: PeelPart, after: PeelPart): FrameRange | null {
  if (before.look !== after.look || before.smoothness !== after.smoothness || before.separatePieces !== after.separatePieces) return EVERYWHERE;
  if (before.strokes === after.strokes) return null;
  const told = (part: PeelPart) => new Map(part.strokes.filter((s) => s.enabled).map((s) => [JSON.stringify([s.frame, s.kind, s.radius, s.points]), s.frame]));
  const [was, is] = [told(before), told(after)];
  const frames = new Set([...[...was].filter(([k]) => !is.has(k)), ...[...is].filter(([k]) => !was.has(k))].map(([, frame]) => frame));
  // The order of strokes on a frame says which covers which.
  if (frames.size === 0 && [...was.keys()].join() !== [...is.keys()].join()) for (const frame of was.values()) frames.add(frame);
  let changed: FrameRange | null = null;
  for (const frame of frames) for (const part of [before, after]) changed = join(changed, decidedBy(part, frame));
  return changed;
}

/** Frames on which a part, as it is before and after, can differ; a change of name, colour or lock changes none. */
function changedByPart(before: Part | undefined, after: Part | undefined): FrameRange | null {
  if (before === after) return null;
  const alive = (part: Part): FrameRange | null => (part.enabled ? (part.range ?? EVERYWHERE) : null);
  if (!before || !after) return alive((before ?? after) as Part);
  const plain = (p: Part) => JSON.stringify([p.enabled, p.operation, p.inverted, p.range, p.type === 'imported' ? p.footage : 0]);
  if (plain(before) !== plain(after)) return join(alive(before), alive(after));
  const lives = alive(after);
  if (!lives) return null;
  let changed = changedFrames(before.opacity, after.opacity, 0);
  if (before.type === 'imported' && after.type === 'imported') changed = join(changed, changedFrames(before.offset, after.offset, 0));
  if (before.type === 'peel' && after.type === 'peel') changed = join(changed, changedByPeel(before, after));
  if (before.type === 'spline' && after.type === 'spline' && before.paths !== after.paths) {
    const byId = new Map<string, [Path | undefined, Path | undefined]>();
    for (const p of before.paths) byId.set(p.id, [p, undefined]);
    for (const p of after.paths) byId.set(p.id, [byId.get(p.id)?.[0], p]);
    for (const [p, q] of byId.values()) {
      if (p === q) continue;
      if (!p || !q || p.closed !== q.closed || p.between !== q.between) {
        // An open curve masks nothing.
        if (p?.closed || q?.closed) changed = join(changed, EVERYWHERE);
      } else if (p.closed) changed = join(changed, changedFrames(p.shape, q.shape, p.between === 'smooth' ? 1 : 0));
    }
  }
  if (!changed) return null;
  const cut = { first: Math.max(changed.first, lives.first), last: Math.min(changed.last, lives.last) };
  return cut.first <= cut.last ? cut : null;
}

/** Frames a steadied matte looks at on each side. */
export const STEADY_FRAMES = 2;

/** Frames on which the matte of a subject can differ between two states of it. */
export function changedBySubject(before: Subject, after: Subject): FrameRange | null {
  let changed: FrameRange | null = null;
  if (before.parts !== after.parts) {
    const order = (s: Subject) => s.parts.map((p) => p.id).join();
    const [a, b] = [new Map(before.parts.map((p) => [p.id, p])), new Map(after.parts.map((p) => [p.id, p]))];
    const shared = (s: Subject, other: Map<string, Part>) =>
      s.parts
        .filter((p) => other.has(p.id))
        .map((p) => p.id)
        .join();
    if (order(before) !== order(after) && shared(before, b) !== shared(after, a)) changed = EVERYWHERE;
    for (const id of new Set([...a.keys(), ...b.keys()])) changed = join(changed, changedByPart(a.get(id), b.get(id)));
  }
  if (before.edge !== after.edge) {
    for (const key of Object.keys(after.edge) as (keyof Subject['edge'])[]) {
      const [p, q] = [before.edge[key], after.edge[key]];
      // Cleaning changes colour, never alpha.
      if (p === q || key === 'cleaning') continue;
      changed = join(changed, changedFrames<unknown>(p, q, 0));
    }
  }
  if (!changed) return null;
  const { steadiness, shutter } = after.edge;
  const moves = (v: Animated<number>) => hasKeys(v) || v.constant > 0;
  const widen = (moves(steadiness) ? STEADY_FRAMES : 0) + (moves(shutter) ? 2 : 0);
  return { first: changed.first - widen, last: changed.last + widen };
}

/** Why a change from `before` to `after` must not be: it would change approved frames. Null where it may. */
export function approvedConflict(before: ShotDocument, after: ShotDocument): string | null {
  if (before.cast === after.cast) return null;
  const first = before.plate.firstNumber;
  for (const subject of before.cast) {
    if (subject.approved.length === 0) continue;
    const now = after.cast.find((s) => s.id === subject.id);
    if (now === subject) continue;
    const changed = now ? changedBySubject(subject, now) : EVERYWHERE;
    if (!changed) continue;
    // Frames released by the same change are free.
    const guarded = subject.approved.find(
      (r) => r.first <= changed.last && r.last >= changed.first && (!now || now.approved.some((k) => k.first <= r.last && k.last >= r.first)),
    );
    if (!guarded) continue;
    const [a, b] = [Math.max(guarded.first, changed.first) + first, Math.min(guarded.last, changed.last) + first];
    return `${a === b ? `Frame ${a} of ${subject.name} is` : `Frames ${a} to ${b} of ${subject.name} are`} approved. Release ${a === b ? 'it' : 'them'} in the Sheet, or use a Reach that leaves ${a === b ? 'it' : 'them'} alone.`;
  }
  return null;
}
