/** What can be done with tracks: run, and edited by hand. */
import { inverseOf, multiply } from '../math/homography.ts';
import { type At, atOf, motionOf, roundedAt } from '../math/motion.ts';
import { flatten } from '../path/path.ts';
import { hasKeys, type Key } from '../time/animated.ts';
import { smoothKeys } from '../time/key-cleaning.ts';
import { type FrameRange, isWithin } from '../time/ranges.ts';
import { type Reason, TRUSTED } from '../track/quality.ts';
import type { TrackRun } from '../track/run.ts';
import type { Edit } from './edits.ts';
import { closedShapes, followersOf, isSure, PLACES, placedOn, placedPathsOf, placesOf, regionAt, standingAlone, sureWay, wayAt } from './follow.ts';
import { findPart } from './parts.ts';
import type { Placed, ShotDocument, Track } from './schema.ts';

/** The keys that were set by hand, rising. */
export const anchorsOf = (track: Track): Key<Placed>[] => placesOf(track).filter((k) => k.value.anchor);

/** The outlines, in plate pixels, of what a track must not look at on a frame. */
function ignoredOn(document: ShotDocument, { ignore }: Track, frame: number): Float64Array[] {
  const part = findPart(document, ignore);
  return part ? closedShapes(placedPathsOf(document, part), frame).map((shape) => flatten(shape, 1, 1)) : [];
}

/** The outlines of a region on a frame, in plate pixels; null where it is not recorded there with trust. */
export function outlinesOn(track: Track, frame: number): Float64Array[] | null {
  const placed = placedOn(track, frame);
  if (!placed || !isSure(placed)) return null;
  return regionAt(track, placed.at).map((shape) => flatten(shape, 1, 1));
}

/** A run of the track over the frames of `range`; null where it has no place set by hand to start from. */
export function runOf(document: ShotDocument, track: Track, { first, last }: FrameRange): TrackRun | null {
  const anchors = anchorsOf(track).map(({ frame, value }) => ({ frame, at: value.at, aside: value.aside, ignored: ignoredOn(document, track, frame) }));
  if (anchors.length === 0) return null;
  const { kind, model, pivot, pattern, search, lost } = track;
  const known = placesOf(track)
    .filter((k) => isSure(k.value))
    .map(({ frame, value }) => ({ frame, at: value.at }));
  return {
    kind,
    model,
    pivot,
    pattern,
    search,
    stops: lost === 'stop',
    anchors,
    known,
    first,
    last,
    outlines: track.outlines.map((shape) => flatten(shape, 1, 1)),
  };
}

/** Frames to run again once the place on `frame` was set by hand: as far as the anchors round it, or as it was tracked. */
export function around(track: Track, frame: number): FrameRange {
  const frames = placesOf(track).map((k) => k.frame);
  const anchors = anchorsOf(track).map((k) => k.frame);
  return {
    first: anchors.findLast((a) => a < frame) ?? Math.min(frame, ...frames),
    last: anchors.find((a) => a > frame) ?? Math.max(frame, ...frames),
  };
}

const place = (frame: number, value: Placed): Key<Placed> => ({ frame, value, ease: 'linear' });

/** Edit that sets places of a track, those set by hand left alone. */
export function placesEdit(track: Track, found: readonly { frame: number; value: Placed }[]): Edit {
  const held = new Set(anchorsOf(track).map((k) => k.frame));
  const set = found.filter((f) => !held.has(f.frame)).map(({ frame, value }) => place(frame, value));
  return { kind: 'keys', id: track.id, setting: 'motion', set: set.sort((a, b) => a.frame - b.frame), clear: [] };
}

/** Edit that moves the middle of what is tracked to x, y on a frame, by hand; or, with `aside`, looks at what lies there instead. */
export function anchorEdit(track: Track, frame: number, x: number, y: number, aside = false): Edit {
  const before = placedOn(track, frame);
  const at = before?.at ?? wayAt(sureWay(track), frame);
  const value: Placed = aside
    ? { at: roundedAt(at), quality: 1, anchor: true, aside: [x - at[0], y - at[1]] }
    : { at: roundedAt([x, y, ...at.slice(2)]), quality: 1, anchor: true, ...(before?.aside ? { aside: before.aside } : {}) };
  return { kind: 'keys', id: track.id, setting: 'motion', set: [place(frame, value)], clear: [] };
}

/** Edit that takes the places on a range of frames away; the one on which it was set stays. */
export function clearEdit(track: Track, range: FrameRange): Edit | null {
  const clear = placesOf(track).flatMap((k) => (isWithin([range], k.frame) && k.frame !== track.start ? [k.frame] : []));
  return clear.length > 0 ? { kind: 'keys', id: track.id, setting: 'motion', set: [], clear } : null;
}

/** Edit that draws the trusted places of a range towards what their neighbours say, `strength` in [0,1]. */
export function smoothEdit(track: Track, range: FrameRange, strength: number): Edit | null {
  const sure = placesOf(track).filter((k) => isSure(k.value));
  const before = new Map(sure.map((k) => [k.frame, k.value]));
  const set = smoothKeys(sure, range, strength, 3, PLACES).flatMap(({ frame, value }) => {
    const was = before.get(frame);
    return !was || was.anchor || !isWithin([range], frame) ? [] : [place(frame, { ...was, at: roundedAt(value.at) })];
  });
  return set.length > 0 ? { kind: 'keys', id: track.id, setting: 'motion', set, clear: [] } : null;
}

