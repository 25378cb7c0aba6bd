/** Editing of path shapes: pure functions, each gives a new shape. Positions in plate pixels. */
import { corner, pointOn, type Shape, segment, type Vertex } from './path.ts';

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
  if (x1 === x0 && y1 === y0 && x2 === x3 && y2 === y3) {
    // A straight line stays one of corners.
    const on = pointOn(segment(shape, index), t);
    return [...shape.slice(0, index + 1), corner(on.x, on.y), ...shape.slice(index + 1)];
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
  out.splice(index + 1, 0, { x, y, inX: dx - x, inY: dy - y, outX: ex - x, outY: ey - y });
  return out;
}

export function removeVertices(shape: Shape, which: ReadonlySet<number>): Shape {
  return shape.filter((_, i) => !which.has(i));
}

/** Makes a vertex a corner, or smooth along the line between its neighbours. */
export function toggleSmooth(shape: Shape, index: number): Shape {
  const v = shape[index];
  if (v.inX !== 0 || v.inY !== 0 || v.outX !== 0 || v.outY !== 0) return shape.map((w, i) => (i === index ? corner(v.x, v.y) : w));
  const before = shape[(index + shape.length - 1) % shape.length];
  const after = shape[(index + 1) % shape.length];
  const dx = after.x - before.x;
  const dy = after.y - before.y;
  return shape.map((w, i) => (i === index ? { ...w, inX: -dx / 6, inY: -dy / 6, outX: dx / 6, outY: dy / 6 } : w));
}

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
