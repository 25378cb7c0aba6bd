import { describe, expect, it } from 'vitest';
import { newSpline } from '../document/part-kinds/spline.ts';
import { newDocument, newPath, newSubject } from '../document/records.ts';
import type { Element, Lane, ShotDocument } from '../document/schema.ts';
import { newElement } from '../elements/index.ts';
import { newRgba, type Rgba, type Size } from '../image/picture.ts';
import { NO_IMPORTS, type Sources } from '../matte/sources.ts';
import { corner } from '../path/path.ts';
import { canCover, coverOn, showsBorder } from './cover.ts';
import { renderPicture } from './render-picture.ts';

const SIZE = { width: 80, height: 60 };
const flat = ({ width, height }: Size, v: number): Rgba => {
  const out = newRgba(width, height);
  for (let i = 0; i < out.data.length; i += 4) out.data.set([v, v, v, 1], i);
  return out;
};
const sources: Sources = { ...NO_IMPORTS, plate: async (_f, size) => flat(size, 0), footage: async (_s, _f, size) => flat(size, 1) };

/** A window from (30, 20) to (50, 40) that goes to the right by a pixel a frame, and footage of half the size of the plate in it. */
function shot(lane: Lane, more: Partial<Element> = {}, settings: Record<string, number> = {}): ShotDocument {
  const document = newDocument('Test', { ...SIZE, frames: 21, rate: { num: 10, den: 1 }, firstNumber: 0 });
  const at = (dx: number) => [corner(30 + dx, 20), corner(50 + dx, 20), corner(50 + dx, 40), corner(30 + dx, 40)];
  const path = newPath('path', 0, at(0), true);
  path.shape = { keys: [0, 20].map((frame) => ({ frame, value: at(frame), ease: 'linear' as const })) };
  document.cast.push({ ...newSubject('window', 'Window'), parts: [newSpline('part', 'Window', [path])] });
  const made = newElement(document, 'f', lane, lane === 'inside' ? 'window' : null, 'footage');
  const own = Object.fromEntries(Object.entries(settings).map(([key, constant]) => [key, { constant }]));
  document.lanes.push({ ...made, footage: { id: 'p', width: 40, height: 30, frames: 5, alpha: false }, ...more, settings: { ...made.settings, ...own } });
  return document;
}
const factor = (document: ShotDocument, frame: number) => coverOn(document, document.lanes[0] as Element, frame, sources, SIZE);

describe('what placed footage covers', () => {
  it('is told by how much larger it would have to be, for what is seen of its lane alone', async () => {
    // In front of everything 40 by 30 would have to be twice as large.
    expect(await factor(shot('front'), 0)).toBeCloseTo(2, 1);
    // In the window (20 by 20 about the middle) it is large enough on the first frame; twenty pixels on it is not.
    expect(showsBorder(await factor(shot('inside'), 0))).toBe(false);
    expect(await factor(shot('inside'), 20)).toBeCloseTo((2 * 29.5) / 40, 1);
    expect(showsBorder(await factor(shot('inside'), 20))).toBe(true);
    expect(await factor(shot('inside', { lives: [{ first: 0, last: 4 }] }), 20)).toBe(0);
    expect(await factor(shot('inside', {}, { scale: 0 }), 0)).toBe(Infinity);
  });

  it('covers where it is made that much larger, and not where it is a little less', async () => {
    const most = Math.max(...(await Promise.all(Array.from({ length: 21 }, (_, f) => factor(shot('inside'), f)))));
    const dark = async (scale: number) => {
      let n = 0;
      for (let f = 0; f < 21; f++) {
        const document = shot('inside', {}, { scale });
        const p = await renderPicture(document, f, sources, SIZE);
        for (let y = 22; y < 38; y++) for (let x = 32 + f; x < Math.min(79, 48 + f); x++) if (p.data[4 * (y * 80 + x)] < 0.5) n++;
      }
      return n;
    };
    expect(await dark(100 * most + 1)).toBe(0);
    expect(await dark(100 * most - 12)).toBeGreaterThan(0);
  });

  it('goes along where the footage follows the window', async () => {
    const led = shot('inside', { follow: { track: 'part', frame: 0, takes: ['position'] } });
    for (const f of [0, 10, 20]) expect(showsBorder(await factor(led, f))).toBe(false);
  });

  it('is asked of what has sides', () => {
    expect(canCover(shot('front').lanes[0] as Element)).toBe(true);
    expect(canCover(newElement(shot('front'), 'x', 'front', null, 'rings'))).toBe(false);
  });
});
