import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fillPolylines } from './fill.ts';
import { corner, flatten, type Shape } from './path.ts';

const SAMPLES = 16;

/** The slow plain twin: even-odd at 16x16 points a pixel, every edge asked for every point. */
function superSampled(polylines: readonly Float64Array[], width: number, height: number): Float32Array {
  const out = new Float32Array(width * height);
  const inside = (x: number, y: number): boolean => {
    let odd = false;
    for (const p of polylines)
      for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) {
        if (p[i + 1] > y !== p[j + 1] > y && x < ((p[j] - p[i]) * (y - p[i + 1])) / (p[j + 1] - p[i + 1]) + p[i]) odd = !odd;
      }
    return odd;
  };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let hits = 0;
      for (let sy = 0; sy < SAMPLES; sy++) for (let sx = 0; sx < SAMPLES; sx++) if (inside(x + (sx + 0.5) / SAMPLES, y + (sy + 0.5) / SAMPLES)) hits++;
      out[y * width + x] = hits / (SAMPLES * SAMPLES);
    }
  return out;
}

const meanDifference = (a: Float32Array, b: Float32Array): number => a.reduce((sum, v, i) => sum + Math.abs(v - b[i]), 0) / a.length;
/** Points of a 16x16 grid cannot place an edge better than this in one pixel. */
const ONE_PIXEL = 1 / SAMPLES + 0.02;

const wobbly: Shape = Array.from({ length: 12 }, (_, i) => {
  const a = (i / 12) * Math.PI * 2;
  const r = 9 + 4 * Math.sin(a * 3);
  return { x: 16.3 + r * Math.cos(a), y: 15.7 + r * Math.sin(a), inX: 2 * Math.sin(a), inY: -2 * Math.cos(a), outX: -2 * Math.sin(a), outY: 2 * Math.cos(a) };
});

describe('fillPolylines', () => {
  it('gives exact area shares for a rectangle at fractions of pixels', () => {
    const { data } = fillPolylines([flatten([corner(1.25, 0.5), corner(3.5, 0.5), corner(3.5, 2.75), corner(1.25, 2.75)])], 5, 4);
    expect([...data.subarray(0, 5)]).toEqual([0, 0.375, 0.5, 0.25, 0]);
    expect([...data.subarray(5, 10)]).toEqual([0, 0.75, 1, 0.5, 0]);
    expect([...data.subarray(10, 15)]).toEqual([0, 0.5625, 0.75, 0.375, 0]);
    expect([...data.subarray(15, 20)]).toEqual([0, 0, 0, 0, 0]);
  });

  it('agrees with 16x16 super-sampling to 1/255 on the mean and to the grid of the samples on single pixels', () => {
    const outline = [flatten(wobbly)];
    const exact = fillPolylines(outline, 32, 32).data;
    const twin = superSampled(outline, 32, 32);
    expect(meanDifference(exact, twin)).toBeLessThan(1 / 255);
    for (let i = 0; i < exact.length; i++) expect(Math.abs(exact[i] - twin[i])).toBeLessThan(ONE_PIXEL);
  });

  it('has the area of the polygon, by the shoelace formula, to a hundredth of a pixel', () => {
    const p = flatten(wobbly);
    let area = 0;
    for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) area += (p[j] * p[i + 1] - p[i] * p[j + 1]) / 2;
    const filled = fillPolylines([p], 32, 32).data.reduce((a, b) => a + b, 0);
    expect(Math.abs(filled - Math.abs(area))).toBeLessThan(0.01);
  });

  it('cuts holes where outlines nest, and where they cross', () => {
    const big = flatten([corner(2, 2), corner(14, 2), corner(14, 14), corner(2, 14)]);
    const nested = flatten([corner(5, 5), corner(11, 5), corner(11, 11), corner(5, 11)]);
    const { data } = fillPolylines([big, nested], 16, 16);
    expect(data[3 * 16 + 3]).toBe(1);
    expect(data[8 * 16 + 8]).toBe(0);
    const crossing = flatten([corner(8, 8), corner(20, 8), corner(20, 20), corner(8, 20)]);
    const crossed = fillPolylines([big, crossing], 24, 24).data;
    expect(crossed[10 * 24 + 10]).toBe(0);
    expect(crossed[18 * 24 + 18]).toBe(1);
  });

  it('agrees with super-sampling for any polygons, also far outside the picture', () => {
    const coordinate = fc.double({ min: -20, max: 36, noNaN: true });
    const polygon = fc.array(fc.tuple(coordinate, coordinate), { minLength: 3, maxLength: 7 }).map((points) => Float64Array.from(points.flat()));
    fc.assert(
      fc.property(fc.array(polygon, { minLength: 1, maxLength: 2 }), (polygons) => {
        const exact = fillPolylines(polygons, 16, 12).data;
        const twin = superSampled(polygons, 16, 12);
        for (let i = 0; i < exact.length; i++) {
          expect(exact[i]).toBeGreaterThanOrEqual(0);
          expect(exact[i]).toBeLessThanOrEqual(1);
        }
        expect(meanDifference(exact, twin)).toBeLessThan(0.01);
      }),
      { numRuns: 120, seed: 7 },
    );
  });
});
