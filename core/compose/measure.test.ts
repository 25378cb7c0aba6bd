import { describe, expect, it } from 'vitest';
import { newSpline } from '../document/part-kinds/spline.ts';
import { newDocument, newPath, newSubject } from '../document/records.ts';
import type { ShotDocument } from '../document/schema.ts';
import { newElementEffect, newLaneEffect } from '../effects/lane-effect.ts';
import { newElement } from '../elements/index.ts';
import { newRgba, type Rgba, type Size } from '../image/picture.ts';
import { curveOf } from '../math/curve.ts';
import { randomFrom } from '../math/random.ts';
import { NO_IMPORTS, type Sources } from '../matte/sources.ts';
import { corner } from '../path/path.ts';
import { histogramOf, matchingCurve, measureColour, measureGrain, noiseSigma } from './measure.ts';
import { renderPicture } from './render-picture.ts';

const SIZE = { width: 120, height: 80 };
/** A ramp from left to right between two values, another for each channel. */
const ramp = ({ width, height }: Size, ends: [number, number][]): Rgba => {
  const out = newRgba(width, height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) out.data.set([...ends.map(([a, b]) => a + ((b - a) * x) / (width - 1)), 1], 4 * (y * width + x));
  return out;
};
const DULL: [number, number][] = [
  [0.3, 0.6],
  [0.2, 0.5],
  [0.1, 0.3],
];
const BRIGHT: [number, number][] = [
  [0.2, 0.9],
  [0.3, 0.7],
  [0.4, 0.9],
];
const sources: Sources = { ...NO_IMPORTS, plate: async (_f, size) => ramp(size, DULL), footage: async (_shown, _f, size) => ramp(size, BRIGHT) };
const footage = { id: 'f', ...SIZE, frames: 3, alpha: false };
function shot(): ShotDocument {
  const document = newDocument('Test', { ...SIZE, frames: 10, rate: { num: 10, den: 1 }, firstNumber: 0 });
  const path = newPath('path', 0, [corner(0, 0), corner(120, 0), corner(120, 40), corner(0, 40)], true);
  document.cast.push({ ...newSubject('s', 'S'), parts: [newSpline('part', 'S', [path])] });
  return document;
}
const place = (document: ShotDocument) => ({ document, frame: 0, sources, size: SIZE });
const histogram = (values: number[]) => {
  const counts = new Float64Array(256);
  for (const v of values) counts[Math.round(v * 255)]++;
  return counts;
};

describe('matching colours', () => {
  it.each(['statistics', 'curves'] as const)('gives an effect of a lane the colours of footage, by %s', async (how) => {
    const document = shot();
    const match = newLaneEffect('m', 'inside', 's', 'match');
    document.lanes.push(match);
    const curves = await measureColour(place(document), 'm', { under: false, footage, frame: 0 }, how);
    expect(curves).not.toBeNull();
    match.settings = { ...match.settings, ...Object.fromEntries(Object.entries(curves ?? {}).map(([k, v]) => [k, { constant: v }])) };
    const p = await renderPicture(document, 0, sources, SIZE);
    for (const x of [20, 60, 100])
      for (let k = 0; k < 3; k++)
        expect(Math.abs(p.data[4 * (20 * 120 + x) + k] - (BRIGHT[k][0] + ((BRIGHT[k][1] - BRIGHT[k][0]) * x) / 119))).toBeLessThan(0.03);
    // Outside of the subject nothing changes.
    expect(p.data[4 * (60 * 120 + 60)]).toBeCloseTo(0.3 + (0.3 * 60) / 119, 4);
  });

  it('gives an element the colours of what lies under it', async () => {
    const document = shot();
    const own = newElementEffect('own', 'match', SIZE);
    const shown = newElement(document, 'e', 'front', null, 'footage');
    document.lanes.push({ ...shown, footage, effects: [own] });
    const curves = await measureColour(place(document), 'own', { under: true }, 'curves');
    own.settings = { ...own.settings, ...Object.fromEntries(Object.entries(curves ?? {}).map(([k, v]) => [k, { constant: v }])) };
    const p = await renderPicture(document, 0, sources, SIZE);
    for (const x of [20, 60, 100]) expect(Math.abs(p.data[4 * (20 * 120 + x)] - (0.3 + (0.3 * x) / 119))).toBeLessThan(0.03);
  });

  it('says nothing where there is nothing to measure', async () => {
    const document = shot();
    document.lanes.push({ ...newElement(document, 'e', 'front', null, 'footage'), effects: [newElementEffect('own', 'match', SIZE)] });
    expect(await measureColour(place(document), 'own', { under: true }, 'curves')).toBeNull();
    expect(await measureColour(place(document), 'gone', { under: true }, 'curves')).toBeNull();
  });

  it('is a line by mean and spread, cut where it leaves the range', () => {
    const [from, to] = [histogram([0.4, 0.5, 0.6]), histogram([0.2, 0.6, 1])];
    const of = curveOf(matchingCurve(from, 3, to, 3, 'statistics'));
    expect(of(0.5)).toBeCloseTo(0.6, 2);
    expect(of(0.6)).toBeCloseTo(1, 1);
    expect([of(0), of(1)]).toEqual([0, 1]);
  });
});

