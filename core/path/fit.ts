/** Few bezier points for a drawn line: least-squares fitting of cubics with a tolerance (Schneider 1990, Graphics Gems I). */

import { clamp } from '../math/clamp.ts';
import { bernstein } from './bernstein.ts';
import { corner, type Shape, type Vertex } from './path.ts';

export interface Point {
  x: number;
  y: number;
}

const sub = (a: Point, b: Point): Point => ({ x: a.x - b.x, y: a.y - b.y });
const dot = (a: Point, b: Point): number => a.x * b.x + a.y * b.y;
const unit = (v: Point): Point => {
  const length = Math.sqrt(dot(v, v)) || 1;
  return { x: v.x / length, y: v.y / length };
};

export interface Cubic {
  a: Point;
  b: Point;
  c: Point;
  d: Point;
}

const at = ({ a, b, c, d }: Cubic, t: number): Point => {
  const [k0, k1, k2, k3] = bernstein(t);
  return { x: k0 * a.x + k1 * b.x + k2 * c.x + k3 * d.x, y: k0 * a.y + k1 * b.y + k2 * c.y + k3 * d.y };
};

/** The cubic with end tangents `u`, `w` nearest to the points at parameters `ts`. */
function leastSquares(points: readonly Point[], ts: readonly number[], u: Point, w: Point): Cubic {
  const a = points[0];
  const d = points[points.length - 1];
  let [c00, c01, c11, r0, r1] = [0, 0, 0, 0, 0];
  for (const [i, p] of points.entries()) {
    const [k0, k1, k2, k3] = bernstein(ts[i]);
    const rest = { x: p.x - (k0 + k1) * a.x - (k2 + k3) * d.x, y: p.y - (k0 + k1) * a.y - (k2 + k3) * d.y };
    c00 += k1 * k1;
    c01 += k1 * k2 * dot(u, w);
    c11 += k2 * k2;
    r0 += k1 * dot(rest, u);
    r1 += k2 * dot(rest, w);
  }
  const determinant = c00 * c11 - c01 * c01;
  const span = Math.sqrt(dot(sub(d, a), sub(d, a)));
  let alpha = Math.abs(determinant) > 1e-12 ? (r0 * c11 - r1 * c01) / determinant : 0;
  let beta = Math.abs(determinant) > 1e-12 ? (r1 * c00 - r0 * c01) / determinant : 0;
  // Handles that run backwards, or none: Wu and Barsky's third of the span.
  if (alpha < span * 1e-6 || beta < span * 1e-6) {
    alpha = span / 3;
    beta = span / 3;
  }
  return { a, b: { x: a.x + u.x * alpha, y: a.y + u.y * alpha }, c: { x: d.x + w.x * beta, y: d.y + w.y * beta }, d };
}

function byLength(points: readonly Point[]): number[] {
  const ts = [0];
  for (let i = 1; i < points.length; i++) ts.push(ts[i - 1] + Math.sqrt(dot(sub(points[i], points[i - 1]), sub(points[i], points[i - 1]))));
  const total = ts[ts.length - 1] || 1;
  return ts.map((t) => t / total);
}

/** One step of Newton's towards the parameter nearest to each point. */
function nearer(cubic: Cubic, points: readonly Point[], ts: readonly number[]): number[] {
  const h = 1e-4;
  return ts.map((t, i) => {
    const p = at(cubic, t);
    const before = at(cubic, t - h);
    const after = at(cubic, t + h);
    const d1 = { x: (after.x - before.x) / (2 * h), y: (after.y - before.y) / (2 * h) };
    const d2 = { x: (after.x - 2 * p.x + before.x) / (h * h), y: (after.y - 2 * p.y + before.y) / (h * h) };
    const gap = sub(p, points[i]);
    const slope = dot(d1, d1) + dot(gap, d2);
    return Math.abs(slope) < 1e-12 ? t : clamp(t - dot(gap, d1) / slope, 0, 1);
  });
}

function worst(cubic: Cubic, points: readonly Point[], ts: readonly number[]): { error: number; index: number } {
  let error = 0;
  let index = points.length >> 1;
  for (let i = 1; i < points.length - 1; i++) {
    const gap = sub(at(cubic, ts[i]), points[i]);
    const e = dot(gap, gap);
    if (e > error) {
      error = e;
      index = i;
    }
  }
  return { error: Math.sqrt(error), index };
}

const ROUNDS = 6;

/**
 * The cubic with end tangents `u` (out of the first point) and `w` (out of the last) nearest to the points, two or more; its
 * greatest distance from them, and at which of them. It is not made better than `tolerance`.
 */
export function fitCubic(points: readonly Point[], u: Point, w: Point, tolerance: number): { cubic: Cubic; error: number; index: number } {
  let ts = byLength(points);
  let cubic = leastSquares(points, ts, u, w);
  let { error, index } = worst(cubic, points, ts);
  for (let round = 0; round < ROUNDS && error > tolerance && error < tolerance * 16; round++) {
    ts = nearer(cubic, points, ts);
    cubic = leastSquares(points, ts, u, w);
    ({ error, index } = worst(cubic, points, ts));
  }
  return { cubic, error, index };
}

