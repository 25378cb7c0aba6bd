/** Editing of path shapes: pure functions, each gives a new shape. Positions in plate pixels. */

import { smoothstep } from '../math/clamp.ts';
import { bernstein } from './bernstein.ts';
import { corner, mixVertices, pointOn, type Shape, segment, type Vertex } from './path.ts';

/** Moves whole vertices by (dx, dy); `which` are indices. */
export function moveVertices(shape: Shape, which: ReadonlySet<number>, dx: number, dy: number): Shape {
  return shape.map((v, i) => (which.has(i) ? { ...v, x: v.x + dx, y: v.y + dy } : v));
}

/** Sets one handle (offset from its vertex); `mirror` turns the other one opposite, keeping its own length. */
export function setHandle(shape: Shape, index: number, side: 'in' | 'out', x: number, y: number, mirror: boolean): Shape {
  return shape.map((v, i) => {
    if (i !== index) return v;
    const next: Vertex = side === 'in' ? { ...v, inX: x, inY: y } : { ...v, outX: x, outY: y };
    if (!mirror) return next;
    const other = side === 'in' ? Math.sqrt(v.outX ** 2 + v.outY ** 2) : Math.sqrt(v.inX ** 2 + v.inY ** 2);
    const length = Math.sqrt(x * x + y * y);
    const k = length > 0 ? -(other > 0 ? other : length) / length : 0;
    return side === 'in' ? { ...next, outX: x * k, outY: y * k } : { ...next, inX: x * k, inY: y * k };
  });
}

/** Splits the segment after vertex `index` at `t` without changing the curve (de Casteljau). */
export function insertVertex(shape: Shape, index: number, t: number): Shape {
  const [x0, y0, x1, y1, x2, y2, x3, y3] = segment(shape, index);
  const { featherIn, featherOut } = mixVertices(shape[index], shape[(index + 1) % shape.length], t);
  const feather = { ...(featherIn === undefined ? {} : { featherIn }), ...(featherOut === undefined ? {} : { featherOut }) };
  if (x1 === x0 && y1 === y0 && x2 === x3 && y2 === y3) {
    // A straight line stays one of corners.
    const on = pointOn(segment(shape, index), t);
    return [...shape.slice(0, index + 1), { ...corner(on.x, on.y), ...feather }, ...shape.slice(index + 1)];
  }
  const mix = (a: number, b: number) => a + (b - a) * t;
  const ax = mix(x0, x1);
  const ay = mix(y0, y1);
  const bx = mix(x1, x2);
  const by = mix(y1, y2);
  const cx = mix(x2, x3);
  const cy = mix(y2, y3);
  const dx = mix(ax, bx);
  const dy = mix(ay, by);
  const ex = mix(bx, cx);
  const ey = mix(by, cy);
  const x = mix(dx, ex);
  const y = mix(dy, ey);
  const out = shape.map((v) => ({ ...v }));
  const following = (index + 1) % shape.length;
  out[index].outX = ax - x0;
  out[index].outY = ay - y0;
  out[following].inX = cx - x3;
  out[following].inY = cy - y3;
  out.splice(index + 1, 0, { x, y, inX: dx - x, inY: dy - y, outX: ex - x, outY: ey - y, ...feather });
  return out;
}

/**
 * Takes vertices away; the handles of their neighbours are made longer or shorter, in their own directions, so that the curve
 * stays as near as one segment can to where it was (least squares at even parameters).
 */
export function removeVertices(shape: Shape, which: ReadonlySet<number>, closed: boolean): Shape {
  let out = shape;
  for (const index of [...which].sort((a, b) => b - a)) out = removeVertex(out, index, closed);
  return out;
}

