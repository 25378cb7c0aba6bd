import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Key } from '../time/animated.ts';
import { centreOf, distanceBetween, matchShapes, mixShapes, mixTurning, shapeOver, shiftShape } from './between.ts';
import { insertVertex, moveVertices } from './edit.ts';
import { corner, flatten, pointOn, type Shape, segment, smooth } from './path.ts';
import { applySimilarity, fitSimilarity } from './similarity.ts';

const limb: Shape = [smooth(0, 0, 4, -6), smooth(60, -5, 0, 8), corner(64, 20), smooth(2, 18, -3, -5)];
const every = new Set([0, 1, 2, 3]);
const turn = (shape: Shape, angle: number, scale = 1, dx = 0, dy = 0): Shape => {
  const c = centreOf(shape);
  return applySimilarity(shape, { fromX: c.x, fromY: c.y, toX: c.x + dx, toY: c.y + dy, angle, scale });
};
const area = (s: Shape) => {
  const p = flatten(s, 1, 1, 0.001);
  let sum = 0;
  for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) sum += p[j] * p[i + 1] - p[i] * p[j + 1];
  return Math.abs(sum / 2);
};
/** Distance to a closed outline, asking every chord of it. */
const toOutline = (s: Shape, x: number, y: number) => {
  const p = flatten(s, 1, 1, 1e-4);
  let nearest = Number.POSITIVE_INFINITY;
  for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) {
    const [dx, dy] = [p[i] - p[j], p[i + 1] - p[j + 1]];
    const t = Math.max(0, Math.min(1, ((x - p[j]) * dx + (y - p[j + 1]) * dy) / Math.max(1e-12, dx * dx + dy * dy)));
    nearest = Math.min(nearest, Math.hypot(x - p[j] - t * dx, y - p[j + 1] - t * dy));
  }
  return nearest;
};
const keyed = (...pairs: [number, Shape][]): { keys: Key<Shape>[] } => ({ keys: pairs.map(([frame, value]) => ({ frame, value, ease: 'linear' })) });

describe('the best similarity', () => {
  it('is found exactly where there is one', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: 0.2, max: 5, noNaN: true }),
        fc.double({ min: -99, max: 99, noNaN: true }),
        (angle, scale, dx) => {
          const fit = fitSimilarity(limb, turn(limb, angle, scale, dx, -dx));
          expect(fit?.angle).toBeCloseTo(angle, 6);
          expect(fit?.scale).toBeCloseTo(scale, 6);
        },
      ),
      { seed: 5 },
    );
    expect(fitSimilarity([corner(1, 1)], [corner(2, 2)])).toBeNull();
    expect(fitSimilarity([corner(1, 1), corner(1, 1)], [corner(2, 2), corner(4, 4)])).toBeNull();
  });
});

describe('paths between keys', () => {
  it('mix point by point', () => {
    const far = moveVertices(limb, every, 10, 20);
    expect(mixShapes(limb, far, 0.5)[1]).toMatchObject({ x: 65, y: 5 });
  });

  it('keep the size of a limb that turns, where going straight shrinks it', () => {
    const turned = turn(limb, 1.9);
    expect(area(mixShapes(limb, turned, 0.5)) / area(limb)).toBeLessThan(0.75);
    for (const share of [0.2, 0.5, 0.8]) expect(area(mixTurning(limb, turned, share)) / area(limb)).toBeCloseTo(1, 6);
  });

  it('turn evenly and add an even share of what else changed', () => {
    const bent = turn(limb, 0.8, 1.5, 30, 4).map((v, i) => (i === 2 ? { ...v, x: v.x + 9 } : v));
    expect(distanceBetween(mixTurning(limb, bent, 0), limb)).toBeLessThan(1e-9);
    expect(distanceBetween(mixTurning(limb, bent, 1), bent)).toBeLessThan(1e-9);
    // The twin: small steps of the similarity, one after the other.
    const fit = fitSimilarity(limb, bent);
    if (!fit) throw new Error('There is one.');
    const half = mixTurning(limb, bent, 0.5);
    const again = fitSimilarity(limb, half);
    expect(again?.angle).toBeCloseTo(fit.angle / 2, 1);
    expect(again?.scale).toBeCloseTo(Math.sqrt(fit.scale), 1);
  });

  it('follow a smooth way through the keys', () => {
    const at = (x: number, y: number) => moveVertices(limb, every, x, y);
    const circle = keyed(...[0, 1, 2, 3, 4].map((k): [number, Shape] => [k * 10, at(100 * Math.cos(k * 0.6), 100 * Math.sin(k * 0.6))]));
    for (const frame of [12, 15, 18, 23, 27]) {
      const off = (between: 'straight' | 'smooth') => {
        const v = shapeOver(circle, between, true, frame)[0];
        return Math.abs(Math.hypot(v.x - limb[0].x, v.y - limb[0].y) - 100);
      };
      expect(off('smooth')).toBeLessThan(off('straight') / 4);
    }
    for (const between of ['straight', 'smooth', 'turning'] as const) expect(shapeOver(circle, between, true, 20)).toBe(circle.keys[2].value);
  });

  it('match two shapes of different counts without changing either', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 3 }), fc.double({ min: 0.1, max: 0.9, noNaN: true })), { minLength: 1, maxLength: 5 }),
        (places) => {
          const denser = places.reduce((s, [i, t]) => insertVertex(s, i, t), turn(limb, 0.3));
          const [a, b] = matchShapes(limb, denser, true);
          expect(a.length).toBe(b.length);
          for (const [before, after] of [
            [limb, a],
            [denser, b],
          ])
            for (let i = 0; i < before.length; i++)
              for (const t of [0, 0.3, 0.7]) {
                const p = pointOn(segment(before, i), t);
                expect(toOutline(after, p.x, p.y)).toBeLessThan(1e-2);
              }
        },
      ),
      { seed: 8, numRuns: 40 },
    );
    const middle = mixShapes(limb, insertVertex(limb, 1, 0.5), 0.5);
    expect(area(middle) / area(limb)).toBeCloseTo(1, 2);
  });

  it('are moved, turned and scaled on every key by the same, about their own centres', () => {
    const elsewhere = turn(limb, 0.4, 1, 200, 50);
    const moved = shiftShape(elsewhere, limb, turn(limb, 0.5, 2, 7, -3));
    const fit = fitSimilarity(elsewhere, moved);
    expect(fit?.angle).toBeCloseTo(0.5, 9);
    expect(fit?.scale).toBeCloseTo(2, 9);
    expect(centreOf(moved).x - centreOf(elsewhere).x).toBeCloseTo(7, 9);
    const one = shiftShape(elsewhere, limb, moveVertices(limb, new Set([1]), 3, 4));
    expect(one[1].x - elsewhere[1].x).toBeCloseTo(3, 9);
    expect(distanceBetween([one[0]], [elsewhere[0]])).toBeLessThan(1e-9);
  });
});
