/** Cubic bezier paths: their vertices, how two of them mix, and their flattening to polylines. */

import { z } from 'zod';
import { clamp } from '../math/clamp.ts';
import { bernstein } from './bernstein.ts';

const coordinate = z.number().min(-1e6).max(1e6);
const featherWidth = z.number().min(0).max(500).optional();
const vertexSchema = z.strictObject({
  x: coordinate,
  y: coordinate,
  inX: coordinate,
  inY: coordinate,
  outX: coordinate,
  outY: coordinate,
  /** Width in pixels of the soft band inside and outside the curve here; between vertices it goes along the curve. */
  featherIn: featherWidth,
  featherOut: featherWidth,
  /** Its handles are turned apart from each other. */
  free: z.boolean().optional(),
  /** It moves with a track of its own: drawn as on that frame, whatever carries the rest of the curve. */
  pin: z.strictObject({ track: z.string().min(1).max(64), frame: z.number().int().min(0).max(10_000_000) }).optional(),
});

/** A point of a path in plate pixels; its handles are offsets from it, (0,0) where there is none. */
export type Vertex = z.infer<typeof vertexSchema>;

export const MAX_VERTICES = 10_000;
export const shapeSchema = z.array(vertexSchema).max(MAX_VERTICES);
export type Shape = Vertex[];

/** Largest distance in pixels between a curve and its polyline: under one step of an 8-bit matte. */
const FLATNESS = 0.004;

/** Left, top, right and bottom of closed curves. `flatness` as in {@link flatten}. */
export function extentOf(shapes: readonly Shape[], flatness = FLATNESS): [number, number, number, number] {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const shape of shapes) {
    const p = flatten(shape, 1, 1, flatness);
    for (let i = 0; i < p.length; i += 2) {
      left = Math.min(left, p[i]);
      right = Math.max(right, p[i]);
      top = Math.min(top, p[i + 1]);
      bottom = Math.max(bottom, p[i + 1]);
    }
  }
  return [left, top, right, bottom];
}

/** The shape with its places and handles to a hundredth of a pixel, for keys that were computed. */
export function roundedShape(shape: Shape): Shape {
  const two = (n: number) => Math.round(n * 100) / 100;
  return shape.map((v) => ({ ...v, x: two(v.x), y: two(v.y), inX: two(v.inX), inY: two(v.inY), outX: two(v.outX), outY: two(v.outY) }));
}

export const corner = (x: number, y: number): Vertex => ({ x, y, inX: 0, inY: 0, outX: 0, outY: 0 });

/** A point with mirrored handles; (dx, dy) is the outgoing one. */
export const smooth = (x: number, y: number, dx: number, dy: number): Vertex => ({ x, y, inX: -dx, inY: -dy, outX: dx, outY: dy });

/** Whether any vertex has a feather of its own. */
export const isFeathered = (shape: Shape): boolean => shape.some((v) => (v.featherIn ?? 0) > 0 || (v.featherOut ?? 0) > 0);

export type VertexField = Exclude<keyof Vertex, 'free' | 'pin'>;

/** A vertex made field by field; feather widths never fall below 0 and are left out where there are none. */
export function mapVertex(like: Vertex, value: (field: VertexField) => number): Vertex {
  const vertex: Vertex = { x: value('x'), y: value('y'), inX: value('inX'), inY: value('inY'), outX: value('outX'), outY: value('outY') };
  if (like.featherIn !== undefined) vertex.featherIn = Math.max(0, value('featherIn'));
  if (like.featherOut !== undefined) vertex.featherOut = Math.max(0, value('featherOut'));
  if (like.free) vertex.free = true;
  if (like.pin) vertex.pin = like.pin;
  return vertex;
}

export function mixVertices(v: Vertex, w: Vertex, share: number): Vertex {
  const out: Vertex = {
    x: v.x + (w.x - v.x) * share,
    y: v.y + (w.y - v.y) * share,
    inX: v.inX + (w.inX - v.inX) * share,
    inY: v.inY + (w.inY - v.inY) * share,
    outX: v.outX + (w.outX - v.outX) * share,
    outY: v.outY + (w.outY - v.outY) * share,
  };
  if (v.featherIn !== undefined || w.featherIn !== undefined) out.featherIn = (v.featherIn ?? 0) + ((w.featherIn ?? 0) - (v.featherIn ?? 0)) * share;
  if (v.featherOut !== undefined || w.featherOut !== undefined) out.featherOut = (v.featherOut ?? 0) + ((w.featherOut ?? 0) - (v.featherOut ?? 0)) * share;
  if (v.free) out.free = true;
  if (v.pin) out.pin = v.pin;
  return out;
}

/** The four control points of the segment from vertex `i` to the next, as x,y pairs. */
export function segment(shape: Shape, i: number): [number, number, number, number, number, number, number, number] {
  const a = shape[i];
  const b = shape[(i + 1) % shape.length];
  return [a.x, a.y, a.x + a.outX, a.y + a.outY, b.x + b.inX, b.y + b.inY, b.x, b.y];
}

/** Point on a segment at `t` in [0,1]. */
export function pointOn(s: ReturnType<typeof segment>, t: number): { x: number; y: number } {
  const [a, b, c, d] = bernstein(t);
  return { x: a * s[0] + b * s[2] + c * s[4] + d * s[6], y: a * s[1] + b * s[3] + c * s[5] + d * s[7] };
}

/** How many chords keep a cubic within `flatness` pixels (bound by its second differences; Wang 1984). */
export function chordsOf(s: ReturnType<typeof segment>, flatness: number): number {
  const ax = s[0] - 2 * s[2] + s[4];
  const ay = s[1] - 2 * s[3] + s[5];
  const bx = s[2] - 2 * s[4] + s[6];
  const by = s[3] - 2 * s[5] + s[7];
  const bend = Math.sqrt(Math.max(ax * ax + ay * ay, bx * bx + by * by));
  return clamp(Math.ceil(Math.sqrt((0.75 * bend) / flatness)), 1, 4096);
}

/**
 * A path as a polyline x0,y0,x1,y1,… scaled by `scaleX`, `scaleY`; where it is closed the last point joins the first and is not
 * repeated. `flatness` is in scaled pixels.
 */
export function flatten(shape: Shape, scaleX = 1, scaleY = 1, flatness = FLATNESS, closed = true): Float64Array {
  const points: number[] = [];
  const stretches = closed ? shape.length : shape.length - 1;
  for (let i = 0; i < stretches; i++) {
    const s = segment(shape, i);
    for (let k = 0; k < 8; k += 2) {
      s[k] *= scaleX;
      s[k + 1] *= scaleY;
    }
    const n = chordsOf(s, flatness);
    points.push(s[0], s[1]);
    for (let k = 1; k < n; k++) {
      const p = pointOn(s, k / n);
      points.push(p.x, p.y);
    }
  }
  if (!closed && shape.length > 0) points.push(shape[shape.length - 1].x * scaleX, shape[shape.length - 1].y * scaleY);
  return Float64Array.from(points);
}
