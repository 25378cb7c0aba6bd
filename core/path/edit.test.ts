import { describe, expect, it } from 'vitest';
import { insertVertex, moveVertices, nearestOn, removeVertices, setHandle, toggleSmooth } from './edit.ts';
import { corner, flatten, mixShapes, pointOn, type Shape, segment, shiftShape, smooth } from './path.ts';

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

  it('makes a smooth point a corner and a corner smooth', () => {
    expect(toggleSmooth(shape, 0)[0]).toEqual(corner(0, 0));
    const v = toggleSmooth(shape, 2)[2];
    expect(v.outX).toBeCloseTo(-v.inX);
    expect(Math.hypot(v.outX, v.outY)).toBeGreaterThan(0);
  });

  it('takes points away', () => {
    expect(removeVertices(shape, new Set([0, 2]))).toEqual([shape[1]]);
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

  it('mix point by point, and shift by a difference', () => {
    const far = moveVertices(shape, new Set([0, 1, 2]), 10, 20);
    expect(mixShapes(shape, far, 0.5)[1]).toMatchObject({ x: 45, y: 20 });
    expect(mixShapes(shape, far.slice(1), 0.5)).toBe(shape);
    expect(shiftShape(shape, shape, far)).toEqual(far);
  });
});
