import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { renderPicture } from '../compose/render-picture.ts';
import { newSpline } from '../document/part-kinds/spline.ts';
import { newDocument, newPath, newPointTrack, newRegionTrack, newSubject } from '../document/records.ts';
import type { Element, ElementEffect, Lane, LaneItem, Setting, ShotDocument } from '../document/schema.ts';
import { newElementEffect } from '../effects/lane-effect.ts';
import { valuesAt } from '../effects/settings.ts';
import { newRgba, type Rgba, type Size } from '../image/picture.ts';
import { ASPECTS } from '../math/motion.ts';
import { NO_IMPORTS, type Sources } from '../matte/sources.ts';
import { corner } from '../path/path.ts';
import { ELEMENTS, elementById, newElement, settingsOf } from './index.ts';
import { shownAt, shownFrame } from './picture.ts';
import { regionCorners } from './pinned.ts';
import { courseOf, ringsAt } from './rings.ts';

const SIZE = { width: 80, height: 60 };

const flat = ({ width, height }: Size, colour: number[]): Rgba => {
  const out = newRgba(width, height);
  for (let i = 0; i < out.data.length; i += 4) out.data.set(colour, i);
  return out;
};

/** A black plate; footage whose red tells its frame, its left half with green; letters that are squares of half the size of the type. */
const sources: Sources = {
  ...NO_IMPORTS,
  plate: async (frame, size) => flat(size, [0, 0, frame / 100, 1]),
  footage: async (_footage, frame, size) => {
    const out = flat(size, [frame / 100, 0, 0, 1]);
    for (let y = 0; y < size.height; y++) for (let x = 0; x < size.width / 2; x++) out.data[(y * size.width + x) * 4 + 1] = 1;
    return out;
  },
  letters: async (line) => ({
    shapes: [...line].map((letter) => (letter === ' ' ? [] : [[corner(0, -0.5), corner(0.5, -0.5), corner(0.5, 0), corner(0, 0)]])),
    advances: [...line].map(() => 0.5),
  }),
};

/** "Near" is the left half of the picture, "Far" its upper half; the cast is near to far. */
function shot(): ShotDocument {
  const document = newDocument('Test', { ...SIZE, frames: 30, rate: { num: 10, den: 1 }, firstNumber: 0 });
  const box = (id: string, name: string, right: number, bottom: number) => {
    const path = newPath(`${id}-path`, 0, [corner(0, 0), corner(right, 0), corner(right, bottom), corner(0, bottom)], true);
    return { ...newSubject(id, name), parts: [newSpline(`${id}-part`, name, [path])] };
  };
  document.cast.push(box('near', 'Near', 40, 60), box('far', 'Far', 80, 30));
  return document;
}

type Changes = Omit<Partial<Element>, 'settings'> & { settings?: Record<string, number | number[] | string | Setting> };
function element(kind: string, lane: Lane, subject: string | null, { settings = {}, ...more }: Changes = {}): Element {
  const made = newElement(shot(), `an-${kind}`, lane, subject, kind);
  const own = Object.entries(settings).map(([k, v]) => [k, typeof v === 'object' && !Array.isArray(v) ? v : { constant: v }]);
  return { ...made, ...more, settings: { ...made.settings, ...Object.fromEntries(own) } };
}
const WHITE = { colours: '1', colour1: [1, 1, 1] };
/** A white card over all of the picture. */
const whole = (lane: Lane, subject: string | null, more: Changes = {}) =>
  element('card', lane, subject, { ...more, settings: { width: 200, height: 200, ...WHITE, ...more.settings } });

const render = (items: LaneItem[], frame = 0, document = shot(), size: Size = SIZE) => renderPicture({ ...document, lanes: items }, frame, sources, size);
const red = (p: Rgba, x: number, y: number): number => p.data[(y * p.width + x) * 4];
const rgb = (p: Rgba, x: number, y: number) => [...p.data.subarray((y * p.width + x) * 4, (y * p.width + x) * 4 + 3)].map((v) => Math.round(v * 1000) / 1000);
/** Of four places: on both subjects, on the near one, on the far one, on neither. */
const corners = (p: Rgba) => [rgb(p, 10, 10)[0], rgb(p, 10, 50)[0], rgb(p, 70, 10)[0], rgb(p, 70, 50)[0]];