describe('the histogram behind a curve', () => {
  it('is of what the effect is given: even over the span of a ramp, nothing beyond it', async () => {
    const document = shot();
    document.lanes.push(newLaneEffect('c', 'inside', 's', 'curves'));
    const found = await histogramOf(place(document), 'c');
    // Red goes from .3 to .6: bars 19 to 38 of 64.
    const red = found?.red.flatMap((v, i) => (v > 0.3 ? [i] : [])) ?? [];
    expect([red[0], red.at(-1)]).toEqual([19, 38]);
    expect(found?.blue[50]).toBe(0);
    // What another effect has made of it by then counts.
    document.lanes.unshift({ ...newLaneEffect('dark', 'behind', 's', 'solid'), lane: 'backdrop', subject: null });
    expect((await histogramOf(place(document), 'c'))?.red).toEqual(found?.red);
    expect(await histogramOf(place(document), 'gone')).toBeNull();
  });
});

describe('measuring grain', () => {
  const noisy = (sigma: number, colour: number, size = 1): Rgba => {
    const random = randomFrom(7);
    const normal = () => Math.sqrt(-2 * Math.log(random() + 1e-12)) * Math.cos(2 * Math.PI * random());
    const out = newRgba(256, 192);
    for (let y = 0; y < 192; y += size)
      for (let x = 0; x < 256; x += size) {
        const all = normal();
        const values = [0, 1, 2].map(() => 0.5 + sigma * (Math.sqrt(1 - colour * colour) * all + colour * normal()));
        for (let v = y; v < Math.min(192, y + size); v++) for (let u = x; u < Math.min(256, x + size); u++) out.data.set([...values, 1], 4 * (v * 256 + u));
      }
    return out;
  };
  it.each([0.01, 0.03])('finds a standard deviation of %s within a tenth', (sigma) => {
    const { strength } = measureGrain(noisy(sigma, 0));
    expect(Math.abs(strength / 100 / sigma - 1)).toBeLessThan(0.12);
  });
  it('tells how much channels stray apart, and larger grains from small ones', () => {
    expect(measureGrain(noisy(0.03, 0)).colour).toBeLessThan(12);
    expect(measureGrain(noisy(0.03, 1)).colour).toBeGreaterThan(88);
    expect(measureGrain(noisy(0.03, 0)).size).toBeLessThan(1.2);
    expect(measureGrain(noisy(0.03, 0, 2)).size).toBeGreaterThan(1.5);
  });
  it('is not fooled by forms, and finds none where there is none', () => {
    const forms = ramp({ width: 256, height: 192 }, DULL);
    expect(noiseSigma({ width: 256, height: 192, data: Float32Array.from({ length: 256 * 192 }, (_, p) => forms.data[4 * p]) })).toBeLessThan(1e-4);
  });
});
