import { describe, expect, it } from 'vitest';
import { fillPolylines } from './fill.ts';
import { fitLine } from './fit.ts';
import { flatten } from './path.ts';
import { ellipse, heart, polygon, READY_MADE, readyMade, rectangle } from './ready-made.ts';

/** A hand that draws: small trembling, seeded. */
const tremble = (i: number) => ({ x: (((i * 7919) % 100) / 100 - 0.5) * 0.6, y: (((i * 104729) % 100) / 100 - 0.5) * 0.6 });

describe('fitting a drawn line', () => {
  it.each([0.7, 1.5, 4])('stays within the tolerance with few points (%s px)', (tolerance) => {
    const line = Array.from({ length: 400 }, (_, i) => {
      const a = (i / 400) * 2 * Math.PI;
      const r = 100 + 25 * Math.sin(3 * a);
      return { x: 200 + r * Math.cos(a) + tremble(i).x, y: 150 + r * Math.sin(a) + tremble(i).y };
    });
    const shape = fitLine(line, true, tolerance);
    expect(shape.length).toBeLessThan(tolerance < 1 ? 40 : 24);
    // The outline as a dense polyline; trembling beyond the kept points counts for half a pixel.
    const outline = flatten(shape, 1, 1, 0.001);
    for (const p of line) {
      let nearest = Number.POSITIVE_INFINITY;
      for (let i = 0; i < outline.length; i += 2) nearest = Math.min(nearest, Math.hypot(outline[i] - p.x, outline[i + 1] - p.y));
      expect(nearest).toBeLessThan(tolerance + 0.6);
    }
  });

  it('needs fewer points for a greater tolerance, and makes corners where the hand turned sharply', () => {
    const side = (x0: number, y0: number, x1: number, y1: number) =>
      Array.from({ length: 50 }, (_, i) => ({ x: x0 + ((x1 - x0) * i) / 50 + tremble(i).x, y: y0 + ((y1 - y0) * i) / 50 + tremble(i + 3).y }));
    const square = [...side(10, 10, 110, 10), ...side(110, 10, 110, 110), ...side(110, 110, 10, 110), ...side(10, 110, 10, 10)];
    const shape = fitLine(square, true, 2);
    expect(shape.length).toBeLessThanOrEqual(6);
    for (const [x, y] of [
      [110, 10],
      [110, 110],
      [10, 110],
    ])
      expect(shape.some((v) => Math.hypot(v.x - x, v.y - y) < 3)).toBe(true);
  });

  it('copes with next to nothing', () => {
    expect(fitLine([{ x: 3, y: 4 }], false, 1)).toHaveLength(1);
    expect(
      fitLine(
        [
          { x: 3, y: 4 },
          { x: 3, y: 4 },
          { x: 3, y: 4 },
        ],
        true,
        1,
      ),
    ).toHaveLength(1);
    expect(
      fitLine(
        [
          { x: 0, y: 0 },
          { x: 9, y: 0 },
        ],
        false,
        1,
      ),
    ).toHaveLength(2);
  });
});

describe('ready-made shapes', () => {
  it('are round where they should be', () => {
    const p = flatten(ellipse(50, 40, 30, 20), 1, 1, 0.001);
    for (let i = 0; i < p.length; i += 2) expect(((p[i] - 50) / 30) ** 2 + ((p[i + 1] - 40) / 20) ** 2).toBeCloseTo(1, 2);
    expect(rectangle(0, 0, 10, 20, 4)).toHaveLength(8);
    expect(rectangle(0, 0, 10, 20, 99)[0].x).toBe(5);
    expect(polygon(0, 0, 10, 10, 5, 0.4)).toHaveLength(10);
  });

  it('fill the box they were dragged over; bands and half-planes go beyond every frame', () => {
    for (const kind of READY_MADE) {
      const p = flatten(readyMade(kind, 100, 80, 300, 200, 1920, { radius: 10, points: 5, inner: 0.5 }));
      const xs = p.filter((_, i) => i % 2 === 0);
      const ys = p.filter((_, i) => i % 2 === 1);
      const box = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
      if (kind === 'band' || kind === 'half-plane') expect(Math.max(box[2] - box[0], box[3] - box[1])).toBeGreaterThan(1920);
      else {
        expect(box[0]).toBeGreaterThanOrEqual(99.5);
        expect(box[1]).toBeGreaterThanOrEqual(79.5);
        expect(box[2]).toBeLessThanOrEqual(300.5);
        expect(box[3]).toBeLessThanOrEqual(200.5);
      }
    }
    expect(heart(0, 0, 10, 10)).toHaveLength(6);
  });

  it('a half-plane covers what lies in the direction of the drag, from where it began', () => {
    const covers = (kind: 'half-plane', from: [number, number], to: [number, number]) => {
      const size = { width: 40, height: 30 };
      const p = flatten(readyMade(kind, ...from, ...to, 40, { radius: 0, points: 5, inner: 0.5 }));
      const { data } = fillPolylines([p], size.width, size.height);
      return (x: number, y: number) => data[y * size.width + x];
    };
    const right = covers('half-plane', [20, 15], [30, 15]);
    expect([right(5, 2), right(5, 28), right(35, 2), right(35, 28)]).toEqual([0, 0, 1, 1]);
    const up = covers('half-plane', [20, 15], [20, 3]);
    expect([up(2, 2), up(38, 2), up(2, 28), up(38, 28)]).toEqual([1, 1, 0, 0]);
  });
});