describe('lanes', () => {
  it.each<[string, Lane, string | null, number[]]>([
    ['in front covers everything', 'front', null, [1, 1, 1, 1]],
    ['inside the far one is on it, where no nearer one covers it', 'inside', 'far', [0, 0, 1, 0]],
    ['behind the near one covers the far one', 'behind', 'near', [0, 0, 1, 1]],
    ['behind the far one is covered by the near one too', 'behind', 'far', [0, 0, 0, 1]],
    ['in the backdrop is covered by all', 'backdrop', null, [0, 0, 0, 1]],
  ])('an element %s', async (_name, lane, subject, expected) => {
    expect(corners(await render([whole(lane, subject)]))).toEqual(expected);
  });

  it('are painted far to near, whatever their order in the document', async () => {
    const front = whole('front', null, { settings: { colour1: [0, 1, 0] } });
    const back = { ...whole('backdrop', null), id: 'back' };
    expect(rgb(await render([front, back]), 70, 50)).toEqual([0, 1, 0]);
  });

  it('within one the later element covers the earlier', async () => {
    const second = { ...whole('front', null, { settings: { colour1: [0, 1, 0] } }), id: 'second' };
    expect(rgb(await render([whole('front', null), second]), 5, 5)).toEqual([0, 1, 0]);
  });
});

describe('an element', () => {
  it('is as strong as its opacity, blends as asked, and lives on its range', async () => {
    const half = whole('front', null, {
      mix: { constant: 0.5 },
      blend: 'screen',
      lives: [
        { first: 1, last: 1 },
        { first: 3, last: 6 },
      ],
    });
    expect(rgb(await render([half], 4), 5, 5)).toEqual([0.5, 0.5, 0.52]);
    expect(rgb(await render([half], 7), 5, 5)).toEqual([0, 0, 0.07]);
    expect(rgb(await render([{ ...half, enabled: false }], 4), 5, 5)).toEqual([0, 0, 0.04]);
  });

  it('covers exactly what it covers of a pixel, at every size of picture', async () => {
    const card = element('card', 'front', null, { settings: { width: 21, height: 10.5, x: 30, y: 20, ...WHITE } });
    for (const scale of [1, 2]) {
      const out = await render([card], 0, shot(), { width: SIZE.width * scale, height: SIZE.height * scale });
      let sum = 0;
      for (let i = 0; i < out.data.length; i += 4) sum += out.data[i];
      expect(Math.abs(sum / scale ** 2 - 21 * 10.5)).toBeLessThan(1);
    }
  });

  it('is turned clockwise and scaled about its middle', async () => {
    const bar = element('card', 'front', null, { settings: { width: 40, height: 4, x: 40, y: 30, turn: 90, scale: 50, ...WHITE } });
    const out = await render([bar]);
    expect([red(out, 39, 22), red(out, 39, 37), red(out, 48, 30), red(out, 39, 18)]).toEqual([1, 1, 0, 0]);
    const dot = element('card', 'front', null, { settings: { width: 40, height: 4, x: 40, y: 30, turn: 45, ...WHITE } });
    expect([red(await render([dot]), 50, 40) > 0.5, red(await render([dot]), 50, 20)]).toEqual([true, 0]);
  });

  it('lies with its corners where they were put', async () => {
    const out = await render([
      element('card', 'front', null, { corners: { constant: [10, 10, 50, 14, 46, 40, 12, 44] }, settings: { width: 300, height: 7, ...WHITE } }),
    ]);
    expect([red(out, 12, 13), red(out, 45, 38), red(out, 30, 11), red(out, 49, 30), red(out, 60, 20)]).toEqual([1, 1, expect.any(Number), 0, 0]);
    expect(red(out, 30, 14)).toBe(1);
  });

  it('follows what it takes of a track, from the frame on which it was put there', async () => {
    const outline = [corner(20, 20), corner(40, 20), corner(40, 40), corner(20, 40)];
    const track = newRegionTrack({ id: 'track', name: 'Sign', frame: 5, lines: 60 }, [outline], 'similarity');
    const at = (frame: number, x: number, scale: number) => ({ frame, value: { at: [x, 30, scale, 0, 0, scale], quality: 1 }, ease: 'linear' as const });
    track.motion = { keys: [at(5, 30, 1), at(15, 50, 2)] };
    const document = { ...shot(), tracks: [track] };
    const follow = { track: 'track', frame: 5, takes: [...ASPECTS] };
    const card = (takes = follow.takes) =>
      element('card', 'front', null, { follow: { ...follow, takes }, settings: { width: 20, height: 20, x: 30, y: 30, ...WHITE } });
    const width = async (item: Element, frame: number) =>
      (await render([item], frame, document)).data.filter((v, i) => i % 4 === 0 && i >= 30 * 80 * 4 && i < 31 * 80 * 4 && v > 0.5).length;
    expect([await width(card(), 5), await width(card(), 10), await width(card(), 15)]).toEqual([20, 30, 40]);
    expect(await width(card(['position']), 15)).toBe(20);
    expect(regionCorners(track, 15)).toEqual([30, 10, 70, 10, 70, 50, 30, 50]);
  });

  it('is blurred by its own motion alone, evenly along its way', async () => {
    const moving = { keys: [0, 10].map((frame) => ({ frame, value: frame * 8, ease: 'linear' as const })) };
    const card = (shutter: number) => element('card', 'front', null, { settings: { width: 4, height: 40, x: moving, y: 30, shutter, ...WHITE } });
    const row = async (shutter: number) => Array.from({ length: 80 }, async (_, x) => red(await render([card(shutter)], 5), x, 30));
    const sharp = await Promise.all(await row(0));
    const blurred = await Promise.all(await row(360));
    const sum = (values: number[]) => values.reduce((a, b) => a + b, 0);
    expect(sharp.filter((v) => v > 0).length).toBe(4);
    expect(sum(blurred)).toBeCloseTo(sum(sharp), 3);
    // Open for a frame, it goes 8 pixels: 12 are touched, the middle ones half the time.
    expect(blurred.filter((v) => v > 0.01).length).toBe(12);
    expect(blurred[40]).toBeCloseTo(0.5, 1);
  });

  it.each(ELEMENTS.map((e) => [e.id, e] as const))('%s gives finite premultiplied values for every end of its settings', async (id, kind) => {
    for (const end of ['min', 'max'] as const) {
      const ends = Object.fromEntries(
        Object.entries(settingsOf(kind)).map(([k, s]) => [
          k,
          s.kind === 'number' ? s[end] : s.kind === 'choice' ? s.options[end === 'min' ? 0 : s.options.length - 1].id : s.start,
        ]),
      );
      const made = element(id, 'front', null, {
        of: 'near',
        words: 'AB\nC',
        footage: { id: 'f', width: 64, height: 32, frames: 8, alpha: false },
        settings: ends,
      });
      for (const v of (await render([made], 9)).data) expect(v >= 0 && v <= 1).toBe(true);
    }
  });
});

