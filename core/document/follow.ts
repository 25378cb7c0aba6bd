/** Curves that follow a track: drawn as on one frame, seen where the track has carried them. */
import { type Homography, inverseOf } from '../math/homography.ts';
import { type At, mixAt, motionBetween, motionOf, wholeAt } from '../math/motion.ts';
import { shapeOver } from '../path/between.ts';
import { roundedShape, type Shape } from '../path/path.ts';
import { warpedShape } from '../path/warped.ts';
import { type Animated, hasKeys, type Key, keyBefore, keyFrames, valueAt, withKeySplit } from '../time/animated.ts';
import type { Ease } from '../time/ease.ts';
import type { ValueKind } from '../time/reach.ts';
import { type Reason, TRUSTED } from '../track/quality.ts';
import type { Follow, LaneItem, Part, Path, Placed, ShotDocument, SplinePart, Track } from './schema.ts';

const mixPlaced = (a: Placed, b: Placed, share: number): Placed => ({ at: mixAt(a.at, b.at, share), quality: Math.min(a.quality, b.quality) });

/** Places of a track as values of keys. */
export const PLACES: ValueKind<Placed> = {
  at: (animated, time) => valueAt(animated, time, mixPlaced),
  mix: mixPlaced,
  shift: (value, from, to) => {
    const [a, b] = [wholeAt(from.at), wholeAt(to.at)];
    return { ...value, at: value.at.map((v, i) => v + b[i] - a[i]) };
  },
  beyond: 0,
};

/** Whether a place counts: what is not trusted is recorded, but nothing is moved by it. */
export const isSure = (placed: Placed): boolean => placed.anchor === true || placed.quality >= TRUSTED;

export const placesOf = (track: Track): Key<Placed>[] => (hasKeys(track.motion) ? track.motion.keys : []);

/** A place as it is kept: no more decimals than mean something. */
export const placedOf = ({ at, quality, reason, leftOut }: { at: number[]; quality: number; reason: Reason | null; leftOut?: string }): Placed => ({
  at,
  quality: Math.round(quality * 100) / 100,
  ...(reason ? { reason } : {}),
  ...(leftOut ? { leftOut } : {}),
});

const known = new WeakMap<Track, Animated<At>>();

/** The way of a track by its trusted places alone: evenly from one to the next, at rest before the first and after the last. */
export function sureWay(track: Track): Animated<At> {
  let way = known.get(track);
  if (!way) {
    const keys = placesOf(track).filter((k) => isSure(k.value));
    way = keys.length > 0 ? { keys: keys.map((k) => ({ ...k, value: k.value.at })) } : { constant: track.pivot };
    known.set(track, way);
  }
  return way;
}

/** Where a track is at a time, by its trusted places. */
export const wayAt = (way: Animated<At>, time: number): At => valueAt(way, time, mixAt);

/** The outlines of a region, drawn round `pivot`, where its track has come to. */
export const regionAt = ({ outlines, pivot }: Pick<Track, 'outlines' | 'pivot'>, at: At): Shape[] => {
  const motion = motionOf(at, pivot);
  return outlines.map((shape) => warpedShape(shape, motion));
};

/** What is recorded of a track on a frame; null where nothing is. */
export function placedOn(track: Track, frame: number): Placed | null {
  const keys = placesOf(track);
  const key = keys[keyBefore(keys, frame)];
  return key?.frame === frame ? key.value : null;
}

/** What carries curves: the track's way, and how they follow it. */
export interface Carried {
  way: Animated<At>;
  pivot: readonly number[];
  follow: Follow;
}

/** A curve together with what carries it (null where it stays as drawn), and the ways that points of its own follow, by track. */
export type PlacedPath = Path & { carried: Carried | null; pins: Record<string, Animated<At>> | null };
export type PlacedSpline = Omit<SplinePart, 'paths'> & { paths: PlacedPath[] };

type Tracks = Pick<ShotDocument, 'tracks'>;

const trackOf = ({ tracks }: Tracks, { follow }: SplinePart): Track | null => (follow && tracks.find((t) => t.id === follow.track)) ?? null;

