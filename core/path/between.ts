/** How a path goes from key to key: point by point, along smooth ways, or turning as a whole. */
import { clamp } from '../math/clamp.ts';
import { type Animated, hasKeys, type Key, keyBefore, stretchAt, valueAt } from '../time/animated.ts';
import type { ValueKind } from '../time/reach.ts';
import { insertVertex } from './edit.ts';
import { mapVertex, mixVertices, pointOn, type Shape, segment } from './path.ts';
import { applySimilarity, fitSimilarity, type Similarity } from './similarity.ts';

export const BETWEENS = ['straight', 'smooth', 'turning'] as const;
/**
 * straight: each point goes in a straight line. smooth: each point follows a smooth way through the keys before and after.
 * turning: first the best move, turn and scale of the whole path is taken out and goes its own even way, then what is left
 * goes straight, so that a turning limb keeps its size.
 */
export type Between = (typeof BETWEENS)[number];

const PIECES = 24;

/** Share of the whole length at which each vertex lies, from 0 at the first; `closed` counts the way back as well. */
function arcShares(shape: Shape, closed: boolean): { shares: number[]; lengths: Float64Array } {
  const segments = closed ? shape.length : shape.length - 1;
  const lengths = new Float64Array(segments * PIECES + 1);
  let total = 0;
  for (let i = 0; i < segments; i++) {
    const s = segment(shape, i);
    let before = pointOn(s, 0);
    for (let k = 1; k <= PIECES; k++) {
      const p = pointOn(s, k / PIECES);
      total += Math.sqrt((p.x - before.x) ** 2 + (p.y - before.y) ** 2);
      lengths[i * PIECES + k] = total;
      before = p;
    }
  }
  const whole = total > 0 ? total : 1;
  return { shares: shape.map((_, i) => Math.min(1, lengths[Math.min(i * PIECES, lengths.length - 1)] / whole)), lengths: lengths.map((l) => l / whole) };
}

/** The shape with vertices added at the shares of its length, its form unchanged. `shares` rising, none on a vertex. */
function withPoints(shape: Shape, closed: boolean, shares: readonly number[]): Shape {
  const { lengths } = arcShares(shape, closed);
  // From the end, so that places before stay where they are.
  let out = shape;
  let laterT = 1;
  let laterSegment = -1;
  for (let k = shares.length - 1; k >= 0; k--) {
    let piece = 1;
    while (piece < lengths.length - 1 && lengths[piece] < shares[k]) piece++;
    const span = lengths[piece] - lengths[piece - 1];
    const within = span > 0 ? (shares[k] - lengths[piece - 1]) / span : 0.5;
    const index = Math.floor((piece - 1) / PIECES);
    const t = clamp((piece - 1 - index * PIECES + within) / PIECES, 1e-4, 1 - 1e-4);
    if (index !== laterSegment) laterT = 1;
    out = insertVertex(out, index, Math.min(1 - 1e-4, t / laterT));
    laterT = t;
    laterSegment = index;
  }
  return out;
}

const SAME_PLACE = 1e-3;
const matchedPairs = new WeakMap<Shape, WeakMap<Shape, [Shape, Shape]>>();

/**
 * Two shapes of different numbers of vertices made to match: each gets points where the other has vertices, by share of arc
 * length from the first vertex. Their forms do not change.
 */
export function matchShapes(a: Shape, b: Shape, closed: boolean): [Shape, Shape] {
  if (a.length === b.length || a.length < 2 || b.length < 2) return [a, b];
  const known = matchedPairs.get(a)?.get(b);
  if (known) return known;
  const own = arcShares(a, closed).shares;
  const other = arcShares(b, closed).shares;
  // Both lists run together; vertices that fall on one place are one.
  const intoA: number[] = [];
  const intoB: number[] = [];
  for (let i = 1, j = 1; i < own.length || j < other.length; ) {
    const p = i < own.length ? own[i] : 2;
    const q = j < other.length ? other[j] : 2;
    if (Math.abs(p - q) < SAME_PLACE) {
      i++;
      j++;
    } else if (p < q) {
      intoB.push(p);
      i++;
    } else {
      intoA.push(q);
      j++;
    }
  }
  const pair: [Shape, Shape] = [withPoints(a, closed, intoA), withPoints(b, closed, intoB)];
  const inner = matchedPairs.get(a) ?? new WeakMap<Shape, [Shape, Shape]>();
  inner.set(b, pair);
  matchedPairs.set(a, inner);
  return pair;
}

/** Mixes two shapes point by point, matched where their counts differ. */
export function mixShapes(a: Shape, b: Shape, share: number, closed = true): Shape {
  const [p, q] = matchShapes(a, b, closed);
  if (p.length !== q.length) return a;
  return p.map((v, i) => mixVertices(v, q[i], share));
}

/** Mixes after taking out the best similarity: `a` turned on its way to `b`, plus an even share of what is left. */
export function mixTurning(a: Shape, b: Shape, share: number, closed = true): Shape {
  const [p, q] = matchShapes(a, b, closed);
  if (p.length !== q.length) return a;
  const fit = fitSimilarity(p, q);
  if (!fit) return p.map((v, i) => mixVertices(v, q[i], share));
  const turned = applySimilarity(p, partOf(fit, share));
  // What the similarity leaves of q, carried back to p's place and size.
  const back = applySimilarity(q, inverseOf(fit));
  const rest = applySimilarity(back, partOf(fit, share));
  return turned.map((v, i) => mixVertices(v, rest[i], share));
}