describe('a card', () => {
  it('goes from colour to colour at its angle', async () => {
    const settings = { width: 80, height: 60, angle: 0, colours: '3', colour1: [1, 0, 0], colour2: [0, 1, 0], colour3: [0, 0, 1] };
    const out = await render([element('card', 'front', null, { settings })]);
    expect(rgb(out, 20, 30).map((v) => Math.round(v * 10) / 10)).toEqual([0.5, 0.5, 0]);
    expect(rgb(out, 60, 10).map((v) => Math.round(v * 10) / 10)).toEqual([0, 0.5, 0.5]);
  });

  it('has soft edges and round corners', async () => {
    const card = (more: Record<string, number>) => element('card', 'front', null, { settings: { width: 40, height: 40, ...WHITE, ...more } });
    const soft = await render([card({ softness: 6 })]);
    expect((red(soft, 19, 30) + red(soft, 20, 30)) / 2).toBeCloseTo(0.5, 2);
    expect(red(soft, 16, 30)).toBeGreaterThan(0.02);
    expect([red(await render([card({})]), 21, 11), red(await render([card({ roundness: 12 })]), 21, 11)]).toEqual([1, 0]);
  });
});

describe('a title', () => {
  const title = (words: string, more: Record<string, number | string> = {}) =>
    element('title', 'front', null, { words, settings: { size: 16, colour: [1, 1, 1], x: 40, y: 30, ...more } });
  const columns = (p: Rgba) => Array.from({ length: p.width }, (_, x) => Array.from({ length: p.height }, (_, y) => red(p, x, y)).some((v) => v > 0.5));
  const span = (p: Rgba) => [columns(p).indexOf(true), columns(p).lastIndexOf(true)];

  it('stands with its middle where it was put, as wide as its letters and their spacing', async () => {
    expect(span(await render([title('abc')]))).toEqual([28, 51]);
    expect(span(await render([title('abc', { spacing: 50 })]))).toEqual([20, 59]);
  });

  it('sets its lines to the left, the right or the middle', async () => {
    const lower = (p: Rgba) => Array.from({ length: p.width }, (_, x) => red(p, x, 39)).map((v) => v > 0.5);
    const at = async (align: string) => lower(await render([title('abcd\na', { align, leading: 100 })])).indexOf(true);
    expect([await at('left'), await at('middle'), await at('right')]).toEqual([24, 36, 48]);
  });

  it('is nothing without words, and behind a subject is covered by it', async () => {
    expect((await render([title('  ')])).data).toEqual((await render([])).data);
    expect(span(await render([{ ...title('abc'), lane: 'behind', subject: 'near' }]))).toEqual([40, 51]);
  });
});

