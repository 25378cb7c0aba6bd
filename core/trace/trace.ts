/**
 * Mattes of a stretch of frames as curves: each outline is followed from frame to frame, gets as few points as hold it within a
 * tolerance on all of them, the same points throughout, and of its keys only those that are needed.
 */
import { distanceBetween, shapeOver, shapesOf } from '../path/between.ts';
import { type Cubic, fitCubic, fitLine, type Point } from '../path/fit.ts';
import { corner, flatten, type Shape, type Vertex } from '../path/path.ts';
import type { Animated, Key } from '../time/animated.ts';
import { thinKeys } from '../time/key-cleaning.ts';
import { backwards, type Followed, follow, forwards, PLACES, placeAt, toFollow, type Way } from './follow.ts';
import type { Outline } from './outlines.ts';

export interface TracedFrame {
  frame: number;
  outlines: Outline[];
}

export interface Trace {
  /** The keys of each path, all closed; outside the frames it is to be seen on it is drawn together to a point. */
  paths: Key<Shape>[][];
  /** The farthest that the curves are from the outlines on any frame, or these from them; pixels. */
  deviation: number;
}

/** Shares of the tolerance that the curves, and the keys, may take. */
const CURVES = 0.55;
const KEYS = 0.4;
const MOST_VERTICES = 400;
const ROUNDS = 12;
/** Outlines are one if their areas, places and forms differ by no more, in parts of their size. */
const GROWN = 2.2;
const MOVED = 0.9;
const FORM = 0.12;
/** Pixels on each side of a point between which the way through it is taken. */
const REACH = 2.5;

/** An outline through the frames it is to be seen on. */
interface Track {
  first: number;
  on: Followed[];
  /** From each frame to the next. */
  ways: Way[];
}

/** Outlines of neighbouring frames that go together, the nearest in place and size first. */
function linked(frames: readonly TracedFrame[]): Track[] {
  const tracks: Track[] = [];
  let open: Track[] = [];
  for (const [at, { outlines }] of frames.entries()) {
    const here = outlines.map(toFollow);
    const pairs: { track: Track; to: Followed; apart: number }[] = [];
    for (const track of open)
      for (const to of here) {
        const from = track.on[track.on.length - 1];
        const size = Math.max(from.size, to.size, 1);
        const grown = Math.max(from.size, to.size) / Math.max(1e-6, Math.min(from.size, to.size));
        const moved = Math.sqrt((from.x - to.x) ** 2 + (from.y - to.y) ** 2) / size;
        if (from.area > 0 === to.area > 0 && grown <= Math.sqrt(GROWN) && moved <= MOVED) pairs.push({ track, to, apart: moved + Math.log(grown) });
      }
    pairs.sort((a, b) => a.apart - b.apart);
    const taken = new Set<Track | Followed>();
    const going: Track[] = [];
    for (const { track, to } of pairs) {
      if (taken.has(track) || taken.has(to)) continue;
      const way = follow(track.on[track.on.length - 1], to);
      if (way.distance > FORM) continue;
      taken.add(track);
      taken.add(to);
      track.on.push(to);
      track.ways.push(way);
      going.push(track);
    }
    for (const on of here) {
      if (taken.has(on)) continue;
      const track: Track = { first: at, on: [on], ways: [] };
      tracks.push(track);
      going.push(track);
    }
    open = going;
  }
  return tracks;
}

/** A point of the curves: its share of the outline's length on each frame, and whether it is a corner. */
interface Place {
  shares: number[];
  free: boolean;
}

function placeFrom({ ways, on }: Track, at: number, share: number, free: boolean): Place {
  const shares = new Array<number>(on.length);
  shares[at] = share;
  for (let f = at + 1; f < on.length; f++) shares[f] = forwards(ways[f - 1], shares[f - 1]);
  for (let f = at - 1; f >= 0; f--) shares[f] = backwards(ways[f], shares[f + 1]);
  // Within one round on the frame it is from; on the others it keeps its order among the rest.
  const round = Math.floor(share);
  return { shares: shares.map((s) => s - round), free };
}

