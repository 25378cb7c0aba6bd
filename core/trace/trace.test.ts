import { describe, expect, it } from 'vitest';
import { newGray } from '../image/picture.ts';
import { shapeOver } from '../path/between.ts';
import { fillPolylines } from '../path/fill.ts';
import { flatten } from '../path/path.ts';
import { backwards, follow, forwards, placeAt, toFollow } from './follow.ts';
import { areaOf, type Outline, outlinesOf } from './outlines.ts';
import { type Trace, traceOutlines } from './trace.ts';

const [WIDTH, HEIGHT] = [240, 180];

/** A closed line of many points, `at` a turn in [0,1). */
const line = (at: (t: number) => [number, number], n = 400): Outline => Float64Array.from({ length: 2 * n }, (_, i) => at(Math.floor(i / 2) / n)[i % 2]);
const circle = (x: number, y: number, r: number) => line((t) => [x + r * Math.cos(2 * Math.PI * t), y + r * Math.sin(2 * Math.PI * t)]);
/** A form with a corner, a waist and round ends, turned and moved. */
const form = (angle: number, x: number, y: number, scale = 1) =>
  line((t) => {
    const a = 2 * Math.PI * t;
    const r = scale * (44 + 14 * Math.cos(2 * a) + (t < 0.06 || t > 0.94 ? 16 * (1 - Math.abs((t < 0.5 ? t : t - 1) / 0.06)) : 0));
    return [x + r * Math.cos(a + angle), y + r * Math.sin(a + angle)];
  });
const matteOf = (...lines: Outline[]) => fillPolylines(lines, WIDTH, HEIGHT, newGray(WIDTH, HEIGHT));

describe('outlines of a matte', () => {
  it('are where it is a half, to a part of a pixel, holes the other way round', () => {
    const outlines = outlinesOf(matteOf(circle(100.3, 80.7, 50), circle(95, 78, 20)), 4);
    expect(outlines).toHaveLength(2);
    const [outer, hole] = outlines.sort((a, b) => b.length - a.length);
    expect(areaOf(outer) / (Math.PI * 2500)).toBeCloseTo(1, 2);
    expect(areaOf(hole) / (Math.PI * 400)).toBeCloseTo(-1, 2);
    for (let i = 0; i < outer.length; i += 2) expect(Math.abs(Math.hypot(outer[i] - 100.3, outer[i + 1] - 80.7) - 50)).toBeLessThan(0.08);
  });

  it('go along the border where they leave the picture, and leave specks out', () => {
    const [only, ...rest] = outlinesOf(matteOf(circle(10, 80, 50), circle(200, 20, 3)), 60);
    expect(rest).toEqual([]);
    expect(Math.min(...only.filter((_, i) => i % 2 === 0))).toBeCloseTo(0, 1);
    expect(outlinesOf(newGray(WIDTH, HEIGHT), 1)).toEqual([]);
    expect(areaOf(outlinesOf({ ...newGray(20, 10), data: new Float32Array(200).fill(1) }, 1)[0])).toBeCloseTo(200, -1);
  });
});

describe('following an outline', () => {
  it('finds for every place where it has gone, turned and moved, and the way back', () => {
    const [a, b] = [toFollow(form(0.2, 100, 90)), toFollow(form(0.5, 112, 84))];
    const way = follow(a, b);
    expect(way.distance).toBeLessThan(0.1);
    let worst = 0;
    for (let k = 0; k < 40; k++) {
      const share = k / 40;
      const p = placeAt(a, share);
      const [dx, dy] = [p.x - 100, p.y - 90];
      const gone = { x: 112 + Math.cos(0.3) * dx - Math.sin(0.3) * dy, y: 84 + Math.sin(0.3) * dx + Math.cos(0.3) * dy };
      const q = placeAt(b, forwards(way, share));
      worst = Math.max(worst, Math.hypot(q.x - gone.x, q.y - gone.y));
      expect(Math.abs(backwards(way, forwards(way, share)) - share)).toBeLessThan(0.01);
    }
    expect(worst).toBeLessThan(9);
  });
});