describe('footage', () => {
  it.each<[string, number, number, string, number, number | null]>([
    ['its first frame on the frame where it begins', 7, 7, 'nothing', 20, 0],
    ['nothing before that', 6, 7, 'nothing', 20, null],
    ['its last frame for as long as it is asked to', 40, 7, 'hold', 20, 19],
    ['the beginning again', 28, 7, 'repeat', 20, 1],
    ['the end of the round before', 6, 7, 'repeat', 20, 19],
    ['a still on every frame', 99, 7, 'nothing', 1, 0],
    ['the way back', 27, 7, 'to-and-fro', 20, 18],
    ['the way there again', 7 + 38 + 3, 7, 'to-and-fro', 20, 3],
    ['the way back before it begins', 5, 7, 'to-and-fro', 20, 2],
  ])('shows %s', (_name, time, offset, ends, frames, expected) => {
    expect(shownFrame(time - offset, ends, frames)).toBe(expected);
  });

  describe('over time', () => {
    const times = (settings: Record<string, number | string | Setting>, frames = 20) => {
      const item = element('footage', 'front', null, { settings });
      return (time: number) => {
        const shown = shownAt({ item, time, values: valuesAt(settingsOf(elementById('footage')), item.settings, time) as never }, frames);
        return shown && Math.round((shown.frame + (shown.next - shown.frame) * shown.share) * 1000) / 1000;
      };
    };

    it('runs at its speed, backwards too, and shows what lies nearest or both', () => {
      expect([10, 11, 13].map(times({ speed: 50, offset: 10 }))).toEqual([0, 1, 2]);
      expect([10, 11, 13].map(times({ speed: 50, offset: 10, between: 'mixed' }))).toEqual([0, 0.5, 1.5]);
      expect([10, 11, 14].map(times({ speed: -200, offset: 10, ends: 'repeat' }))).toEqual([0, 18, 12]);
    });

    it('goes on from where it is when its speed is keyed', () => {
      const speed = { keys: [0, 10].map((frame) => ({ frame, value: frame === 0 ? 100 : 25, ease: 'hold' as const })) };
      expect([5, 10, 14, 18].map(times({ speed, between: 'mixed' }))).toEqual([5, 10, 11, 12]);
    });

    it('holds, repeats or turns within a range of it for as long as it is wanted', () => {
      const range = { first: 5, last: 8 };
      expect([0, 3, 4, 99].map(times({ ...range }))).toEqual([5, 8, 8, 8]);
      expect([0, 3, 4, 101].map(times({ ...range, ends: 'repeat' }))).toEqual([5, 8, 5, 6]);
      expect([0, 3, 4, 6, 7].map(times({ ...range, ends: 'to-and-fro' }))).toEqual([5, 8, 7, 5, 6]);
      // One frame, and ranges that are the wrong way round or beyond its end.
      expect([0, 7].map(times({ first: 6, last: 2, ends: 'repeat' }))).toEqual([6, 6]);
      expect([0, 7].map(times({ first: 99, ends: 'to-and-fro' }))).toEqual([19, 19]);
      expect([0, 50].map(times({ ends: 'to-and-fro' }, 1))).toEqual([0, 0]);
    });
  });

  it('between two frames is mixed, or moved along its motion', async () => {
    const footage = { id: 'f', width: 96, height: 64, frames: 2, alpha: false };
    // Clouds that go eight pixels to the right in a frame.
    const clouds = (shift: number): Rgba => {
      const out = newRgba(96, 64);
      for (let y = 0; y < 64; y++)
        for (let x = 0; x < 96; x++) {
          const v = 0.5 + 0.2 * Math.sin((x - shift) * 0.21 + y * 0.08) + 0.2 * Math.sin((x - shift) * 0.09 - y * 0.17 + 1);
          out.data.set([v, v, v, 1], (y * 96 + x) * 4);
        }
      return out;
    };
    const moving: Sources = { ...sources, footage: async (_f, frame) => clouds(8 * frame) };
    const seen = async (between: string) => {
      const document = newDocument('Clouds', { width: 96, height: 64, frames: 2, rate: { num: 24, den: 1 }, firstNumber: 0 });
      const made = newElement(document, 'f', 'front', null, 'footage');
      document.lanes.push({ ...made, footage, settings: { ...made.settings, speed: { constant: 50 }, between: { constant: between } } });
      return renderPicture(document, 1, moving, { width: 96, height: 64 });
    };
    const off = (p: Rgba, from: Rgba) => {
      let sum = 0;
      for (let y = 8; y < 56; y++) for (let x = 16; x < 80; x++) sum += Math.abs(p.data[(y * 96 + x) * 4] - from.data[(y * 96 + x) * 4]);
      return sum / (48 * 64);
    };
    const [mixed, flowed, half] = [await seen('mixed'), await seen('flow'), clouds(4)];
    expect(off(flowed, half)).toBeLessThan(0.01);
    expect(off(flowed, half)).toBeLessThan(off(mixed, half) / 4);
    const expected = clouds(0);
    expect(mixed.data[4 * (30 * 96 + 40)]).toBeCloseTo((expected.data[4 * (30 * 96 + 40)] + clouds(8).data[4 * (30 * 96 + 40)]) / 2, 5);
  });

  it('is placed, scaled and flipped', async () => {
    const item = (more: Record<string, number | string>) =>
      element('footage', 'front', null, {
        footage: { id: 'f', width: 160, height: 120, frames: 50, alpha: false },
        settings: { scale: 25, x: 40, y: 30, offset: -40, ...more },
      });
    const out = await render([item({})], 2);
    expect([rgb(out, 30, 30), rgb(out, 50, 30), rgb(out, 10, 30)]).toEqual([
      [0.42, 1, 0],
      [0.42, 0, 0],
      [0, 0, 0.02],
    ]);
    expect(rgb(await render([item({ flip: 'across' })], 2), 50, 30)).toEqual([0.42, 1, 0]);
  });
});

