/** Motion blur of things that move side by side, and subjects that leave their outline. */
import { describe, expect, it } from 'vitest';
import { newSpline } from '../document/part-kinds/spline.ts';
import { newDocument, newPath, newSubject } from '../document/records.ts';
import type { Element, LaneEffect, ShotDocument, ShownFootage } from '../document/schema.ts';
import { newLaneEffect } from '../effects/lane-effect.ts';
import { newElement } from '../elements/index.ts';
import { newRgba, type Rgba } from '../image/picture.ts';
import { NO_IMPORTS, type Sources } from '../matte/sources.ts';
import { corner } from '../path/path.ts';
import { renderPicture } from './render-picture.ts';

const SIZE = { width: 96, height: 54 };
const FOOTAGE: ShownFootage = { id: 'other', ...SIZE, frames: 20, alpha: false };

function flat(colour: number[]): Rgba {
  const out = newRgba(SIZE.width, SIZE.height);
  for (let i = 0; i < out.data.length; i += 4) out.data.set(colour, i);
  return out;
}
const rgb = ({ data }: Rgba, x: number, y: number) => [...data.subarray((y * SIZE.width + x) * 4, (y * SIZE.width + x) * 4 + 3)];
const bare = (): ShotDocument => newDocument('Test', { ...SIZE, frames: 20, rate: { num: 24, den: 1 }, firstNumber: 0 });

describe('two shots that push past each other', () => {
  const sources: Sources = { ...NO_IMPORTS, plate: async () => flat([1, 0, 0, 1]), footage: async () => flat([0, 0.5, 1, 1]) };

  /** Fills the plate, and crosses it by half its width a frame from where it begins. */
  const sliding = (document: ShotDocument, id: string, from: number): Element => {
    const made = newElement(document, id, 'front', null, 'footage');
    const key = (frame: number, value: number) => ({ frame, value, ease: 'linear' as const });
    const x = { keys: [key(0, from), key(10, from - 5 * SIZE.width)] };
    return { ...made, footage: FOOTAGE, settings: { ...made.settings, x, shutter: { constant: 180 } } };
  };

  it('let none of the plate through where they join, however blurred they are', async () => {
    const document = bare();
    document.lanes.push(sliding(document, 'goes', SIZE.width * 2.25), sliding(document, 'comes', SIZE.width * 3.25));
    const out = await renderPicture(document, 4, sources, SIZE);
    // The seam lies in the middle of the picture, and is blurred by a quarter of its width. At each instant its edges meet within one
    // pixel, which both cover in part: of that a hundredth is left.
    for (let x = 0; x < SIZE.width; x++) expect(rgb(out, x, 20)[0], `column ${x}`).toBeLessThan(0.015);
  });

  it('are blurred as one alone is where the other is not', async () => {
    const both = bare();
    both.lanes.push(sliding(both, 'goes', SIZE.width * 2.25), sliding(both, 'comes', SIZE.width * 3.25));
    const one = bare();
    one.lanes.push(sliding(one, 'comes', SIZE.width * 3.25));
    const [pair, alone] = await Promise.all([renderPicture(both, 4, sources, SIZE), renderPicture(one, 4, sources, SIZE)]);
    expect(rgb(pair, 90, 20)).toEqual(rgb(alone, 90, 20).map((v) => expect.closeTo(v, 5)));
    // Alone it fades into the plate over the way it goes.
    const faded = Array.from({ length: SIZE.width }, (_, x) => rgb(alone, x, 20)[0]).filter((v) => v > 0.02 && v < 0.98).length;
    expect(faded).toBeGreaterThan(SIZE.width / 5);
  });
});