/** Share of an outline's length that is nearest to a point. */
function nearestShare({ outline, lengths }: Followed, x: number, y: number): number {
  const n = outline.length / 2;
  let [best, share] = [Number.POSITIVE_INFINITY, 0];
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const [dx, dy] = [outline[2 * j] - outline[2 * i], outline[2 * j + 1] - outline[2 * i + 1]];
    const t = Math.max(0, Math.min(1, ((x - outline[2 * i]) * dx + (y - outline[2 * i + 1]) * dy) / Math.max(1e-12, dx * dx + dy * dy)));
    const d = (outline[2 * i] + t * dx - x) ** 2 + (outline[2 * i + 1] + t * dy - y) ** 2;
    if (d < best) [best, share] = [d, (lengths[i] + t * (lengths[i + 1] - lengths[i])) / lengths[n]];
  }
  return share;
}

const unit = (x: number, y: number): Point => {
  const length = Math.sqrt(x * x + y * y) || 1;
  return { x: x / length, y: y / length };
};

/** Points of an outline from one share to another, both ends in it. */
function stretch(on: Followed, from: number, to: number): Point[] {
  const whole = on.lengths[on.lengths.length - 1];
  const steps = Math.max(2, Math.min(PLACES, Math.ceil(((to - from) * whole) / 1.5)));
  return Array.from({ length: steps + 1 }, (_, k) => placeAt(on, from + ((to - from) * k) / steps));
}

interface Fitted {
  cubic: Cubic;
  error: number;
  /** Share at which the curve is farthest from the outline. */
  worst: number;
}

/** The curve from one point to the next on a frame. */
function fitBetween(on: Followed, from: Place, to: Place, frame: number, tolerance: number): Fitted {
  const a = from.shares[frame];
  let b = to.shares[frame];
  while (b <= a) b++;
  const whole = on.lengths[on.lengths.length - 1];
  const reach = Math.min(REACH / whole, (b - a) / 3);
  const wayAt = (share: number, free: boolean, side: 1 | -1): Point => {
    const p = placeAt(on, share + (free && side < 0 ? 0 : reach));
    const q = placeAt(on, share - (free && side > 0 ? 0 : reach));
    return unit(p.x - q.x, p.y - q.y);
  };
  const u = wayAt(a, from.free, 1);
  const w = wayAt(b, to.free, -1);
  const points = stretch(on, a, b);
  const { cubic, error, index } = fitCubic(points, u, { x: -w.x, y: -w.y }, tolerance);
  return { cubic, error, worst: a + ((b - a) * index) / (points.length - 1) };
}

/** As few points as hold a track within the tolerance on all its frames. */
function pointsOf(track: Track, tolerance: number): Place[] {
  const { on } = track;
  let longest = 0;
  for (const [f, { lengths }] of on.entries()) if (lengths[lengths.length - 1] > on[longest].lengths[on[longest].lengths.length - 1]) longest = f;
  const { outline } = on[longest];
  const line = Array.from({ length: outline.length / 2 }, (_, i) => ({ x: outline[2 * i], y: outline[2 * i + 1] }));
  const places = fitLine(line, true, tolerance).map((v) => placeFrom(track, longest, nearestShare(on[longest], v.x, v.y), v.free === true));
  const order = () => places.sort((a, b) => a.shares[longest] - b.shares[longest]);
  order();
  while (places.length < 3) {
    places.push(placeFrom(track, longest, (places.length + 0.5) / 3, false));
    order();
  }
  for (let round = 0; round < ROUNDS; round++) {
    const added: Place[] = [];
    for (let k = 0; k < places.length && places.length + added.length < MOST_VERTICES; k++) {
      let [most, at, share] = [tolerance, -1, 0];
      for (let f = 0; f < on.length; f++) {
        const { error, worst } = fitBetween(on[f], places[k], places[(k + 1) % places.length], f, tolerance);
        if (error > most) [most, at, share] = [error, f, worst];
      }
      if (at >= 0) added.push(placeFrom(track, at, share, false));
    }
    if (added.length === 0) break;
    for (const place of added) {
      const round = Math.floor(place.shares[longest]);
      place.shares = place.shares.map((s) => s - round);
    }
    places.push(...added);
    order();
  }
  // Points that are not needed by now go.
  for (let k = 0; k < places.length && places.length > 3; ) {
    const [before, after] = [places[(k + places.length - 1) % places.length], places[(k + 1) % places.length]];
    if (!places[k].free && on.every((o, f) => fitBetween(o, before, after, f, tolerance).error <= tolerance)) places.splice(k, 1);
    else k++;
  }
  return places;
}