describe('a cut-out', () => {
  it('is the subject once more, somewhere else and at another time', async () => {
    const item = element('cutout', 'front', null, { of: 'near', settings: { x: 70, y: 30, offset: -8 } });
    const out = await render([item], 2);
    expect([rgb(out, 31, 30), rgb(out, 20, 30)]).toEqual([
      [0, 0, 0.1],
      [0, 0, 0.02],
    ]);
    expect(rgb(await render([{ ...item, of: 'gone' }], 2), 31, 30)).toEqual([0, 0, 0.02]);
  });
});

describe('rings', () => {
  const course = (values: Record<string, number>) => courseOf(Object.fromEntries(Object.entries(values).map(([k, v]) => [k, { constant: v }])), 10);
  const VALUES = { rate: 2, speed: 20, life: 1, birthWidth: 4, deathWidth: 2, fadeIn: 0, fadeOut: 50 };

  it('are born at their rate, spread, thin out and fade', () => {
    const rings = ringsAt(course(VALUES), 14, 2, 10);
    // 1.2 seconds after the first: those born at 0.5 and 1 live.
    expect(rings.map((r) => r.born)).toEqual([7, 12]);
    expect(rings.map((r) => Math.round(r.distance * 1e6) / 1e6)).toEqual([14, 4]);
    expect(rings[0].width).toBeCloseTo(4 - 2 * 0.7, 9);
    expect(rings.map((r) => Math.round(r.strength * 1e6) / 1e6)).toEqual([0.6, 1]);
    expect(ringsAt(course(VALUES), 1, 2, 10)).toEqual([]);
    expect(ringsAt(course({ ...VALUES, rate: 0 }), 14, 2, 10)).toEqual([]);
  });

  it('go by what was set when they were born, and by all speeds since: keys change those to come only', () => {
    const keyed = (min: number, max: number) =>
      fc
        .uniqueArray(fc.record({ frame: fc.integer({ min: 0, max: 60 }), value: fc.double({ min, max, noNaN: true }) }), {
          selector: (k) => k.frame,
          minLength: 1,
          maxLength: 4,
        })
        .map((keys) => ({ keys: keys.sort((a, b) => a.frame - b.frame).map((k) => ({ ...k, ease: 'linear' as const })) }));
    fc.assert(
      fc.property(
        keyed(0, 5),
        keyed(0, 300),
        keyed(0.1, 3),
        fc.integer({ min: 1, max: 50 }),
        fc.integer({ min: 1, max: 8 }),
        (rate, speed, life, time, later) => {
          const keys = courseOf({ rate, speed, life }, 10);
          const before = ringsAt(keys, time, 0, 10);
          const all = ringsAt(keys, time + later, 0, 10);
          const after = all.filter((r) => r.born <= time - 1e-3);
          const way = keys.way(time, time + later);
          for (const ring of after) {
            const same = before.find((r) => Math.abs(r.born - ring.born) < 1e-5);
            // Whoever lives now was there, and has gone what the speed says since: none begins half way out.
            if (!same || Math.abs(ring.distance - same.distance - way) > 1e-3) return false;
          }
          // One that is gone has lived its life.
          return before.every((r) => all.some((a) => Math.abs(a.born - r.born) < 1e-5) || time + later - r.born >= keys.at(r.born).life * 10 - 1e-3);
        },
      ),
      { numRuns: 300 },
    );
  });

  it('keep the colour of their birth, or take that of each frame', async () => {
    const red = { keys: [0, 4].map((frame) => ({ frame, value: frame === 0 ? [1, 0, 0] : [0, 1, 0], ease: 'hold' as const })) };
    const settings = { ...RINGS, rate: 10, speed: 50, birthWidth: 2, deathWidth: 2, colour: red };
    // The first one is 30 pixels out on frame 6, the newest is on the outline.
    const at = async (colouring: string) => {
      const out = await render([element('rings', 'behind', 'near', { settings: { ...settings, colouring } })], 6);
      return [rgb(out, 70, 30), rgb(out, 45, 30)];
    };
    expect(await at('born')).toEqual([
      [1, 0, 0],
      [0, 1, 0],
    ]);
    expect(await at('now')).toEqual([
      [0, 1, 0],
      [0, 1, 0],
    ]);
  });

  const RINGS = { rate: 1, speed: 100, life: 1, birthWidth: 4, deathWidth: 4, fadeIn: 0, fadeOut: 0, softness: 0, glow: 0, colour: [1, 1, 1] };

  it('lie behind the subject as far from its outline as they have come', async () => {
    const out = await render([element('rings', 'behind', 'near', { settings: RINGS })], 2);
    const row = Array.from({ length: 80 }, (_, x) => red(out, x, 30));
    expect(row.findIndex((v) => v > 0.5)).toBe(58);
    expect(row.findLastIndex((v) => v > 0.5)).toBe(61);
  });

  it('keep the outline of their birth where they are asked to', async () => {
    const document = shot();
    const path = newPath('p', 0, [], true);
    const box = (x: number) => [corner(x, 0), corner(x + 10, 0), corner(x + 10, 60), corner(x, 60)];
    path.shape = { keys: [0, 10].map((frame) => ({ frame, value: box(frame * 2), ease: 'linear' as const })) };
    document.cast = [{ ...newSubject('near', 'Near'), parts: [newSpline('part', 'Part', [path])] }];
    const at = async (outline: string) => {
      const out = await render([element('rings', 'front', null, { of: 'near', settings: { ...RINGS, outline } })], 3, document);
      return Array.from({ length: 80 }, (_, x) => red(out, x, 30)).findLastIndex((v) => v > 0.5);
    };
    expect([await at('born'), await at('now')]).toEqual([41, 47]);
  });
});