function removeVertex(shape: Shape, index: number, closed: boolean): Shape {
  const n = shape.length;
  const left = shape.filter((_, i) => i !== index);
  if (n < 3 || (!closed && (index === 0 || index === n - 1))) return left;
  const a = shape[(index + n - 1) % n];
  const b = shape[(index + 1) % n];
  const straight = (v: Vertex, side: 'in' | 'out') => (side === 'in' ? v.inX === 0 && v.inY === 0 : v.outX === 0 && v.outY === 0);
  if (straight(a, 'out') && straight(b, 'in')) return left;
  const firstHalf = segment(shape, (index + n - 1) % n);
  const secondHalf = segment(shape, index);
  const middle = arcLength(firstHalf) / Math.max(1e-9, arcLength(firstHalf) + arcLength(secondHalf));
  // Directions of the two handles; a point without one looks along the curve.
  const direction = (x: number, y: number, towards: { x: number; y: number }, from: Vertex): { x: number; y: number } => {
    const [dx, dy] = x === 0 && y === 0 ? [towards.x - from.x, towards.y - from.y] : [x, y];
    const length = Math.sqrt(dx * dx + dy * dy) || 1;
    return { x: dx / length, y: dy / length };
  };
  const u = direction(a.outX, a.outY, pointOn(firstHalf, 0.33), a);
  const w = direction(b.inX, b.inY, pointOn(secondHalf, 0.67), b);
  // With both directions given only the two lengths are free: a system of two equations.
  let [c00, c01, c11, r0, r1] = [0, 0, 0, 0, 0];
  const SAMPLES = 24;
  for (let k = 1; k < SAMPLES; k++) {
    const t = k / SAMPLES;
    const target = t < middle ? pointOn(firstHalf, t / middle) : pointOn(secondHalf, (t - middle) / (1 - middle));
    const [b0, b1, b2, b3] = bernstein(t);
    const restX = target.x - (b0 + b1) * a.x - (b2 + b3) * b.x;
    const restY = target.y - (b0 + b1) * a.y - (b2 + b3) * b.y;
    c00 += b1 * b1;
    c01 += b1 * b2 * (u.x * w.x + u.y * w.y);
    c11 += b2 * b2;
    r0 += b1 * (restX * u.x + restY * u.y);
    r1 += b2 * (restX * w.x + restY * w.y);
  }
  const determinant = c00 * c11 - c01 * c01;
  if (Math.abs(determinant) < 1e-12) return left;
  const out = Math.max(0, (r0 * c11 - r1 * c01) / determinant);
  const inward = Math.max(0, (r1 * c00 - r0 * c01) / determinant);
  return left.map((v) => (v === a ? { ...v, outX: u.x * out, outY: u.y * out } : v === b ? { ...v, inX: w.x * inward, inY: w.y * inward } : v));
}

function arcLength(s: ReturnType<typeof segment>): number {
  let length = 0;
  let before = pointOn(s, 0);
  for (let k = 1; k <= 16; k++) {
    const p = pointOn(s, k / 16);
    length += Math.sqrt((p.x - before.x) ** 2 + (p.y - before.y) ** 2);
    before = p;
  }
  return length;
}

export type PointKind = 'corner' | 'smooth' | 'broken';

export function pointKind(v: Vertex): PointKind {
  if (v.inX === 0 && v.inY === 0 && v.outX === 0 && v.outY === 0) return 'corner';
  return v.free ? 'broken' : 'smooth';
}

/** Makes vertices corners, smooth along the line between their neighbours, or broken: with handles that turn apart. */
export function makeKind(shape: Shape, which: ReadonlySet<number>, kind: PointKind): Shape {
  const n = shape.length;
  return shape.map((v, i) => {
    if (!which.has(i)) return v;
    const { free: _, ...rest } = v;
    if (kind === 'corner') return { ...rest, inX: 0, inY: 0, outX: 0, outY: 0 };
    const before = shape[(i + n - 1) % n];
    const after = shape[(i + 1) % n];
    const dx = after.x - before.x;
    const dy = after.y - before.y;
    const length = Math.sqrt(dx * dx + dy * dy) || 1;
    const reachOf = (w: Vertex, x: number, y: number) => Math.sqrt(x * x + y * y) || Math.sqrt((w.x - v.x) ** 2 + (w.y - v.y) ** 2) / 3;
    const hasHandles = pointKind(v) !== 'corner';
    if (kind === 'broken' && hasHandles) return { ...rest, free: true };
    const inward = reachOf(before, v.inX, v.inY) / length;
    const out = reachOf(after, v.outX, v.outY) / length;
    const round = { ...rest, inX: -dx * inward, inY: -dy * inward, outX: dx * out, outY: dy * out };
    return kind === 'broken' ? { ...round, free: true } : round;
  });
}