/** The share of a similarity: centre going straight, angle and the logarithm of the scale evenly. */
const partOf = (s: Similarity, share: number): Similarity => ({
  ...s,
  toX: s.fromX + (s.toX - s.fromX) * share,
  toY: s.fromY + (s.toY - s.fromY) * share,
  angle: s.angle * share,
  scale: s.scale ** share,
});

const inverseOf = (s: Similarity): Similarity => ({ fromX: s.toX, fromY: s.toY, toX: s.fromX, toY: s.fromY, angle: -s.angle, scale: 1 / s.scale });

/** Catmull and Rom's spline through the keys before, a, b and after, at uneven distances in time. */
function mixSmooth(keys: readonly Key<Shape>[], index: number, share: number, closed: boolean): Shape {
  const a = keys[index];
  const b = keys[index + 1];
  const mix = (from: Shape, to: Shape) => matchShapes(from, to, closed);
  const [p, q] = mix(a.value, b.value);
  if (p.length !== q.length) return a.value;
  const outer = (key: Key<Shape> | undefined) => (key && key.value.length === p.length ? key : undefined);
  const before = outer(keys[index - 1]);
  const after = outer(keys[index + 2]);
  const span = b.frame - a.frame;
  const s2 = share * share;
  const s3 = s2 * share;
  const [h00, h10, h01, h11] = [2 * s3 - 3 * s2 + 1, s3 - 2 * s2 + share, -2 * s3 + 3 * s2, s3 - s2];
  return p.map((v, i) => {
    const w = q[i];
    const from = before?.value[i];
    const to = after?.value[i];
    return mapVertex(v, (field) => {
      const [y0, y1] = [v[field] ?? 0, w[field] ?? 0];
      const m0 = from && before ? ((y1 - (from[field] ?? 0)) / (b.frame - before.frame)) * span : y1 - y0;
      const m1 = to && after ? (((to[field] ?? 0) - y0) / (after.frame - a.frame)) * span : y1 - y0;
      return h00 * y0 + h10 * m0 + h01 * y1 + h11 * m1;
    });
  });
}

/** The shape of a path at `time`, frames, fractions allowed. Exact at keys. */
export function shapeOver(shape: Animated<Shape>, between: Between, closed: boolean, time: number): Shape {
  if (between === 'straight' || !hasKeys(shape)) return valueAt(shape, time, (a, b, share) => mixShapes(a, b, share, closed));
  const { keys } = shape;
  const place = stretchAt(keys, time);
  if (!place) return keys[Math.max(0, keyBefore(keys, time))].value;
  const { index, share } = place;
  if (share === 0) return keys[index].value;
  if (between === 'smooth') return mixSmooth(keys, index, share, closed);
  return mixTurning(keys[index].value, keys[index + 1].value, share, closed);
}

/** Below this distance in pixels a change of a whole shape counts as one move, turn and scale. */
const RIGID = 0.01;

/**
 * Moves `shape` by what made `to` of `from`: a move, turn and scale of the whole is done about the shape's own centre, so that
 * it means the same on every key; any other change is added point by point.
 */
export function shiftShape(shape: Shape, from: Shape, to: Shape): Shape {
  const fit = from.length === to.length ? fitSimilarity(from, to) : null;
  if (fit && distanceBetween(applySimilarity(from, fit), to) < RIGID) {
    const centre = centreOf(shape);
    return applySimilarity(shape, { ...fit, fromX: centre.x, fromY: centre.y, toX: centre.x + fit.toX - fit.fromX, toY: centre.y + fit.toY - fit.fromY });
  }
  if (shape.length !== to.length || shape.length !== from.length) return shape;
  return shape.map((v, i) => mapVertex(v, (field) => (v[field] ?? 0) + (to[i][field] ?? 0) - (from[i][field] ?? 0)));
}

/** Mean of the vertices. */
export function centreOf(shape: Shape): { x: number; y: number } {
  let x = 0;
  let y = 0;
  for (const v of shape) {
    x += v.x;
    y += v.y;
  }
  const n = Math.max(1, shape.length);
  return { x: x / n, y: y / n };
}

/** Largest distance between vertices, and between handle ends, of two shapes of one count. */
export function distanceBetween(a: Shape, b: Shape): number {
  let most = 0;
  const far = (dx: number, dy: number) => {
    most = Math.max(most, dx * dx + dy * dy);
  };
  for (const [i, v] of a.entries()) {
    const w = b[i];
    far(v.x - w.x, v.y - w.y);
    far(v.x + v.inX - w.x - w.inX, v.y + v.inY - w.y - w.inY);
    far(v.x + v.outX - w.x - w.outX, v.y + v.outY - w.y - w.outY);
    far((v.featherIn ?? 0) - (w.featherIn ?? 0), (v.featherOut ?? 0) - (w.featherOut ?? 0));
  }
  return Math.sqrt(most);
}

/** Shapes as values over time, for Reach. */
export const shapesOf = (between: Between, closed: boolean): ValueKind<Shape> => ({
  at: (animated, time) => shapeOver(animated, between, closed, time),
  mix: (a, b, share) => mixShapes(a, b, share, closed),
  shift: shiftShape,
  beyond: between === 'smooth' ? 1 : 0,
});
