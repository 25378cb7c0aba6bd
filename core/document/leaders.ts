/** What an effect or an element of the lanes may follow: a track, a Spline, another element. */
import type { Edit } from './edits.ts';
import { findPart } from './parts.ts';
import type { Element, LaneItem, ShotDocument, SplinePart, Track } from './schema.ts';

type Leader = Track | SplinePart | Element;
type Leaders = Pick<ShotDocument, 'tracks' | 'cast' | 'lanes'>;

/** The record that is followed; null where it is not in the shot, or nothing that can be followed. */
export function leaderOf(document: Leaders, id: string): Leader | null {
  const track = document.tracks.find((t) => t.id === id);
  if (track) return track;
  const part = findPart(document, id);
  if (part) return part.type === 'spline' ? part : null;
  const item = document.lanes.find((l) => l.id === id);
  return item?.type === 'element' ? item : null;
}

/** Whether an item would follow itself if it followed this, by way of others too. */
export function wouldCircle({ lanes }: Pick<ShotDocument, 'lanes'>, id: string, leader: string): boolean {
  const seen = new Set([id]);
  for (let next: string | undefined = leader; next !== undefined; ) {
    if (seen.has(next)) return true;
    seen.add(next);
    const one: LaneItem | undefined = lanes.find((l) => l.id === next);
    next = one?.follow?.track;
  }
  return false;
}

const called = (item: LaneItem): string => (item.type === 'element' ? item.name : 'An effect');

/** What is wrong with what items follow, in words; null where nothing is. */
export function strayFollower(document: Leaders): string | null {
  for (const item of document.lanes) {
    if (!item.follow) continue;
    const { track: leader } = item.follow;
    if (!leaderOf(document, leader)) return `${called(item)} follows something that is not in this shot. Let it go first, or write its motion as keys.`;
    if (wouldCircle(document, item.id, leader)) {
      const other = document.lanes.find((l) => l.id === leader);
      return `${called(item)} cannot follow ${other ? called(other) : 'that'}: it would follow itself, by way of what it leads.`;
    }
  }
  return null;
}

/** Edits that take records away, and let go first of what follows them: it stands where it was put. */
export function removeEdits(document: Leaders, ...ids: string[]): Edit[] {
  const gone = new Set(ids.flatMap((id) => [id, ...(document.cast.find((s) => s.id === id)?.parts.map((p) => p.id) ?? [])]));
  const left = document.lanes.filter((item) => item.follow && gone.has(item.follow.track) && !gone.has(item.id));
  return [...left.map((item): Edit => ({ kind: 'assign', id: item.id, values: { follow: null } })), ...ids.map((id): Edit => ({ kind: 'remove', id }))];
}