/** The way of one track gone on with by another: as far as it was followed its own, then the other's, so that they meet. */
export function joinEdit(track: Track, other: Track): Edit | null {
  const [own, more] = [placesOf(track), placesOf(other)].map((keys) => keys.filter((k) => isSure(k.value)));
  const has = new Set(own.map((k) => k.frame));
  if (own.length === 0 || more.length === 0) return null;
  const meets = (frames: number[], wanted: number) => frames.reduce((a, b) => (Math.abs(b - wanted) < Math.abs(a - wanted) ? b : a));
  const set = more.flatMap(({ frame, value }) => {
    if (has.has(frame)) return [];
    // Where the two are nearest in time to this frame, the other's motion is taken from there on.
    const from = meets([...has], frame);
    const back = inverseOf(motionOf(wayAt(sureWay(other), from), other.pivot));
    if (!back) return [];
    const since = multiply(motionOf(value.at, other.pivot), back);
    const at = wayAt(sureWay(track), from);
    return [place(frame, { at: atOf(multiply(since, motionOf(at, track.pivot)), track.pivot, track.model), quality: value.quality })];
  });
  return set.length > 0 ? { kind: 'keys', id: track.id, setting: 'motion', set, clear: [] } : null;
}

/** A point that lies in the middle of others, on the frames on which all of them are trusted. Null where there is none. */
export function averageOf(id: string, name: string, tracks: readonly Track[]): Track | null {
  const [first, ...others] = tracks;
  const sure = tracks.map((t) => new Map(placesOf(t).flatMap((k) => (isSure(k.value) ? [[k.frame, k.value] as const] : []))));
  const frames = [...(sure[0]?.keys() ?? [])].filter((frame) => sure.every((s) => s.has(frame)));
  if (!first || others.length === 0 || frames.length === 0) return null;
  const middle = (frame: number): At => {
    const places = sure.map((s) => s.get(frame) as Placed);
    return roundedAt([0, 1].map((i) => places.reduce((sum, p) => sum + p.at[i], 0) / places.length));
  };
  const start = frames.includes(first.start) ? first.start : frames[0];
  const keys = frames.map((frame) => {
    const quality = Math.min(...sure.map((s) => (s.get(frame) as Placed).quality));
    return place(frame, { at: [...middle(frame)], quality, ...(frame === start ? { anchor: true } : {}) });
  });
  const [x, y] = middle(start);
  return { ...first, id, name, kind: 'point', model: 'move', outlines: [], ignore: null, start, pivot: [x, y], motion: { keys } };
}

export interface Gap {
  first: number;
  last: number;
  /** What was said most often on it. */
  reason: Reason;
}

/** Stretches of frames on which a track is not trusted, rising. */
export function gapsOf({ motion }: Pick<Track, 'motion'>): Gap[] {
  const gaps: (Gap & { said: Map<Reason, number> })[] = [];
  for (const { frame, value } of hasKeys(motion) ? motion.keys : []) {
    const { reason } = value;
    if (isSure(value) || !reason) continue;
    const open = gaps.at(-1);
    const gap = open?.last === frame - 1 ? open : { first: frame, last: frame, reason, said: new Map<Reason, number>() };
    if (gap !== open) gaps.push(gap);
    gap.last = frame;
    gap.said.set(reason, (gap.said.get(reason) ?? 0) + 1);
    gap.reason = [...gap.said].reduce((a, b) => (b[1] > a[1] ? b : a))[0];
  }
  return gaps.map(({ first, last, reason }) => ({ first, last, reason }));
}

/** Edit that takes the guesses of a range for true, as they are; null where there is none. */
export function acceptEdit(track: Track, range: FrameRange): Edit | null {
  const set = placesOf(track).flatMap(({ frame, value }) => {
    if (isSure(value) || !isWithin([range], frame)) return [];
    const { reason: _reason, ...rest } = value;
    return [place(frame, { ...rest, quality: TRUSTED })];
  });
  return set.length > 0 ? { kind: 'keys', id: track.id, setting: 'motion', set, clear: [] } : null;
}

/** Edit that takes the guesses of a range away, and leaves what is trusted; null where there is none. */
export function dropGuessesEdit(track: Track, range: FrameRange): Edit | null {
  const clear = placesOf(track).flatMap((k) => (!isSure(k.value) && isWithin([range], k.frame) ? [k.frame] : []));
  return clear.length > 0 ? { kind: 'keys', id: track.id, setting: 'motion', set: [], clear } : null;
}

/** Frames on which a track has a place, and on how many of them it is not trusted. */
export function tally(track: Track): { frames: number; lost: number } {
  return { frames: placesOf(track).length, lost: gapsOf(track).reduce((n, g) => n + g.last - g.first + 1, 0) };
}

/** Edits that take a track away; curves that follow it keep its motion as keys, effects and elements stand where they were put. */
export function removeTrackEdits(document: ShotDocument, id: string): Edit[] {
  const { parts, items } = followersOf(document, id);
  const freed = parts.flatMap((part): Edit[] => [
    ...standingAlone(document, part).paths.map((path): Edit => ({ kind: 'animate', id: path.id, setting: 'shape', value: path.shape })),
    { kind: 'assign', id: part.id, values: { follow: null } },
  ]);
  const left = items.map((item): Edit => ({ kind: 'assign', id: item.id, values: { follow: null } }));
  return [...freed, ...left, { kind: 'remove', id }];
}