describe('a line', () => {
  const line = (more: Record<string, number | string> = {}) =>
    element('line', 'front', null, { of: 'near-part', settings: { width: 4, glow: 0, colour: [1, 1, 1], ...more } });
  const sum = (p: Rgba) => {
    let total = 0;
    for (let i = 0; i < p.data.length; i += 4) total += p.data[i];
    return total;
  };
  /** A square of 20 in the middle of the picture, begun at its left top and going right. */
  const squared = (): ShotDocument => {
    const document = shot();
    document.cast[0].parts = [newSpline('near-part', 'Box', [newPath('p', 0, [corner(30, 20), corner(50, 20), corner(50, 40), corner(30, 40)], true)])];
    return document;
  };

  it('lies on its curve, as wide as it is', async () => {
    const out = await render([line()], 0, squared());
    expect([red(out, 40, 18), red(out, 40, 21), red(out, 40, 17), red(out, 40, 22), red(out, 40, 30)]).toEqual([1, 1, 0, 0, 0]);
    // Round corners leave out less than a pixel of each.
    expect(sum(out)).toBeGreaterThan(24 ** 2 - 16 ** 2 - 4);
  });

  it('has lines of its own, which are no matter of the cast, and takes them along with what it follows', async () => {
    const document = shot();
    document.cast = [];
    const own = {
      ...line(),
      of: null,
      drawn: [
        [corner(10, 10), corner(30, 10)],
        [corner(50, 20), corner(50, 40)],
      ],
    };
    const out = await render([own], 0, document);
    expect([red(out, 20, 10), red(out, 50, 30), red(out, 40, 10), red(out, 20, 30)]).toEqual([1, 1, 0, 0]);
    const track = newPointTrack({ id: 'track', name: 'Track', frame: 0, lines: 60 }, 20, 20);
    track.motion = { keys: [0, 10].map((f) => ({ frame: f, value: { at: [20 + f, 20 + 2 * f], quality: 1 }, ease: 'linear' as const })) };
    document.tracks.push(track);
    const led = { ...own, follow: { track: 'track', frame: 0, takes: ['position' as const] } };
    const later = await render([led], 5, document);
    expect([red(later, 25, 20), red(later, 55, 40), red(later, 20, 10)]).toEqual([1, 1, 0]);
    // What it is made from otherwise comes first.
    const other = await render([{ ...own, of: 'near-part' }], 0, squared());
    expect([red(other, 20, 10), red(other, 40, 20)]).toEqual([0, 1]);
  });

  it('draws itself along the curve', async () => {
    const out = await render([line({ to: 37.5 })], 0, squared());
    expect([red(out, 40, 19), red(out, 50, 25), red(out, 50, 35), red(out, 40, 40), red(out, 30, 30)]).toEqual([1, 1, 0, 0, 0]);
    expect((await render([line({ from: 40, to: 40 })], 0, squared())).data).toEqual((await render([], 0, squared())).data);
  });

  it('lies beside the curve, outwards whichever way round it goes, with square corners or round ones', async () => {
    const round = await render([line({ beside: 6 })], 0, squared());
    const square = await render([line({ beside: 6, corners: 'square' })], 0, squared());
    expect([red(round, 40, 13), red(round, 40, 26)]).toEqual([1, 0]);
    expect([red(round, 22, 12), red(square, 22, 12)]).toEqual([0, 1]);
    expect(sum(square)).toBeCloseTo(36 ** 2 - 28 ** 2, 0);
    const backwards = squared();
    backwards.cast[0].parts = [newSpline('near-part', 'Box', [newPath('p', 0, [corner(30, 20), corner(30, 40), corner(50, 40), corner(50, 20)], true)])];
    expect(sum(await render([line({ beside: 6, corners: 'square' })], 0, backwards))).toBeCloseTo(36 ** 2 - 28 ** 2, 0);
  });

  it('has solid round ends where it is open, and is cut off there with square corners', async () => {
    const open = shot();
    open.cast[0].parts = [newSpline('near-part', 'Line', [newPath('p', 0, [corner(30, 30), corner(50, 30)], false)])];
    const wide = { width: 12 };
    const round = await render([line(wide)], 0, open);
    // Beyond the end: solid up to the radius, nothing past it, and no corner.
    expect([52, 54, 57].map((x) => red(round, x, 30))).toEqual([1, 1, 0]);
    expect([red(round, 27, 30), red(round, 22, 30), red(round, 55, 25)]).toEqual([1, 0, 0]);
    expect(sum(round)).toBeCloseTo(20 * 12 + Math.PI * 36, 0);
    const square = await render([line({ ...wide, corners: 'square' })], 0, open);
    expect(sum(square)).toBeCloseTo(20 * 12, 0);
    // What draws itself ends flat until it is there.
    expect(sum(await render([line({ ...wide, to: 50 })], 0, open))).toBeCloseTo(10 * 12 + (Math.PI * 36) / 2, 0);
  });

  it('round a subject begins at the same place of it on every frame, or nearest to a place that is set', async () => {
    const document = shot();
    // A block with a peak that goes from its left end to its right end while the block crosses the picture: the top jumps, the block does not.
    const block = (x: number, peak: number) => [corner(x, 30), corner(x + peak, 30 - 4), corner(x + 24, 30), corner(x + 24, 50), corner(x, 50)];
    const path = newPath('p', 0, [], true);
    path.shape = { keys: [0, 10].map((frame) => ({ frame, value: block(10 + 3 * frame, frame === 0 ? 2 : 22), ease: 'linear' as const })) };
    document.cast[0].parts = [newSpline('near-part', 'Block', [path])];
    const begun = async (frame: number, more: Record<string, number | string> = {}) => {
      const out = await render([{ ...line({ to: 6, width: 3, ...more }), of: 'near' }], frame, document);
      const lit = Array.from({ length: SIZE.width * SIZE.height }, (_, p) => p).filter((p) => out.data[4 * p] > 0.9);
      return Math.min(...lit.map((p) => p % SIZE.width)) - 3 * frame;
    };
    const places = await Promise.all([0, 3, 5, 7, 10].map((f) => begun(f)));
    for (const place of places) expect(Math.abs(place - places[0])).toBeLessThan(4);
    expect(await begun(0, { begins: 'near', beginX: 34, beginY: 48 })).toBeGreaterThan(25);
  });

  it('goes round the matte of a subject where no curve is named', async () => {
    const out = await render([{ ...line({ beside: 5 }), of: 'near' }], 0, squared());
    expect([red(out, 40, 15), red(out, 55, 30), red(out, 40, 19)]).toEqual([1, 1, 0]);
  });

  it('lies beside the outlines of holes within them', async () => {
    const document = squared();
    const box = (a: number, b: number) => newPath(`p${a}`, 0, [corner(a, a - 10), corner(b, a - 10), corner(b, b - 10), corner(a, b - 10)], true);
    document.cast[0].parts = [newSpline('near-part', 'Frame', [box(15, 65), box(30, 50)])];
    const out = await render([{ ...line({ beside: 4 }), of: 'near' }], 0, document);
    // The hole goes from 30 to 50 across and from 20 to 40 down.
    expect([red(out, 34, 30), red(out, 27, 30), red(out, 10, 30), red(out, 18, 30)]).toEqual([1, 0, 1, 0]);
  });

  it('glows as strongly at its side as it is asked to, and less farther away', async () => {
    const out = await render([line({ glow: 4, glowStrength: 60 })], 0, squared());
    const [near, far] = [red(out, 40, 16), red(out, 40, 10)];
    expect(near).toBeGreaterThan(0.3);
    expect(near).toBeLessThan(0.6);
    expect(far).toBeLessThan(near / 3);
  });
});