function fitStretch(points: readonly Point[], u: Point, w: Point, tolerance: number, out: Cubic[]): void {
  if (points.length === 2) {
    const third = Math.sqrt(dot(sub(points[1], points[0]), sub(points[1], points[0]))) / 3;
    out.push({
      a: points[0],
      b: { x: points[0].x + u.x * third, y: points[0].y + u.y * third },
      c: { x: points[1].x + w.x * third, y: points[1].y + w.y * third },
      d: points[1],
    });
    return;
  }
  const { cubic, error, index } = fitCubic(points, u, w, tolerance);
  if (error <= tolerance) {
    out.push(cubic);
    return;
  }
  // The tangent at the split looks at a few points each side, which steadies a trembling hand.
  const reach = Math.min(4, index, points.length - 1 - index);
  const middle = unit(sub(points[index - reach], points[index + reach]));
  fitStretch(points.slice(0, index + 1), u, middle, tolerance, out);
  fitStretch(points.slice(index), { x: -middle.x, y: -middle.y }, w, tolerance, out);
}

/** Turns of more than this, in radians, over a few pixels are corners. */
const CORNER = (50 * Math.PI) / 180;

/** Indices of corners: sharp turns between the directions a stretch before and after, strongest of their neighbourhood. */
function corners(points: readonly Point[], reach: number): number[] {
  const n = points.length;
  const lengths = byLength(points);
  const total = Math.max(
    1e-9,
    points.slice(1).reduce((sum, p, i) => sum + Math.sqrt(dot(sub(p, points[i]), sub(p, points[i]))), 0),
  );
  const span = reach / total;
  const turns = points.map((p, i) => {
    let before = i;
    let after = i;
    while (lengths[i] - lengths[before] < span && before > 0) before--;
    while (lengths[after] - lengths[i] < span && after < n - 1) after++;
    if (before === i || after === i) return 0;
    const d0 = unit(sub(p, points[before]));
    const d1 = unit(sub(points[after], p));
    return Math.acos(clamp(dot(d0, d1), -1, 1));
  });
  const found: number[] = [];
  for (let i = 1; i < n - 1; i++) {
    if (turns[i] < CORNER) continue;
    let best = true;
    for (let k = i - 1; k > 0 && lengths[i] - lengths[k] < span; k--) if (turns[k] >= turns[i]) best = false;
    for (let k = i + 1; k < n - 1 && lengths[k] - lengths[i] < span; k++) if (turns[k] > turns[i]) best = false;
    if (best) found.push(i);
  }
  return found;
}

/** Points at least `gap` pixels apart, the last kept. */
function thinned(points: readonly Point[], gap: number): Point[] {
  const out = [points[0]];
  for (const p of points) if (dot(sub(p, out[out.length - 1]), sub(p, out[out.length - 1])) >= gap * gap) out.push(p);
  return out;
}

/**
 * A path of few vertices that passes within `tolerance` pixels of a drawn line; sharp turns become corners.
 * @param line points in plate pixels, in the order drawn
 * @param closed the last point joins the first
 */
export function fitLine(line: readonly Point[], closed: boolean, tolerance: number): Shape {
  let points = thinned(line, Math.max(0.25, tolerance / 3));
  if (points.length < 3) return points.map((p) => corner(p.x, p.y));
  if (closed) {
    const [first, last] = [points[0], points[points.length - 1]];
    if (dot(sub(first, last), sub(first, last)) < 1e-9) points = points.slice(0, -1);
    points.push(first);
  }
  const n = points.length;
  const reach = Math.max(3, tolerance * 3);
  const breaks = [0, ...corners(points, reach), n - 1];
  const few = (i: number) => clamp(i, 1, 3);
  // A closed line that is smooth where it closes has one tangent there.
  const seam = closed ? unit(sub(points[Math.min(n - 1, 3)], points[Math.max(0, n - 1 - 3)])) : null;
  const incoming = closed ? unit(sub(points[0], points[n - 1 - few(n - 2)])) : null;
  const outgoing = unit(sub(points[few(n - 2)], points[0]));
  const smoothSeam = seam !== null && incoming !== null && dot(incoming, outgoing) > Math.cos(CORNER);
  const cubics: Cubic[] = [];
  const starts = new Set<number>();
  for (let k = 0; k + 1 < breaks.length; k++) {
    const piece = points.slice(breaks[k], breaks[k + 1] + 1);
    if (piece.length < 2) continue;
    const near = few(piece.length - 1);
    const u = k === 0 && smoothSeam ? (seam as Point) : unit(sub(piece[near], piece[0]));
    const back = unit(sub(piece[piece.length - 1 - near], piece[piece.length - 1]));
    const w = k + 2 === breaks.length && smoothSeam ? { x: -(seam as Point).x, y: -(seam as Point).y } : back;
    starts.add(cubics.length);
    fitStretch(piece, u, w, tolerance, cubics);
  }
  const shape: Vertex[] = cubics.map((c, i) => {
    const before = i > 0 ? cubics[i - 1] : closed ? cubics[cubics.length - 1] : null;
    const vertex: Vertex = {
      x: c.a.x,
      y: c.a.y,
      inX: before ? before.c.x - c.a.x : 0,
      inY: before ? before.c.y - c.a.y : 0,
      outX: c.b.x - c.a.x,
      outY: c.b.y - c.a.y,
    };
    const isCorner = i === 0 ? closed && !smoothSeam : starts.has(i);
    return isCorner ? { ...vertex, free: true } : vertex;
  });
  if (!closed) {
    const last = cubics[cubics.length - 1];
    shape.push({ x: last.d.x, y: last.d.y, inX: last.c.x - last.d.x, inY: last.c.y - last.d.y, outX: 0, outY: 0 });
  }
  return shape;
}
