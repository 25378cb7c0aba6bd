/**
 * Mattes of a stretch of frames as curves: each outline is followed from frame to frame, gets as few points as hold it within a
 * tolerance on all of them, the same points throughout, and of its keys only those that are needed.
 */
import { clamp } from '../math/clamp.ts';
import { nearestOnSegment } from '../math/segment.ts';
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
const ROUNDS = 16;
/** The same points go through the frames of a track as long as they are no more than so many times as many as on one, and some. */
const MORE = 1.5;
const SOME = 6;
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
    const t = nearestOnSegment(outline[2 * i], outline[2 * i + 1], outline[2 * j], outline[2 * j + 1], x, y);
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
  const steps = clamp(Math.ceil(((to - from) * whole) / 1.5), 2, PLACES);
  return Array.from({ length: steps + 1 }, (_, k) => placeAt(on, from + ((to - from) * k) / steps));
}

interface Fitted {
  cubic: Cubic;
  error: number;
  /** Share at which the curve is farthest from the outline. */
  worst: number;
}

/** From where to where on a frame's outline the curve after point `k` goes: shares, the second no less than the first. */
function spanOf(places: readonly Place[], k: number, frame: number): [number, number] {
  const from = places[k].shares[frame];
  const to = k + 1 < places.length ? places[k + 1].shares[frame] : places[0].shares[frame] + 1;
  return [from, clamp(to, from, from + 1)];
}

/** The curve over a stretch of a frame's outline; `free` says which of its ends are corners. */
function fitOver(on: Followed, [a, b]: [number, number], free: [boolean, boolean], tolerance: number): Fitted {
  const whole = on.lengths[on.lengths.length - 1];
  const reach = Math.min(REACH / whole, (b - a) / 3);
  const wayAt = (share: number, isFree: boolean, side: 1 | -1): Point => {
    const p = placeAt(on, share + (isFree && side < 0 ? 0 : reach));
    const q = placeAt(on, share - (isFree && side > 0 ? 0 : reach));
    return unit(p.x - q.x, p.y - q.y);
  };
  const u = wayAt(a, free[0], 1);
  const w = wayAt(b, free[1], -1);
  const points = stretch(on, a, b);
  const { cubic, error, index } = fitCubic(points, u, { x: -w.x, y: -w.y }, tolerance);
  // Handles far longer than the stretch make loops between the points that were looked at.
  const longest = (b - a) * whole;
  const tame = [cubic.b.x - cubic.a.x, cubic.b.y - cubic.a.y, cubic.c.x - cubic.d.x, cubic.c.y - cubic.d.y].every((v) => Math.abs(v) <= longest + 1e-9);
  if (tame) return { cubic, error, worst: a + ((b - a) * index) / (points.length - 1) };
  const third = longest / 3;
  const [from, to] = [points[0], points[points.length - 1]];
  const plain = { a: from, b: { x: from.x + u.x * third, y: from.y + u.y * third }, c: { x: to.x - w.x * third, y: to.y - w.y * third }, d: to };
  return { cubic: plain, error: Math.max(error, longest / 4), worst: (a + b) / 2 };
}

/** Whether the curve after point `k` stays within the tolerance on all frames. */
function isHeld({ on }: Track, places: readonly Place[], k: number, tolerance: number): boolean {
  const free: [boolean, boolean] = [places[k].free, places[(k + 1) % places.length].free];
  return on.every((o, f) => fitOver(o, spanOf(places, k, f), free, tolerance).error <= tolerance);
}

/** The worst that the curve after point `k` does on any frame; null where it stays within the tolerance on all. */
function worstOf({ on }: Track, places: readonly Place[], k: number, tolerance: number): { frame: number; share: number } | null {
  const free: [boolean, boolean] = [places[k].free, places[(k + 1) % places.length].free];
  let [most, frame, share] = [tolerance, -1, 0];
  for (let f = 0; f < on.length; f++) {
    const { error, worst } = fitOver(on[f], spanOf(places, k, f), free, tolerance);
    if (error > most) [most, frame, share] = [error, f, worst];
  }
  return frame < 0 ? null : { frame, share };
}

/**
 * As few points as hold a track within the tolerance on all its frames; null where that takes many more than one frame needs: it is
 * then better in two.
 */
function pointsOf(track: Track, tolerance: number): Place[] | null {
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
  const most = on.length === 1 ? MOST_VERTICES : Math.min(MOST_VERTICES, Math.ceil(MORE * places.length) + SOME);
  // Which point follows each whose curve is known to hold.
  const holds = new Map<Place, Place>();
  for (let round = 0; round < ROUNDS; round++) {
    const added: Place[] = [];
    for (let k = 0; k < places.length; k++) {
      const next = places[(k + 1) % places.length];
      if (holds.get(places[k]) === next) continue;
      const worst = worstOf(track, places, k, tolerance);
      if (worst) added.push(placeFrom(track, worst.frame, worst.share, false));
      else holds.set(places[k], next);
    }
    if (added.length === 0) break;
    if (places.length + added.length > most || round === ROUNDS - 1) {
      if (on.length > 1) return null;
      break;
    }
    for (const place of added) {
      const round = Math.floor(place.shares[longest]);
      place.shares = place.shares.map((s) => s - round);
    }
    places.push(...added);
    order();
    // There and back again is not quite where it began: on every frame a new point stays between its neighbours.
    for (const [k, place] of places.entries()) {
      if (!added.includes(place)) continue;
      const before = k > 0 ? places[k - 1].shares : places[places.length - 1].shares.map((s) => s - 1);
      let n = k + 1;
      while (n < places.length && added.includes(places[n])) n++;
      const after = n < places.length ? places[n].shares : places[0].shares.map((s) => s + 1);
      place.shares = place.shares.map((s, f) => Math.max(before[f], Math.min(after[f], s)));
    }
  }
  // Points that are not needed by now go.
  for (let k = 0; k < places.length && places.length > 3; ) {
    const rest = places.filter((_, i) => i !== k);
    if (!places[k].free && isHeld(track, rest, (k + rest.length - 1) % rest.length, tolerance)) places.splice(k, 1);
    else k++;
  }
  return places;
}

/** The track with its points, in as many pieces as it takes. */
function pieces(track: Track, tolerance: number): { track: Track; places: Place[] }[] {
  const places = pointsOf(track, tolerance);
  if (places) return [{ track, places }];
  const { first, on, ways } = track;
  // Cut where it changes the most, and rather not near its ends.
  let [at, most] = [1, -1];
  for (let k = 1; k < on.length; k++) {
    const weight = ways[k - 1].distance * (0.25 + Math.min(k, on.length - k) / on.length);
    if (weight > most) [at, most] = [k, weight];
  }
  const early = { first, on: on.slice(0, at), ways: ways.slice(0, at - 1) };
  const late = { first: first + at, on: on.slice(at), ways: ways.slice(at) };
  return [...pieces(early, tolerance), ...pieces(late, tolerance)];
}

function shapeOn(on: Followed, places: readonly Place[], frame: number, tolerance: number): Shape {
  const cubics = places.map((p, k) => fitOver(on, spanOf(places, k, frame), [p.free, places[(k + 1) % places.length].free], tolerance).cubic);
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
      const t = nearestOnSegment(from[j], from[j + 1], from[k], from[k + 1], x, y);
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
  const trace = ({ track, places }: { track: Track; places: Place[] }) => {
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
  };
  for (const track of tracks) {
    for (const piece of pieces(track, CURVES * tolerance)) trace(piece);
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