/** Makes vertex `index` the first of a closed path: which vertices meet between two keys follows from the first. */
export const withFirst = (shape: Shape, index: number): Shape => [...shape.slice(index), ...shape.slice(0, index)];

/** The same curve run through the other way, the first vertex staying the first. */
export const reversedShape = (shape: Shape): Shape =>
  [shape[0], ...shape.slice(1).reverse()].map((v) => ({ ...v, inX: v.outX, inY: v.outY, outX: v.inX, outY: v.inY }));

/** x' = a·x + c·y + e, y' = b·x + d·y + f: the order of the matrix() function of CSS Transforms. */
export type Affine = readonly [number, number, number, number, number, number];

/** Vertices `which` with their handles under an affine map. */
export function transformVertices(shape: Shape, which: ReadonlySet<number>, [a, b, c, d, e, f]: Affine): Shape {
  return shape.map((v, i) =>
    which.has(i)
      ? {
          ...v,
          x: a * v.x + c * v.y + e,
          y: b * v.x + d * v.y + f,
          inX: a * v.inX + c * v.inY,
          inY: b * v.inX + d * v.inY,
          outX: a * v.outX + c * v.outY,
          outY: b * v.outX + d * v.outY,
        }
      : v,
  );
}

/** Turn by `angle` radians, scale and skew (horizontal slant, radians) about a centre, then move. */
export function affineAbout(cx: number, cy: number, t: { dx?: number; dy?: number; angle?: number; scaleX?: number; scaleY?: number; skew?: number }): Affine {
  const { dx = 0, dy = 0, angle = 0, scaleX = 1, scaleY = 1, skew = 0 } = t;
  const [cos, sin, slant] = [Math.cos(angle), Math.sin(angle), Math.tan(skew)];
  // Scale, then slant, then turn.
  const a = cos * scaleX;
  const b = sin * scaleX;
  const c = (cos * slant - sin) * scaleY;
  const d = (sin * slant + cos) * scaleY;
  return [a, b, c, d, cx + dx - a * cx - c * cy, cy + dy - b * cx - d * cy];
}

/** How far each vertex follows when `which` move: those wholly, others within `radius` pixels of one of them smoothly less. */
export function softWeights(shape: Shape, which: ReadonlySet<number>, radius: number): number[] {
  return shape.map((v, i) => {
    if (which.has(i)) return 1;
    if (radius <= 0) return 0;
    let nearest = Number.POSITIVE_INFINITY;
    for (const k of which) if (shape[k]) nearest = Math.min(nearest, (shape[k].x - v.x) ** 2 + (shape[k].y - v.y) ** 2);
    const t = Math.max(0, 1 - Math.sqrt(nearest) / radius);
    return smoothstep(t);
  });
}

/** Moves every vertex by its weight's share of (dx, dy). */
export const moveWeighted = (shape: Shape, weights: readonly number[], dx: number, dy: number): Shape =>
  shape.map((v, i) => (weights[i] > 0 ? { ...v, x: v.x + dx * weights[i], y: v.y + dy * weights[i] } : v));

/** Nearest place on the path: segment index, parameter and distance in pixels. Null for fewer than two vertices. */
export function nearestOn(shape: Shape, closed: boolean, x: number, y: number): { index: number; t: number; distance: number } | null {
  const segments = closed ? shape.length : shape.length - 1;
  if (shape.length < 2) return null;
  let best = { index: 0, t: 0, distance: Number.POSITIVE_INFINITY };
  const measure = (index: number, t: number) => {
    const p = pointOn(segment(shape, index), t);
    const distance = Math.sqrt((p.x - x) ** 2 + (p.y - y) ** 2);
    if (distance < best.distance) best = { index, t, distance };
  };
  for (let i = 0; i < segments; i++) for (let k = 0; k <= 16; k++) measure(i, k / 16);
  for (let step = 1 / 32; step > 1e-5; step /= 2) {
    const { index, t } = best;
    measure(index, Math.max(0, t - step));
    measure(index, Math.min(1, t + step));
  }
  return best;
}