describe('a subject that leaves its outline', () => {
  /** A green block on a ground that goes from dark to light. */
  const plate = (): Rgba => {
    const out = newRgba(SIZE.width, SIZE.height);
    for (let y = 0; y < SIZE.height; y++)
      for (let x = 0; x < SIZE.width; x++) {
        const on = x >= 40 && x < 60 && y >= 10 && y < 44;
        const ground = 0.3 + (0.4 * x) / SIZE.width;
        out.data.set(on ? [0.1, 0.9, 0.1, 1] : [ground, ground, ground, 1], (y * SIZE.width + x) * 4);
      }
    return out;
  };
  const CLEAN = [0.6, 0.2, 0.5];
  const sources: Sources = { ...NO_IMPORTS, plate: async () => plate(), footage: async () => flat([...CLEAN, 1]) };

  function broken(settings: Record<string, number | string>, more: Partial<LaneEffect> = {}, clean: ShownFootage | null = null): ShotDocument {
    const document = bare();
    const block = newPath('q', 0, [corner(40, 10), corner(60, 10), corner(60, 44), corner(40, 44)], true);
    document.cast.push({ ...newSubject('s', 'Block'), parts: [newSpline('p', 'Block', [block])], clean });
    const effect = newLaneEffect('e', 'inside', 's', 'break-up');
    const given = { share: 100, size: 200, shift: 25, part: 0, seed: 3, every: 1, ...settings };
    document.lanes.push({
      ...effect,
      settings: { ...effect.settings, ...Object.fromEntries(Object.entries(given).map(([k, v]) => [k, { constant: v }])) },
      ...more,
    });
    return document;
  }
  const greens = (out: Rgba) => Array.from({ length: SIZE.width }, (_, x) => x).filter((x) => rgb(out, x, 25)[1] > 0.8);

  it('lies elsewhere, whole, and what was behind it goes on where it was', async () => {
    const out = await renderPicture(broken({}), 0, sources, SIZE);
    const seen = greens(out);
    expect(seen).toHaveLength(20);
    const by = seen[0] - 40;
    expect(Math.abs(by)).toBeGreaterThan(3);
    // The ground where a band left goes on from both sides: no green, no hole.
    for (let x = 40; x < 60; x++) {
      if (seen.includes(x)) continue;
      const [r, g, b] = rgb(out, x, 25);
      expect(Math.abs(r - (0.3 + (0.4 * x) / SIZE.width))).toBeLessThan(0.08);
      expect([Math.abs(g - r) < 1e-4, Math.abs(b - r) < 1e-4]).toEqual([true, true]);
    }
  });

  it('has its clean plate behind it where there is one', async () => {
    const out = await renderPicture(broken({}, {}, { ...FOOTAGE, frames: 1 }), 0, sources, SIZE);
    const seen = greens(out);
    const left = Array.from({ length: 20 }, (_, i) => 40 + i).filter((x) => !seen.includes(x));
    for (const x of left) expect(rgb(out, x, 25)).toEqual(CLEAN.map((v) => expect.closeTo(v, 5)));
    // Away from it the plate is as it was.
    expect(rgb(out, 5, 5)).toEqual(rgb(plate(), 5, 5));
  });

  it('has what lies round it behind it where its clean plate is not to be had, or is open there', async () => {
    const computed = await renderPicture(broken({}), 0, sources, SIZE);
    const empty: Sources = { ...sources, footage: async () => newRgba(SIZE.width, SIZE.height) };
    for (const alpha of [false, true]) {
      const out = await renderPicture(broken({}, {}, { ...FOOTAGE, frames: 1, alpha }), 0, empty, SIZE);
      expect(out.data).toEqual(computed.data);
    }
  });

  it('takes what is in it along: an element that is larger than it, and a second effect', async () => {
    const document = broken({});
    const card = newElement(document, 'c', 'inside', 's', 'card');
    const settings = { width: { constant: 500 }, height: { constant: 500 }, colours: { constant: '1' }, colour1: { constant: [0, 0, 1] } };
    document.lanes.unshift({ ...card, settings: { ...card.settings, ...settings } });
    document.lanes.push({ ...(document.lanes[1] as LaneEffect), id: 'again' });
    const out = await renderPicture(document, 0, sources, SIZE);
    const blue = Array.from({ length: SIZE.width }, (_, x) => x).filter((x) => rgb(out, x, 25)[2] > 0.9);
    expect(blue).toHaveLength(20);
    // Twice as far as once.
    const once = greens(await renderPicture(broken({}), 0, sources, SIZE));
    expect(blue[0] - 40).toBe(2 * (once[0] - 40));
    for (let x = 0; x < SIZE.width; x++) expect(rgb(out, x, 3)).toEqual(rgb(plate(), x, 3));
  });

  it('parts its colours without a fringe that is darker than both what it is on and itself', async () => {
    const out = await renderPicture(broken({ part: 6 }), 0, sources, SIZE);
    for (let x = 0; x < SIZE.width; x++) {
      const [r, g, b] = rgb(out, x, 25);
      expect(r + g + b, `column ${x}`).toBeGreaterThan(0.85);
    }
  });

  it('stays within its outline where it may not leave it', async () => {
    const out = await renderPicture(broken({}, { leaves: false }), 0, sources, SIZE);
    for (let x = 0; x < SIZE.width; x++) if (x < 40 || x >= 60) expect(rgb(out, x, 25)).toEqual(rgb(plate(), x, 25));
  });

  it('of a whole picture, its sides wrap or hold', async () => {
    const document = (sides: string) => {
      const shot = broken({ sides }, { lane: 'front', subject: null });
      return shot;
    };
    const row = async (sides: string) => {
      const out = await renderPicture(document(sides), 0, sources, SIZE);
      return Array.from({ length: SIZE.width }, (_, x) => rgb(out, x, 2)[0]);
    };
    const before = Array.from({ length: SIZE.width }, (_, x) => rgb(plate(), x, 2)[0]);
    const [wrapped, held] = [await row('wrap'), await row('hold')];
    const sorted = (list: number[]) => [...list].sort((a, b) => a - b);
    expect(sorted(wrapped)).toEqual(sorted(before));
    expect(wrapped).not.toEqual(before);
    const end = held.filter((v) => v === before[0]).length + held.filter((v) => v === before[SIZE.width - 1]).length;
    expect(end).toBeGreaterThan(4);
  });
});
