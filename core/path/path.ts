/** Cubic bezier paths: their vertices, how two of them mix, and their flattening to polylines. */
import { z } from 'zod';
import type { ValueKind } from '../time/reach.ts';

const coordinate = z.number().min(-1e6).max(1e6);
export const vertexSchema = z.strictObject({ x: coordinate, y: coordinate, inX: coordinate, inY: coordinate, outX: coordinate, outY: coordinate });

/** A point of a path in plate pixels; its handles are offsets from it, (0,0) where there is none. */
export type Vertex = z.infer<typeof vertexSchema>;

export const MAX_VERTICES = 10_000;
export const shapeSchema = z.array(vertexSchema).max(MAX_VERTICES);
export type Shape = Vertex[];

/** Largest distance in pixels between a curve and its polyline: under one step of an 8-bit matte. */
export const FLATNESS = 0.004;

export const corner = (x: number, y: number): Vertex => ({ x, y, inX: 0, inY: 0, outX: 0, outY: 0 });

/** A point with mirrored handles; (dx, dy) is the outgoing one. */
export const smooth = (x: number, y: number, dx: number, dy: number): Vertex => ({ x, y, inX: -dx, inY: -dy, outX: dx, outY: dy });

/** Mixes vertex by vertex; holds `a` where the counts differ. */
export function mixShapes(a: Shape, b: Shape, share: number): Shape {
  if (a.length !== b.length) return a;
  return a.map((v, i) => {
    const w = b[i];
    return {
      x: v.x + (w.x - v.x) * share,
      y: v.y + (w.y - v.y) * share,
      inX: v.inX + (w.inX - v.inX) * share,
      inY: v.inY + (w.inY - v.inY) * share,
      outX: v.outX + (w.outX - v.outX) * share,
      outY: v.outY + (w.outY - v.outY) * share,
    };
  });
}

/** Moves every vertex of `shape` by the difference of two other shapes; leaves it where the counts differ. */
export function shiftShape(shape: Shape, from: Shape, to: Shape): Shape {
  if (shape.length !== to.length) return shape;
  return shape.map((v, i) => {
    const a = from[i];
    const b = to[i];
    return {
      x: v.x + b.x - a.x,
      y: v.y + b.y - a.y,
      inX: v.inX + b.inX - a.inX,
      inY: v.inY + b.inY - a.inY,
      outX: v.outX + b.outX - a.outX,
      outY: v.outY + b.outY - a.outY,
    };
  });
}

export const SHAPES: ValueKind<Shape> = { mix: mixShapes, shift: shiftShape };

/** The four control points of the segment from vertex `i` to the next, as x,y pairs. */
export function segment(shape: Shape, i: number): [number, number, number, number, number, number, number, number] {
  const a = shape[i];
  const b = shape[(i + 1) % shape.length];
  return [a.x, a.y, a.x + a.outX, a.y + a.outY, b.x + b.inX, b.y + b.inY, b.x, b.y];
}

/** Point on a segment at `t` in [0,1]. */
export function pointOn(s: ReturnType<typeof segment>, t: number): { x: number; y: number } {
  const u = 1 - t;
  const a = u * u * u;
  const b = 3 * u * u * t;
  const c = 3 * u * t * t;
  const d = t * t * t;
  return { x: a * s[0] + b * s[2] + c * s[4] + d * s[6], y: a * s[1] + b * s[3] + c * s[5] + d * s[7] };
}

/** How many chords keep a cubic within `flatness` pixels (bound by its second differences; Wang 1984). */
function chords(s: ReturnType<typeof segment>, flatness: number): number {
  const ax = s[0] - 2 * s[2] + s[4];
  const ay = s[1] - 2 * s[3] + s[5];
  const bx = s[2] - 2 * s[4] + s[6];
  const by = s[3] - 2 * s[5] + s[7];
  const bend = Math.sqrt(Math.max(ax * ax + ay * ay, bx * bx + by * by));
  return Math.min(4096, Math.max(1, Math.ceil(Math.sqrt((0.75 * bend) / flatness))));
}

/**
 * A closed path as a polyline x0,y0,x1,y1,… scaled by `scaleX`, `scaleY`; the last point joins the first and is not repeated.
 * `flatness` is in scaled pixels.
 */
export function flatten(shape: Shape, scaleX = 1, scaleY = 1, flatness = FLATNESS): Float64Array {
  const points: number[] = [];
  for (let i = 0; i < shape.length; i++) {
    const s = segment(shape, i);
    for (let k = 0; k < 8; k += 2) {
      s[k] *= scaleX;
      s[k + 1] *= scaleY;
    }
    const n = chords(s, flatness);
    points.push(s[0], s[1]);
    for (let k = 1; k < n; k++) {
      const p = pointOn(s, k / n);
      points.push(p.x, p.y);
    }
  }
  return Float64Array.from(points);
}
