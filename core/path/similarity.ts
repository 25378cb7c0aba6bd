/** Moves, turns and scales of whole paths, and the best one between two paths. */
import type { Shape } from './path.ts';

/** Turns by `angle` (radians, clockwise on screen) and scales about (fromX, fromY), which goes to (toX, toY). */
export interface Similarity {
  fromX: number;
  fromY: number;
  toX: number;
  toY: number;
  angle: number;
  scale: number;
}

/** Handles turn and scale along; feather widths stay as they are. */
export function applySimilarity(shape: Shape, { fromX, fromY, toX, toY, angle, scale }: Similarity): Shape {
  const c = Math.cos(angle) * scale;
  const s = Math.sin(angle) * scale;
  return shape.map((v) => ({
    ...v,
    x: toX + (v.x - fromX) * c - (v.y - fromY) * s,
    y: toY + (v.x - fromX) * s + (v.y - fromY) * c,
    inX: v.inX * c - v.inY * s,
    inY: v.inX * s + v.inY * c,
    outX: v.outX * c - v.outY * s,
    outY: v.outX * s + v.outY * c,
  }));
}

/**
 * The similarity that brings the vertices of `a` nearest to those of `b`, in the least squares (Umeyama 1991, in the plane).
 * Null for fewer than two vertices, differing counts, or vertices all in one place.
 */
export function fitSimilarity(a: Shape, b: Shape): Similarity | null {
  const n = a.length;
  if (n < 2 || b.length !== n) return null;
  let fromX = 0;
  let fromY = 0;
  let toX = 0;
  let toY = 0;
  for (let i = 0; i < n; i++) {
    fromX += a[i].x / n;
    fromY += a[i].y / n;
    toX += b[i].x / n;
    toY += b[i].y / n;
  }
  let along = 0;
  let across = 0;
  let size = 0;
  for (let i = 0; i < n; i++) {
    const px = a[i].x - fromX;
    const py = a[i].y - fromY;
    const qx = b[i].x - toX;
    const qy = b[i].y - toY;
    along += px * qx + py * qy;
    across += px * qy - py * qx;
    size += px * px + py * py;
  }
  const reach = Math.sqrt(along * along + across * across);
  if (size < 1e-9 || reach < 1e-9) return null;
  return { fromX, fromY, toX, toY, angle: Math.atan2(across, along), scale: reach / size };
}
