import { describe, expect, it } from 'vitest';
import {
  affineAbout,
  insertVertex,
  makeKind,
  moveVertices,
  moveWeighted,
  nearestOn,
  pointKind,
  removeVertices,
  reversedShape,
  setHandle,
  softWeights,
  transformVertices,
  withFirst,
} from './edit.ts';
import { corner, flatten, pointOn, type Shape, segment, smooth } from './path.ts';

const shape: Shape = [smooth(0, 0, 10, -5), smooth(40, 10, 3, 12), corner(20, 40)];

describe('editing a path', () => {
  it('adds a point without changing the curve', () => {
    for (const t of [0.1, 0.5, 0.83]) {
      const more = insertVertex(shape, 0, t);
      expect(more).toHaveLength(4);
      for (let k = 0; k <= 10; k++) {
        const s = k / 10;
        const before = pointOn(segment(shape, 0), s);
        const after = s <= t ? pointOn(segment(more, 0), s / t) : pointOn(segment(more, 1), (s - t) / (1 - t));
        expect(after.x).toBeCloseTo(before.x, 9);
        expect(after.y).toBeCloseTo(before.y, 9);
      }
    }
  });

  it('adds a corner to a straight line and leaves its neighbours corners', () => {
    const square = [corner(0, 0), corner(10, 0), corner(10, 10)];
    expect(insertVertex(square, 0, 0.5)).toEqual([corner(0, 0), corner(5, 0), corner(10, 0), corner(10, 10)]);
  });

  it('adds a point on the segment that closes it', () => {
    const more = insertVertex(shape, 2, 0.5);
    const middle = pointOn(segment(shape, 2), 0.5);
    expect(more[3]).toMatchObject({ x: middle.x, y: middle.y });
  });

  it('moves points with their handles, and no other', () => {
    const moved = moveVertices(shape, new Set([1]), 5, -2);
    expect(moved[1]).toEqual({ ...shape[1], x: 45, y: 8 });
    expect([moved[0], moved[2]]).toEqual([shape[0], shape[2]]);
  });

  it('turns the other handle along when mirrored, keeping its length, and leaves it when not', () => {
    const turned = setHandle(shape, 0, 'out', 0, 20, true)[0];
    expect([turned.outX, turned.outY]).toEqual([0, 20]);
    expect(turned.inX).toBeCloseTo(0);
    expect(turned.inY).toBeCloseTo(-Math.hypot(10, 5));
    const free = setHandle(shape, 0, 'out', 0, 20, false)[0];
    expect([free.inX, free.inY]).toEqual([shape[0].inX, shape[0].inY]);
  });

  it('makes points corners, smooth and broken', () => {
    const every = new Set([0, 1, 2]);
    expect(makeKind(shape, every, 'corner')).toEqual([corner(0, 0), corner(40, 10), corner(20, 40)]);
    const v = makeKind(shape, new Set([2]), 'smooth')[2];
    expect(v.outX * v.inY - v.outY * v.inX).toBeCloseTo(0, 9);
    expect(Math.hypot(v.outX, v.outY)).toBeGreaterThan(0);
    expect(makeKind(shape, every, 'broken').map(pointKind)).toEqual(['broken', 'broken', 'broken']);
    expect(makeKind(makeKind(shape, every, 'broken'), every, 'smooth').map(pointKind)).toEqual(['smooth', 'smooth', 'smooth']);
  });

  it('takes points away, and keeps the curve near where it was', () => {
    expect(removeVertices(shape, new Set([0, 2]), true)).toHaveLength(1);
    const square = [corner(0, 0), corner(10, 0), corner(10, 10), corner(0, 10)];
    expect(removeVertices(square, new Set([1]), true)).toEqual([square[0], square[2], square[3]]);
    // A point put on a curve and taken away again leaves the curve as it was.
    for (const t of [0.2, 0.5, 0.7]) {
      const back = removeVertices(insertVertex(shape, 0, t), new Set([1]), true);
      for (let k = 0; k <= 20; k++) {
        const p = pointOn(segment(shape, 0), k / 20);
        expect(nearestOn(back, true, p.x, p.y)?.distance).toBeLessThan(0.35);
      }
    }
  });

  it('moves, turns, scales and skews chosen points about a centre', () => {
    const turned = transformVertices(shape, new Set([0]), affineAbout(0, 0, { angle: Math.PI / 2 }));
    expect(turned[0].outX).toBeCloseTo(5, 9);
    expect(turned[0].outY).toBeCloseTo(10, 9);
    expect(turned[1]).toBe(shape[1]);
    const [a, b, c, d, e, f] = affineAbout(7, 9, { scaleX: 2, scaleY: 0.5, skew: 0.3, angle: 0.8, dx: 4, dy: -3 });
    expect([a * 7 + c * 9 + e, b * 7 + d * 9 + f]).toEqual([expect.closeTo(11, 9), expect.closeTo(6, 9)]);
    expect(a * d - b * c).toBeCloseTo(2 * 0.5, 9);
  });

  it('takes neighbours along softly', () => {
    const weights = softWeights(shape, new Set([0]), 60);
    expect(weights[0]).toBe(1);
    expect(weights[1]).toBeGreaterThan(0);
    expect(weights[1]).toBeLessThan(1);
    expect(softWeights(shape, new Set([0]), 0)).toEqual([1, 0, 0]);
    const moved = moveWeighted(shape, weights, 10, 0);
    expect(moved[1].x).toBeCloseTo(40 + 10 * weights[1], 9);
  });

  it('begins at another point, and runs the other way, along the same curve', () => {
    const area = (s: Shape) => {
      const p = flatten(s);
      let sum = 0;
      for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) sum += p[j] * p[i + 1] - p[i] * p[j + 1];
      return sum / 2;
    };
    expect(withFirst(shape, 2)[0]).toBe(shape[2]);
    expect(area(withFirst(shape, 1))).toBeCloseTo(area(shape), 2);
    expect(area(reversedShape(shape))).toBeCloseTo(-area(shape), 2);
    expect(reversedShape(shape)[0]).toMatchObject({ x: 0, y: 0 });
  });

  it('finds the nearest place on the curve', () => {
    const on = pointOn(segment(shape, 1), 0.37);
    const found = nearestOn(shape, true, on.x, on.y);
    expect(found?.index).toBe(1);
    expect(found?.t).toBeCloseTo(0.37, 3);
    expect(found?.distance).toBeLessThan(1e-3);
    expect(nearestOn([shape[0]], true, 0, 0)).toBeNull();
    expect(nearestOn(shape, false, 10, 20)?.index).not.toBe(2);
  });
});

describe('paths', () => {
  it('flatten to within the flatness asked for', () => {
    for (const flatness of [1, 0.1, 0.004]) {
      const p = flatten([smooth(0, 0, 80, -120), smooth(200, 10, 30, 160), corner(20, 90)], 1, 1, flatness);
      const s = segment([smooth(0, 0, 80, -120), smooth(200, 10, 30, 160), corner(20, 90)], 0);
      for (let k = 0; k <= 200; k++) {
        const q = pointOn(s, k / 200);
        let nearest = Number.POSITIVE_INFINITY;
        for (let i = 0; i + 3 < p.length; i += 2) {
          const [ax, ay, bx, by] = p.subarray(i, i + 4);
          const t = Math.max(0, Math.min(1, ((q.x - ax) * (bx - ax) + (q.y - ay) * (by - ay)) / ((bx - ax) ** 2 + (by - ay) ** 2)));
          nearest = Math.min(nearest, Math.hypot(q.x - ax - t * (bx - ax), q.y - ay - t * (by - ay)));
        }
        expect(nearest).toBeLessThan(flatness * 1.01);
      }
    }
  });
});