function shapeOn(on: Followed, places: readonly Place[], frame: number, tolerance: number): Shape {
  const cubics = places.map((p, k) => fitBetween(on, p, places[(k + 1) % places.length], frame, tolerance).cubic);
  return cubics.map((c, k): Vertex => {
    const before = cubics[(k + cubics.length - 1) % cubics.length];
    const vertex = { x: c.a.x, y: c.a.y, inX: before.c.x - c.a.x, inY: before.c.y - c.a.y, outX: c.b.x - c.a.x, outY: c.b.y - c.a.y };
    return places[k].free ? { ...vertex, free: true } : vertex;
  });
}

/** The farthest that a point of one closed line is from the other. */
function farthest(points: Float64Array, from: Float64Array): number {
  let most = 0;
  for (let i = 0; i < points.length; i += 2) {
    const [x, y] = [points[i], points[i + 1]];
    let least = Number.POSITIVE_INFINITY;
    for (let k = 0, j = from.length - 2; k < from.length; j = k, k += 2) {
      const [dx, dy] = [from[k] - from[j], from[k + 1] - from[j + 1]];
      const t = Math.max(0, Math.min(1, ((x - from[j]) * dx + (y - from[j + 1]) * dy) / Math.max(1e-12, dx * dx + dy * dy)));
      const d = (from[j] + t * dx - x) ** 2 + (from[j + 1] + t * dy - y) ** 2;
      if (d < least) least = d;
    }
    if (least > most) most = least;
  }
  return Math.sqrt(most);
}

/** Curves of the outlines of neighbouring frames, rising, within `tolerance` pixels where they can be. */
export function traceOutlines(frames: readonly TracedFrame[], tolerance: number, onProgress: (share: number) => void = () => {}): Trace {
  const tracks = linked(frames);
  const work = tracks.reduce((sum, t) => sum + t.on.length, 0);
  let [done, deviation] = [0, 0];
  const paths: Key<Shape>[][] = [];
  for (const track of tracks) {
    const places = pointsOf(track, CURVES * tolerance);
    const all = track.on.map(
      (on, f): Key<Shape> => ({
        frame: frames[track.first + f].frame,
        value: shapeOn(on, places, f, (CURVES * tolerance) / 2),
        ease: 'linear',
      }),
    );
    const range = { first: all[0].frame, last: all[all.length - 1].frame };
    const keys = thinKeys(all, range, KEYS * tolerance, shapesOf('straight', true), distanceBetween);
    const animated: Animated<Shape> = { keys };
    for (const [f, { outline }] of track.on.entries()) {
      const line = flatten(shapeOver(animated, 'straight', true, all[f].frame), 1, 1, 0.02);
      deviation = Math.max(deviation, farthest(outline, line), farthest(line, outline));
    }
    paths.push(whileSeen(keys, frames[0].frame, frames[frames.length - 1].frame));
    done += track.on.length;
    onProgress(done / work);
  }
  return { paths, deviation };
}

/** Keys that draw the path together to a point on the frames, of `first` to `last`, on which it is not to be seen. */
function whileSeen(keys: Key<Shape>[], first: number, last: number): Key<Shape>[] {
  const point = ({ value }: Key<Shape>, at: number): Key<Shape> => {
    const [x, y] = [0, 1].map((i) => value.reduce((sum, v) => sum + (i === 0 ? v.x : v.y), 0) / value.length);
    return { frame: at, value: value.map(() => corner(x, y)), ease: 'hold' };
  };
  const [begin, end] = [keys[0], keys[keys.length - 1]];
  return [...(begin.frame > first ? [point(begin, first)] : []), ...keys, ...(end.frame < last ? [point(end, end.frame + 1)] : [])];
}
