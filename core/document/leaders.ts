/** What an effect or an element of the lanes may follow: a track, a Spline, another element; and what may be its matte: an element, a subject. */
import { reaches } from '../math/reaches.ts';
import type { Edit } from './edits.ts';
import { findPart, mattedIn } from './parts.ts';
import type { Element, Follow, LaneItem, ShotDocument, SplinePart, Track } from './schema.ts';

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

/** All that an item follows, as a whole and by its ends. */
const followsOf = (item: LaneItem): Follow[] => [...(item.follow ? [item.follow] : []), ...(item.type === 'element' ? Object.values(item.pins) : [])];

/** Whether an item would follow itself if it followed this, by way of others too. */
export const wouldCircle = ({ lanes }: Pick<ShotDocument, 'lanes'>, id: string, leader: string): boolean =>
  reaches(leader, id, (next) => lanes.filter((l) => l.id === next).flatMap((item) => followsOf(item).map(({ track }) => track)));

/** Whether an item (or an effect of an element) would be its own matte if it had this one, by way of others too. */
export function circleOfMattes({ lanes }: Pick<ShotDocument, 'lanes'>, id: string, matte: string): boolean {
  const owner = lanes.find((l) => mattedIn(l).some((m) => m.id === id))?.id ?? id;
  return reaches(matte, owner, (next) => lanes.filter((l) => l.id === next).flatMap((item) => mattedIn(item).flatMap((m) => m.matteOf ?? [])));
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
  for (const [item, leader] of document.lanes.flatMap((l) => followsOf(l).map(({ track }) => [l, track] as const))) {
    if (!leaderOf(document, leader)) return `${called(item)} follows something that is not in this shot. Let it go first, or write its motion as keys.`;
    if (wouldCircle(document, item.id, leader)) {
      const other = document.lanes.find((l) => l.id === leader);
      return `${called(item)} cannot follow ${other ? called(other) : 'that'}: it would follow itself, by way of what it leads.`;
    }
  }
  return null;
}

/** Edits that take records away, and let go first of what follows them, which stands where it was put, of what has them as its matte, and of what subjects are joined of. */
export function removeEdits(document: Leaders, ...ids: string[]): Edit[] {
  const gone = new Set(ids.flatMap((id) => [id, ...(document.cast.find((s) => s.id === id)?.parts.map((p) => p.id) ?? [])]));
  const stay = document.lanes.filter((item) => !gone.has(item.id));
  const left = stay.filter((item) => item.follow && gone.has(item.follow.track));
  const loose = stay.filter((item) => item.type === 'element').filter(({ pins }) => Object.values(pins).some(({ track }) => gone.has(track)));
  const matted = stay.flatMap(mattedIn).filter((m) => m.matteOf !== null && gone.has(m.matteOf));
  const joined = document.cast
    .filter((s) => !gone.has(s.id))
    .flatMap((s) => s.parts.filter((p) => p.type === 'joined' && gone.has(p.subject) && !gone.has(p.id)));
  return [
    ...joined.map(({ id }): Edit => ({ kind: 'remove', id })),
    ...left.map((item): Edit => ({ kind: 'assign', id: item.id, values: { follow: null } })),
    ...loose.map(
      ({ id, pins }): Edit => ({
        kind: 'assign',
        id,
        values: { pins: Object.fromEntries(Object.entries(pins).filter(([, { track }]) => !gone.has(track))) },
      }),
    ),
    ...matted.map((item): Edit => ({ kind: 'assign', id: item.id, values: { matteOf: null } })),
    ...ids.map((id): Edit => ({ kind: 'remove', id })),
  ];
}