/** The tracks that points of a curve follow; all of its keys have the same. */
export function pinsOf({ shape }: Pick<Path, 'shape'>): string[] {
  const first = hasKeys(shape) ? shape.keys[0].value : shape.constant;
  const ids = new Set<string>();
  for (const v of first) if (v.pin) ids.add(v.pin.track);
  return [...ids];
}

/** What carries the curves of a part, those to come as well. */
export function carriedIn(document: Tracks, part: SplinePart): Carried | null {
  const track = trackOf(document, part);
  return part.follow && track ? { way: sureWay(track), pivot: track.pivot, follow: part.follow } : null;
}

const placed = new WeakMap<SplinePart, { used: readonly Track[]; part: PlacedSpline }>();

/** The part with what carries its curves; the same for the same records. */
export function placedSpline(document: Tracks, part: SplinePart): PlacedSpline {
  const carrying = trackOf(document, part);
  const wanted = part.paths.map((path) => pinsOf(path).flatMap((id) => document.tracks.find((t) => t.id === id) ?? []));
  const used = [...(carrying ? [carrying] : []), ...wanted.flat()];
  const before = placed.get(part);
  if (before && before.used.length === used.length && before.used.every((t, i) => t === used[i])) return before.part;
  const carried = carriedIn(document, part);
  const paths = part.paths.map((path, i) => ({
    ...path,
    carried,
    pins: wanted[i].length > 0 ? Object.fromEntries(wanted[i].map((t) => [t.id, sureWay(t)])) : null,
  }));
  const made = { ...part, paths };
  placed.set(part, { used, part: made });
  return made;
}

/** The curves of a part with what carries them; a part of another kind has none. */
export const placedPathsOf = (document: Tracks, part: Part): PlacedPath[] => (part.type === 'spline' ? placedSpline(document, part).paths : []);

const carriedFrom = ({ way, pivot, follow }: Carried, time: number): Homography | null =>
  motionBetween(wayAt(way, follow.frame), wayAt(way, time), pivot, follow.takes);

/** What takes a curve from where it was drawn to where it is seen; null where that is the same. */
const carriedBy = ({ carried }: PlacedPath, time: number): Homography | null => carried && carriedFrom(carried, time);

/** What takes places of the plate on the frame of `follow` to where its track has them at `time`; null where there is no such track. */
export function followedMotion({ tracks }: Tracks, follow: Follow, time: number): Homography | null {
  const track = tracks.find((t) => t.id === follow.track);
  return track ? carriedFrom({ way: sureWay(track), pivot: track.pivot, follow }, time) : null;
}

/**
 * The keys of a curve as they count for an edit between keys on a frame: where its track is not trusted there, the trusted frames next
 * to it hold what is drawn with keys of their own, so that going on by hand pulls none of the stretches that were followed well.
 */
export function heldWhereTrusted(path: PlacedPath, frame: number, kind: ValueKind<Shape>): Animated<Shape> {
  const { shape, carried } = path;
  if (!carried || !hasKeys(shape) || !hasKeys(carried.way)) return shape;
  const sure = keyFrames(carried.way);
  if (sure.includes(frame)) return shape;
  let { keys } = shape;
  for (const beside of [sure.findLast((f) => f < frame), sure.find((f) => f > frame)]) {
    if (beside === undefined) continue;
    const [from, to] = beside < frame ? [beside, frame] : [frame, beside];
    // A key on the way holds it already.
    if (!keys.some((k) => k.frame >= from && k.frame <= to && k.frame !== frame)) keys = withKeySplit(keys, beside, kind.at(shape, beside));
  }
  return keys === shape.keys ? shape : { keys };
}

/** The shape with the whole moved by `motion`, and points that follow a track of their own moved by that, `times` as far. */
function moved(shape: Shape, { pins }: PlacedPath, motion: Homography | null, time: number, times: 1 | -1): Shape {
  const whole = motion ? warpedShape(shape, motion) : shape;
  if (!pins) return whole;
  return whole.map((w, i) => {
    const { pin } = shape[i];
    const way = pin && pins[pin.track];
    if (!way) return w;
    const [from, to] = [wayAt(way, pin.frame), wayAt(way, time)];
    return { ...shape[i], x: shape[i].x + times * (to[0] - from[0]), y: shape[i].y + times * (to[1] - from[1]) };
  });
}

