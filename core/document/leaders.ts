/** What an effect or an element of the lanes may follow: a track, a Spline, another element; and what may be its matte: an element, a subject. */
import type { Edit } from './edits.ts';
import { findPart } from './parts.ts';
import type { Element, ElementEffect, LaneItem, ShotDocument, SplinePart, Track } from './schema.ts';

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

/** What has a matte of its own in an item: that, and effects of an element. */
const mattedIn = (item: LaneItem): (LaneItem | ElementEffect)[] => (item.type === 'element' ? [item, ...item.effects] : [item]);

/** Whether an item (or an effect of an element) would be its own matte if it had this one, by way of others too. */
export function circleOfMattes({ lanes }: Pick<ShotDocument, 'lanes'>, id: string, matte: string): boolean {
  const owner = lanes.find((l) => mattedIn(l).some((m) => m.id === id))?.id ?? id;
  const seen = new Set<string>();
  const reaches = (next: string): boolean => {
    if (next === owner) return true;
    if (seen.has(next)) return false;
    seen.add(next);
    const item = lanes.find((l) => l.id === next);
    return item !== undefined && mattedIn(item).some((m) => m.matteOf !== null && reaches(m.matteOf));
  };
  return reaches(matte);
}

/** What is wrong with the mattes of items, in words; null where nothing is. */
export function strayMatte(document: Leaders): string | null {
  for (const item of document.lanes)
    for (const { id, matteOf } of mattedIn(item)) {
      if (matteOf === null) continue;
      const there = document.cast.some((s) => s.id === matteOf) || document.lanes.some((l) => l.id === matteOf && l.type === 'element');
      if (!there) return `${called(item)} has a matte that is not in this shot. Choose another one, or none, first.`;
      if (circleOfMattes(document, id, matteOf)) return `${called(item)} cannot have that as its matte: it would be its own, by way of others.`;
    }
  return null;
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

/** Edits that take records away, and let go first of what follows them, which stands where it was put, and of what has them as its matte. */
export function removeEdits(document: Leaders, ...ids: string[]): Edit[] {
  const gone = new Set(ids.flatMap((id) => [id, ...(document.cast.find((s) => s.id === id)?.parts.map((p) => p.id) ?? [])]));
  const left = document.lanes.filter((item) => item.follow && gone.has(item.follow.track) && !gone.has(item.id));
  const matted = document.lanes
    .filter((item) => !gone.has(item.id))
    .flatMap(mattedIn)
    .filter((m) => m.matteOf !== null && gone.has(m.matteOf));
  return [
    ...left.map((item): Edit => ({ kind: 'assign', id: item.id, values: { follow: null } })),
    ...matted.map((item): Edit => ({ kind: 'assign', id: item.id, values: { matteOf: null } })),
    ...ids.map((id): Edit => ({ kind: 'remove', id })),
  ];
}
