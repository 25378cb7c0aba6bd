/** Curves that follow a track: drawn as on one frame, seen where the track has carried them. */
import { type Homography, inverseOf } from '../math/homography.ts';
import { type At, mixAt, motionBetween, wholeAt } from '../math/motion.ts';
import { shapeOver } from '../path/between.ts';
import { roundedShape, type Shape } from '../path/path.ts';
import { warpedShape } from '../path/warped.ts';
import { type Animated, hasKeys, type Key, keyFrames, valueAt } from '../time/animated.ts';
import type { ValueKind } from '../time/reach.ts';
import { type Reason, TRUSTED } from '../track/quality.ts';
import type { Follow, Part, Path, Placed, ShotDocument, SplinePart, Track } from './schema.ts';

export const mixPlaced = (a: Placed, b: Placed, share: number): Placed => ({ at: mixAt(a.at, b.at, share), quality: Math.min(a.quality, b.quality) });

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
export const placedOf = ({ at, quality, reason }: { at: number[]; quality: number; reason: Reason | null }): Placed => ({
  at,
  quality: Math.round(quality * 100) / 100,
  ...(reason ? { reason } : {}),
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

/** What carries curves: the track's way, and how they follow it. */
export interface Carried {
  way: Animated<At>;
  pivot: readonly number[];
  follow: Follow;
}

/** A curve together with what carries it; null where it stays as drawn. */
export type PlacedPath = Path & { carried: Carried | null };
export type PlacedSpline = Omit<SplinePart, 'paths'> & { paths: PlacedPath[] };

const placed = new WeakMap<SplinePart, { track: Track | null; part: PlacedSpline }>();

type Tracks = Pick<ShotDocument, 'tracks'>;

const trackOf = ({ tracks }: Tracks, { follow }: SplinePart): Track | null => (follow && tracks.find((t) => t.id === follow.track)) ?? null;

/** What carries the curves of a part, those to come as well. */
export function carriedIn(document: Tracks, part: SplinePart): Carried | null {
  const track = trackOf(document, part);
  return part.follow && track ? { way: sureWay(track), pivot: track.pivot, follow: part.follow } : null;
}

/** The part with what carries its curves; the same for the same records. */
export function placedSpline(document: Tracks, part: SplinePart): PlacedSpline {
  const track = trackOf(document, part);
  const before = placed.get(part);
  if (before?.track === track) return before.part;
  const carried = carriedIn(document, part);
  const made = { ...part, paths: part.paths.map((path) => ({ ...path, carried })) };
  placed.set(part, { track, part: made });
  return made;
}

/** The curves of a part with what carries them; a part of another kind has none. */
export const placedPathsOf = (document: Tracks, part: Part): PlacedPath[] => (part.type === 'spline' ? placedSpline(document, part).paths : []);

const carriedFrom = ({ way, pivot, follow }: Carried, time: number): Homography | null =>
  motionBetween(valueAt(way, follow.frame, mixAt), valueAt(way, time, mixAt), pivot, follow.takes);

/** What takes a curve from where it was drawn to where it is seen; null where that is the same. */
export const carriedBy = ({ carried }: PlacedPath, time: number): Homography | null => carried && carriedFrom(carried, time);

/** What takes places of the plate on the frame of `follow` to where its track has them at `time`; null where there is no such track. */
export function followedMotion({ tracks }: Tracks, follow: Follow, time: number): Homography | null {
  const track = tracks.find((t) => t.id === follow.track);
  return track ? carriedFrom({ way: sureWay(track), pivot: track.pivot, follow }, time) : null;
}

/** The curve as it is seen. */
export function shapeAt(path: PlacedPath, time: number): Shape {
  const drawn = shapeOver(path.shape, path.between, path.closed, time);
  const motion = carriedBy(path, time);
  return motion ? warpedShape(drawn, motion) : drawn;
}

/** What has to be drawn on `frame` for the curve to be seen as `seen` there. */
export function drawnFor(path: PlacedPath, frame: number, seen: Shape): Shape {
  const motion = carriedBy(path, frame);
  const back = motion && inverseOf(motion);
  return back ? warpedShape(seen, back) : seen;
}

/** Keys that hold what is seen without a track: on every frame on which the way or the curve itself has one. */
export function writtenKeys(path: PlacedPath): Key<Shape>[] {
  const { carried } = path;
  const frames = new Set([...keyFrames(path.shape), ...(carried ? [...keyFrames(carried.way), carried.follow.frame] : [])]);
  return [...frames].sort((a, b) => a - b).map((frame) => ({ frame, value: roundedShape(shapeAt(path, frame)), ease: 'linear' }));
}

/** The part with its motion in its own keys. */
export function standingAlone<P extends Part>(document: Tracks, part: P): P {
  if (part.type !== 'spline' || !part.follow) return part;
  const paths = placedSpline(document, part).paths.map(({ carried, ...path }) => ({ ...path, shape: { keys: writtenKeys({ ...path, carried }) } }));
  return { ...part, follow: null, paths };
}

/** The value that a curve's shape takes when it begins to follow: what is seen on its keys stays as it is. */
export function shapeToFollow(path: Path, carried: Carried): Animated<Shape> {
  if (!hasKeys(path.shape) || path.shape.keys.length === 1) return path.shape;
  const following = { ...path, carried };
  return { keys: path.shape.keys.map((k) => ({ ...k, value: roundedShape(drawnFor(following, k.frame, k.value)) })) };
}

/** The names of the parts that follow a track. */
export const followersOf = ({ cast }: ShotDocument, trackId: string): SplinePart[] =>
  cast.flatMap((s) => s.parts.flatMap((p) => (p.type === 'spline' && p.follow?.track === trackId ? [p] : [])));