describe('effects of an element', () => {
  const own = (effect: string, settings: Record<string, number | number[]> = {}, more: Partial<ElementEffect> = {}): ElementEffect => {
    const made = newElementEffect(`own-${effect}`, effect, SIZE);
    const set = Object.entries(settings).map(([k, v]) => [k, { constant: v }]);
    return { ...made, ...more, settings: { ...made.settings, ...Object.fromEntries(set) } };
  };
  /** A white card of 20 by 20 in the middle, in front of a plate that is black on frame 0. */
  const card = (...effects: ElementEffect[]) => element('card', 'front', null, { settings: { width: 20, height: 20, ...WHITE }, effects });
  const SOLID = { colour: [0.5, 0.25, 0] };

  it('change it alone, within its own alpha where they do not reach beyond', async () => {
    const picture = await render([card(own('solid', SOLID))]);
    expect(rgb(picture, 40, 30)).toEqual([0.5, 0.25, 0]);
    expect(rgb(picture, 29, 30)).toEqual([0, 0, 0]);
  });

  it('reach beyond it where they say so, as a plain blur of its layer does', async () => {
    const picture = await render([card(own('gaussian-blur', { x: 3, y: 0 }))]);
    // 20 pixels of 1 under the sampled kernel, which is cut at three sigma.
    const weights = Array.from({ length: 19 }, (_, i) => Math.exp(-((i - 9) ** 2) / 18));
    const total = weights.reduce((a, b) => a + b);
    const expected = (x: number) => weights.reduce((sum, w, i) => sum + (x + i - 9 >= 30 && x + i - 9 < 50 ? w : 0), 0) / total;
    for (const x of [24, 27, 30, 33, 40, 49, 52, 57]) expect(Math.abs(red(picture, x, 30) - expected(x))).toBeLessThan(1 / 512);
  });

  it('go in their order, by their mix, and not at all where they are off or unknown', async () => {
    const grey = own('monochrome');
    const at = async (...effects: ElementEffect[]) => rgb(await render([card(...effects)]), 40, 30);
    const [lit, last] = [await at(own('solid', SOLID), grey), await at(grey, own('solid', SOLID))];
    expect(lit[0]).toBe(lit[1]);
    expect(last).toEqual([0.5, 0.25, 0]);
    expect(await at(own('solid', SOLID, { mix: { constant: 0.5 } }))).toEqual([0.75, 0.625, 0.5]);
    expect(await at(own('solid', SOLID, { enabled: false }), { ...own('solid'), effect: 'of-later' })).toEqual([1, 1, 1]);
  });
});
