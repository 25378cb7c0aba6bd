/** Ready-made shapes in plate pixels, each as few bezier points as hold it. */
import { corner, type Shape, type Vertex } from './path.ts';

/** Length of handles, as a share of the radius, with which four cubics pass for a circle (error under 0.03 %). */
const ROUND = 0.5522847498;

const withHandles = (x: number, y: number, inX: number, inY: number, outX: number, outY: number): Vertex => ({ x, y, inX, inY, outX, outY });

/** Axis-parallel ellipse with centre (cx, cy). */
export function ellipse(cx: number, cy: number, rx: number, ry: number): Shape {
  const [kx, ky] = [rx * ROUND, ry * ROUND];
  return [
    withHandles(cx, cy - ry, -kx, 0, kx, 0),
    withHandles(cx + rx, cy, 0, -ky, 0, ky),
    withHandles(cx, cy + ry, kx, 0, -kx, 0),
    withHandles(cx - rx, cy, 0, ky, 0, -ky),
  ];
}

/** Rectangle whose corners are rounded with `radius` pixels, at most half of the shorter side. */
export function rectangle(left: number, top: number, width: number, height: number, radius = 0): Shape {
  const r = Math.max(0, Math.min(radius, width / 2, height / 2));
  const [right, bottom] = [left + width, top + height];
  if (r === 0) return [corner(left, top), corner(right, top), corner(right, bottom), corner(left, bottom)];
  const k = r * ROUND;
  return [
    withHandles(left + r, top, -k, 0, 0, 0),
    withHandles(right - r, top, 0, 0, k, 0),
    withHandles(right, top + r, 0, -k, 0, 0),
    withHandles(right, bottom - r, 0, 0, 0, k),
    withHandles(right - r, bottom, k, 0, 0, 0),
    withHandles(left + r, bottom, 0, 0, -k, 0),
    withHandles(left, bottom - r, 0, k, 0, 0),
    withHandles(left, top + r, 0, 0, 0, -k),
  ];
}

/** The stretch between two parallel lines through (x0, y0) and (x1, y1), `width` apart, longer than any frame both ways. */
function band(x0: number, y0: number, x1: number, y1: number, width: number, far: number): Shape {
  const length = Math.sqrt((x1 - x0) ** 2 + (y1 - y0) ** 2) || 1;
  const [ux, uy] = [(x1 - x0) / length, (y1 - y0) / length];
  const [nx, ny] = [(-uy * width) / 2, (ux * width) / 2];
  const [cx, cy] = [(x0 + x1) / 2, (y0 + y1) / 2];
  const at = (along: number, side: number): Vertex => corner(cx + ux * along + nx * side, cy + uy * along + ny * side);
  return [at(-far, -1), at(far, -1), at(far, 1), at(-far, 1)];
}

/** All that lies beyond the line through (x0, y0) in the direction towards (x1, y1), which it meets at a right angle, as far as `far` pixels. */
function halfPlane(x0: number, y0: number, x1: number, y1: number, far: number): Shape {
  const length = Math.sqrt((x1 - x0) ** 2 + (y1 - y0) ** 2) || 1;
  const [ux, uy] = [(x1 - x0) / length, (y1 - y0) / length];
  const at = (along: number, aside: number): Vertex => corner(x0 + ux * along - uy * aside, y0 + uy * along + ux * aside);
  return [at(0, -far), at(far, -far), at(far, far), at(0, far)];
}

/** Regular polygon, or a star where `inner` (share of the radius) is below 1; the first point is at the top. */
export function polygon(cx: number, cy: number, rx: number, ry: number, points: number, inner = 1): Shape {
  const corners = inner < 1 ? points * 2 : points;
  return Array.from({ length: corners }, (_, i) => {
    const angle = (i / corners) * 2 * Math.PI - Math.PI / 2;
    const r = inner < 1 && i % 2 === 1 ? inner : 1;
    return corner(cx + rx * r * Math.cos(angle), cy + ry * r * Math.sin(angle));
  });
}

/** A heart that fills the box of half-sizes rx, ry round (cx, cy). */
export function heart(cx: number, cy: number, rx: number, ry: number): Shape {
  const v = (x: number, y: number, inX: number, inY: number, outX: number, outY: number): Vertex => ({
    ...withHandles(cx + x * rx, cy + y * ry, inX * rx, inY * ry, outX * rx, outY * ry),
    ...(y === 1 || x === 0 ? { free: true } : {}),
  });
  return [
    v(0, -0.55, -0.1, -0.25, 0.1, -0.25),
    v(0.5, -1, -0.28, 0, 0.28, 0),
    v(1, -0.42, 0, -0.32, 0, 0.5),
    v(0, 1, 0.42, -0.42, -0.42, -0.42),
    v(-1, -0.42, 0, 0.5, 0, -0.32),
    v(-0.5, -1, -0.28, 0, 0.28, 0),
  ];
}

export const READY_MADE = ['rectangle', 'ellipse', 'band', 'half-plane', 'polygon', 'star', 'heart'] as const;
export type ReadyMade = (typeof READY_MADE)[number];

export interface ReadyMadeOptions {
  /** Corner radius of a rectangle, pixels. */
  radius: number;
  /** Corners of a polygon, points of a star, at least 3. */
  points: number;
  /** Inner radius of a star as a share of the outer. */
  inner: number;
}

/** The shape that dragging from (x0, y0) to (x1, y1) makes, for a plate of `far` pixels across at most. */
export function readyMade(kind: ReadyMade, x0: number, y0: number, x1: number, y1: number, far: number, options: ReadyMadeOptions): Shape {
  const [cx, cy, rx, ry] = [(x0 + x1) / 2, (y0 + y1) / 2, Math.abs(x1 - x0) / 2, Math.abs(y1 - y0) / 2];
  switch (kind) {
    case 'rectangle':
      return rectangle(cx - rx, cy - ry, 2 * rx, 2 * ry, options.radius);
    case 'ellipse':
      return ellipse(cx, cy, rx, ry);
    case 'band':
      // The drag crosses the band: its length is the width.
      return band(cx, cy, cx - (y1 - y0), cy + (x1 - x0), Math.max(1, Math.sqrt((x1 - x0) ** 2 + (y1 - y0) ** 2)), far * 2);
    case 'half-plane':
      // The drag goes into what is covered, from its edge.
      return halfPlane(x0, y0, x1, y1, far * 2);
    case 'polygon':
      return polygon(cx, cy, rx, ry, options.points);
    case 'star':
      return polygon(cx, cy, rx, ry, options.points, options.inner);
    case 'heart':
      return heart(cx, cy, rx, ry);
  }
}