/** Area that differs between the matte of the traced curves on a frame and the matte they were traced from, in pixels. */
function areaOff({ paths }: Trace, frame: number, truth: Outline[]): number {
  const curves = paths.map((keys) => flatten(shapeOver({ keys }, 'straight', true, frame)));
  const [own, real] = [matteOf(...curves), matteOf(...truth)];
  return own.data.reduce((sum, v, i) => sum + Math.abs(v - real.data[i]), 0);
}

describe('tracing', () => {
  const frames = (count: number, at: (f: number) => Outline[]) =>
    Array.from({ length: count }, (_, f) => ({ frame: 10 + f, outlines: outlinesOf(matteOf(...at(f)), 12) }));

  it('gives few points that stay the same through a turning, moving form, within the tolerance on every frame', () => {
    const at = (f: number) => [form(0.05 * f, 90 + 3 * f, 90)];
    const trace = traceOutlines(frames(12, at), 1);
    expect(trace.paths).toHaveLength(1);
    expect(trace.deviation).toBeLessThanOrEqual(1);
    const [keys] = trace.paths;
    const counts = new Set(keys.map((k) => k.value.length));
    expect(counts.size).toBe(1);
    expect([...counts][0]).toBeLessThanOrEqual(14);
    for (let f = 0; f < 12; f++) expect(areaOff(trace, 10 + f, at(f))).toBeLessThan(0.5 * 330);
  });

  it('needs only two keys for an even move, and more points the less it tolerates', () => {
    const at = (f: number) => [circle(80 + 4 * f, 90, 40)];
    const [coarse, fine] = [traceOutlines(frames(12, at), 2), traceOutlines(frames(12, at), 0.3)];
    expect(coarse.paths[0]).toHaveLength(2);
    expect(coarse.paths[0][0].value.length).toBeLessThanOrEqual(5);
    expect(fine.paths[0][0].value.length).toBeGreaterThanOrEqual(coarse.paths[0][0].value.length);
    expect(fine.deviation).toBeLessThanOrEqual(0.3);
    expect(coarse.deviation).toBeLessThanOrEqual(2);
  });

  it('keeps holes, and draws what comes and goes together to nothing where it is not', () => {
    const at = (f: number) => [circle(80 + 2 * f, 90, 50), circle(85 + 2 * f, 92, 18), ...(f >= 3 && f < 7 ? [circle(190, 140, 20)] : [])];
    const trace = traceOutlines(frames(10, at), 1);
    expect(trace.paths).toHaveLength(3);
    for (let f = 0; f < 10; f++) expect(areaOff(trace, 10 + f, at(f)), `frame ${10 + f}`).toBeLessThan(180);
    const visitor = trace.paths.find((keys) => keys.some((k) => k.ease === 'hold')) as Trace['paths'][number];
    expect(visitor[0]).toMatchObject({ frame: 10, ease: 'hold' });
    expect(visitor.at(-1)).toMatchObject({ frame: 17, ease: 'hold' });
  });

  it('measures how far the curves are off, where the form changes more than a few points can follow', () => {
    const at = (f: number) => [form(0.1 * f, 110, 90, 1 + 0.2 * Math.sin(f))];
    const trace = traceOutlines(frames(8, at), 0.5);
    let worst = 0;
    for (let f = 0; f < 8; f++) {
      const [outline] = outlinesOf(matteOf(...at(f)), 12);
      const curve = flatten(shapeOver({ keys: trace.paths[0] }, 'straight', true, 10 + f), 1, 1, 0.01);
      for (let i = 0; i < curve.length; i += 2) {
        let least = 1e9;
        for (let k = 0; k < outline.length; k += 2) least = Math.min(least, Math.hypot(outline[k] - curve[i], outline[k + 1] - curve[i + 1]));
        worst = Math.max(worst, least);
      }
    }
    // Points of the outline lie about a pixel apart, which the plain measure above adds at most half of.
    expect(worst).toBeLessThanOrEqual(trace.deviation + 0.6);
    expect(trace.deviation).toBeLessThan(0.6);
  });

  it('has nothing to say of empty mattes', () => {
    expect(traceOutlines([{ frame: 0, outlines: [] }], 1)).toEqual({ paths: [], deviation: 0 });
  });
});