/** The curve as it is seen. */
export function shapeAt(path: PlacedPath, time: number): Shape {
  const drawn = shapeOver(path.shape, path.between, path.closed, time);
  return moved(drawn, path, carriedBy(path, time), time, 1);
}

/** The closed ones of curves as they are seen; those of a single point enclose nothing. */
export const closedShapes = (paths: readonly PlacedPath[], time: number): Shape[] =>
  paths.flatMap((path) => {
    const shape = path.closed ? shapeAt(path, time) : [];
    return shape.length > 1 ? [shape] : [];
  });

/** What has to be drawn on `frame` for the curve to be seen as `seen` there. */
export function drawnFor(path: PlacedPath, frame: number, seen: Shape): Shape {
  const motion = carriedBy(path, frame);
  return moved(seen, path, motion && inverseOf(motion), frame, -1);
}

/** The shape without tracks of its points' own. */
export const unpinned = (shape: Shape): Shape => shape.map(({ pin: _pin, ...vertex }) => vertex);

/** Keys that hold what is seen without a track: on every frame on which the way or the curve itself has one. */
export function writtenKeys(path: PlacedPath): Key<Shape>[] {
  const { carried, pins } = path;
  const ways = [...(carried ? [carried.way] : []), ...Object.values(pins ?? {})];
  const frames = new Set([...keyFrames(path.shape), ...ways.flatMap(keyFrames), ...(carried ? [carried.follow.frame] : [])]);
  return [...frames].sort((a, b) => a - b).map((frame) => ({ frame, value: unpinned(roundedShape(shapeAt(path, frame))), ease: 'linear' }));
}

/** The part with its motion in its own keys. */
export function standingAlone<P extends Part>(document: Tracks, part: P): P {
  if (part.type !== 'spline' || (!part.follow && part.paths.every((p) => pinsOf(p).length === 0))) return part;
  const paths = placedSpline(document, part).paths.map((path) => {
    const { carried, pins, ...record } = path;
    return carried || pins ? { ...record, shape: { keys: writtenKeys(path) } } : record;
  });
  return { ...part, follow: null, paths };
}

/** The value that a curve's shape takes when it begins to follow: what is seen on its keys stays; a single one is put on the frame of following. */
export function shapeToFollow(path: PlacedPath, carried: Carried): Animated<Shape> {
  const following = { ...path, carried };
  const frames = hasKeys(path.shape) && path.shape.keys.length > 1 ? keyFrames(path.shape) : [carried.follow.frame];
  return { keys: frames.map((frame) => ({ frame, value: roundedShape(drawnFor(following, frame, shapeAt(path, frame))), ease: easeOn(path, frame) })) };
}

/** How a curve goes on from a key; evenly where it has none on that frame. */
const easeOn = ({ shape }: Path, frame: number): Ease => (hasKeys(shape) ? shape.keys.find((k) => k.frame === frame)?.ease : undefined) ?? 'linear';

/** Whether a part, or any of its points, follows a track. */
export const follows = (part: Part, trackId: string | null): boolean =>
  part.type === 'spline' && trackId !== null && (part.follow?.track === trackId || part.paths.some((p) => pinsOf(p).includes(trackId)));

/** The parts that follow a track, as a whole or with points of their own, and the effects and elements that do. */
export const followersOf = ({ cast, lanes }: ShotDocument, trackId: string): { parts: SplinePart[]; items: LaneItem[] } => ({
  parts: cast.flatMap((s) => s.parts.flatMap((p) => (p.type === 'spline' && follows(p, trackId) ? [p] : []))),
  items: lanes.filter((item) => item.follow?.track === trackId),
});

/** Where a track is on a frame, and whether that is to be trusted there. */
export function placeOn(track: Track, frame: number): { at: readonly number[]; sure: boolean; placed: Placed | null } {
  const placed = placedOn(track, frame);
  return placed ? { at: placed.at, sure: isSure(placed), placed } : { at: wayAt(sureWay(track), frame), sure: false, placed: null };
}
