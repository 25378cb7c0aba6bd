/** Elements between ends, of noise, of shapes and of shadows: what they show, against figures that can be worked out. */
import { describe, expect, it } from 'vitest';
import { renderPicture } from '../compose/render-picture.ts';
import { applyChange } from '../document/edits.ts';
import { newSpline } from '../document/part-kinds/spline.ts';
import { newDocument, newPath, newPointTrack, newSubject } from '../document/records.ts';
import type { Element, Lane, LaneItem, Setting, ShotDocument } from '../document/schema.ts';
import { newLaneEffect } from '../effects/lane-effect.ts';
import { newRgba, type Rgba, type Size } from '../image/picture.ts';
import { NO_IMPORTS, type Sources } from '../matte/sources.ts';
import { corner } from '../path/path.ts';
import { newElement } from './index.ts';

const SIZE = { width: 80, height: 60 };
const flat = ({ width, height }: Size, colour: number[]): Rgba => {
  const out = newRgba(width, height);
  for (let i = 0; i < out.data.length; i += 4) out.data.set(colour, i);
  return out;
};
/** A black plate; footage whose green goes from left to right and whose red tells its frame. */
const sources: Sources = {
  ...NO_IMPORTS,
  plate: async (_frame, size) => flat(size, [0, 0, 0, 1]),
  footage: async (_footage, frame, size) => {
    const out = flat(size, [frame / 100, 0, 0, 1]);
    for (let y = 0; y < size.height; y++) for (let x = 0; x < size.width; x++) out.data[(y * size.width + x) * 4 + 1] = (x + 0.5) / size.width;
    return out;
  },
};
/** "Near" is a box from (30, 20) to (50, 50). */
function shot(): ShotDocument {
  const document = newDocument('Test', { ...SIZE, frames: 30, rate: { num: 10, den: 1 }, firstNumber: 0 });
  const path = newPath('near-path', 0, [corner(30, 20), corner(50, 20), corner(50, 50), corner(30, 50)], true);
  document.cast.push({ ...newSubject('near', 'Near'), parts: [newSpline('near-part', 'Near', [path])] });
  return document;
}
type More = Omit<Partial<Element>, 'settings'> & { settings?: Record<string, number | number[] | string | Setting> };
function element(kind: string, lane: Lane, { settings = {}, ...more }: More = {}): Element {
  const made = newElement(shot(), `an-${kind}`, lane, lane === 'front' || lane === 'backdrop' ? null : 'near', kind);
  const own = Object.entries(settings).map(([k, v]) => [k, typeof v === 'object' && !Array.isArray(v) ? v : { constant: v }]);
  return { ...made, ...more, settings: { ...made.settings, ...Object.fromEntries(own) } };
}
const footage = { id: 'f', ...SIZE, frames: 20, alpha: false };
const render = (lanes: ShotDocument['lanes'], frame = 0, size: Size = SIZE, document = shot()) => renderPicture({ ...document, lanes }, frame, sources, size);
const rgb = (p: Rgba, x: number, y: number) => [...p.data.subarray((y * p.width + x) * 4, (y * p.width + x) * 4 + 3)].map((v) => Math.round(v * 1000) / 1000);
const keyed = (...values: [number, number][]) => ({ keys: values.map(([frame, value]) => ({ frame, value, ease: 'linear' as const })) });

describe('a gradient', () => {
  const colours = [0, 1, 0, 0, 1, 0.5, 0, 1, 0, 1, 1, 0, 0, 1, 0];
  const between = (settings: object) => render([element('gradient', 'front', { settings: { fromX: 10, fromY: 30, toX: 70, toY: 30, colours, ...settings } })]);
  it('goes through its stops from end to end, see-through where they are, and holds beyond', async () => {
    const p = await between({});
    expect(rgb(p, 40, 10)).toEqual([expect.closeTo(0, 1), expect.closeTo(1, 1), expect.closeTo(0, 1)]);
    expect(rgb(p, 25, 50)).toEqual([expect.closeTo(0.5, 1), expect.closeTo(0.5, 1), 0]);
    expect(rgb(p, 2, 30)).toEqual([1, 0, 0]);
    // A half of green and a half of blue that is half there, over black: its alpha is between too.
    expect(rgb(p, 54, 30)[1]).toBeCloseTo(0.25, 1);
    expect(rgb(p, 78, 30)).toEqual([0, 0, 0]);
  });
  it('goes outwards, round, again and back', async () => {
    expect(rgb(await between({ form: 'radial' }), 10, 58)[1]).toBeGreaterThan(0.9);
    const round = await between({ form: 'round', fromX: 40, toX: 50 });
    expect([rgb(round, 60, 31)[0] > 0.9, rgb(round, 20, 30)[1] > 0.9]).toEqual([true, true]);
    expect(rgb(await between({ fromX: 0, toX: 20, repeats: 'again' }), 50, 30)[1]).toBeCloseTo(1, 0);
    expect(rgb(await between({ fromX: 0, toX: 20, repeats: 'mirror' }), 39, 30)[0]).toBeGreaterThan(0.9);
  });
});

describe('a beam', () => {
  const beam = (settings = {}, more: More = {}) =>
    element('beam', 'front', {
      ...more,
      settings: { fromX: 20, fromY: 30, toX: 60, toY: 30, width: 6, lastWidth: 6, softness: 0, glow: 0, core: [1, 1, 1], ...settings },
    });
  it('is as wide as it is told, from end to end, and shoots out', async () => {
    const p = await render([beam()]);
    expect([rgb(p, 40, 27)[0], rgb(p, 40, 32)[0], rgb(p, 40, 25)[0], rgb(p, 40, 34)[0], rgb(p, 8, 30)[0], rgb(p, 72, 30)[0]]).toEqual([1, 1, 0, 0, 0, 0]);
    const half = await render([beam({ finish: 50 })]);
    expect([rgb(half, 30, 30)[0], rgb(half, 50, 30)[0]]).toEqual([1, 0]);
    const thin = await render([beam({ lastWidth: 0 })]);
    expect([rgb(thin, 24, 28)[0] > 0.4, rgb(thin, 55, 28)[0]]).toEqual([true, 0]);
  });
  it('sheds light of its own colour, less far off', async () => {
    const p = await render([beam({ glow: 6, glowColour: [0, 0, 1], glowStrength: 100 })]);
    expect(rgb(p, 40, 36)[0]).toBe(0);
    expect(rgb(p, 40, 36)[2]).toBeGreaterThan(rgb(p, 40, 42)[2]);
    expect(rgb(p, 40, 42)[2]).toBeGreaterThan(0);
  });
  it('has ends that are fixed each to something of its own, and lets go of what is taken away', async () => {
    const document = shot();
    const track = newPointTrack({ id: 'track', name: 'Prop', frame: 0, lines: 60 }, 60, 30);
    track.motion = { keys: [0, 10].map((f) => ({ frame: f, value: { at: [60, 30 + f], quality: 1 }, ease: 'linear' as const })) };
    document.tracks.push(track);
    document.lanes = [beam({}, { pins: { toX: { track: 'track', frame: 0, takes: ['position'] } } })];
    const p = await render(document.lanes, 10, SIZE, document);
    // From (20, 30) to (60, 40): its middle is 5 lower, its first end is where it was.
    expect([rgb(p, 40, 35)[0], rgb(p, 40, 30)[0], rgb(p, 22, 30)[0]]).toEqual([1, 0, 1]);
    expect(() => applyChange(document, [{ kind: 'remove', id: 'track' }])).toThrow('follows something that is not in this shot');
    expect(() =>
      applyChange(document, [{ kind: 'assign', id: 'an-beam', values: { pins: { toX: { track: 'an-beam', frame: 0, takes: ['position'] } } } }]),
    ).toThrow('would follow itself');
  });
});

describe('a wipe', () => {
  const wipe = (settings = {}, more: More = {}) =>
    element('wipe', 'front', { footage, ...more, settings: { fromX: 0, fromY: 30, toX: 80, toY: 30, softness: 0, ...settings } });
  it('shows footage where it has been, as far as it is done, softly', async () => {
    const p = await render([wipe({ done: 50 })], 10);
    expect(rgb(p, 20, 10)).toEqual([0.1, expect.closeTo(20.5 / 80, 2), 0]);
    expect(rgb(p, 60, 10)).toEqual([0, 0, 0]);
    const soft = await render([wipe({ done: 50, softness: 40 })], 10);
    expect(rgb(soft, 40, 10)[0]).toBeCloseTo(0.05, 2);
    expect(rgb(soft, 30, 10)[0]).toBeGreaterThan(0.06);
    expect(rgb(await render([wipe({ done: 50, side: 'rest' })], 10), 60, 10)[0]).toBeCloseTo(0.1, 3);
    const covered = async (done: number) => (await render([wipe({ done })], 10)).data.filter((v, i) => i % 4 === 0 && v > 0.05).length;
    expect([await covered(0), await covered(25), await covered(50), await covered(100)]).toEqual([0, 1200, 2400, 4800]);
  });
  it('at any angle, as a circle, as a hand of a clock, and as an outline that grows', async () => {
    const down = await render([wipe({ fromX: 40, fromY: 0, toX: 40, toY: 60 })], 10);
    expect([rgb(down, 70, 20)[0], rgb(down, 10, 40)[0]]).toEqual([0.1, 0]);
    const circle = await render([wipe({ form: 'circle', fromX: 40, fromY: 30, toX: 60, toY: 30, done: 100 })], 10);
    expect([rgb(circle, 57, 30)[0], rgb(circle, 63, 30)[0], rgb(circle, 40, 48)[0]]).toEqual([0.1, 0, 0.1]);
    const clock = await render([wipe({ form: 'clock', fromX: 40, fromY: 30, toX: 60, toY: 30, done: 25 })], 10);
    expect([rgb(clock, 60, 50)[0], rgb(clock, 20, 50)[0], rgb(clock, 60, 10)[0]]).toEqual([0.1, 0, 0]);
    const grown = async (done: number) => render([wipe({ form: 'shape', done, toX: 30 }, { of: 'near' })], 10);
    const [less, same, more] = [await grown(40), await grown(50), await grown(60)];
    expect([rgb(same, 31, 35)[0], rgb(same, 28, 35)[0], rgb(less, 33, 35)[0], rgb(less, 40, 35)[0], rgb(more, 26, 35)[0]]).toEqual([0.1, 0, 0, 0.1, 0.1]);
  });
  it('without footage is white: the matte of something else', async () => {
    const matte = { ...wipe({ done: 50 }, { footage: null }), enabled: false };
    const card = element('card', 'front', { matteOf: 'an-wipe', settings: { width: 200, height: 200, colours: '1', colour1: [0, 1, 0] } });
    const p = await render([matte, card]);
    expect([rgb(p, 20, 10), rgb(p, 60, 10)]).toEqual([
      [0, 1, 0],
      [0, 0, 0],
    ]);
  });
});

describe('in linear light', () => {
  it('footage that is wiped in and a clean plate have the values that they have in the plate’s own', async () => {
    const document: ShotDocument = { ...shot(), light: 'linear' };
    const wipe = element('wipe', 'front', { footage, settings: { done: 100, softness: 0 } });
    const p = await render([wipe], 10, SIZE, document);
    expect(rgb(p, 20, 10)).toEqual([expect.closeTo(0.1, 2), expect.closeTo(20.5 / 80, 2), 0]);
    const grey: Sources = { ...sources, plate: async (_frame, size) => flat(size, [0.4, 0.4, 0.4, 1]) };
    const clean = await renderPicture({ ...document, lanes: [element('clean', 'inside')] }, 0, grey, SIZE);
    expect(rgb(clean, 10, 10)[0]).toBeCloseTo(0.4, 2);
    expect(rgb(clean, 40, 35)[0]).toBeCloseTo(0.4, 2);
  });
});

describe('a matte in linear light', () => {
  it('is told by the values that it has in the plate’s own', async () => {
    const document: ShotDocument = { ...shot(), light: 'linear' };
    const white = { settings: { width: 200, height: 200, colours: '1', colour1: [1, 1, 1] } };
    const alpha = async (more: More) => {
      const p = await render([element('card', 'front', { ...white, ...more, settings: { ...white.settings, ...more.settings } })], 0, SIZE, document);
      // White over black: in linear light its alpha is the light of it.
      return (rgb(p, 60, 30)[0] as number) ** 2.2;
    };
    expect(await alpha({ matteFootage: footage, settings: { matteChannel: 'green' } })).toBeCloseTo(60.5 / 80, 1);
  });
});

describe('a matte of an item', () => {
  const card = (more: More = {}) =>
    element('card', 'front', { ...more, settings: { width: 200, height: 200, colours: '1', colour1: [1, 1, 1], ...more.settings } });
  const green = { matteFootage: footage, settings: { matteChannel: 'green' } };
  it('is a channel of footage, inverted, between levels, through a curve', async () => {
    const at = async (more: More, x: number) => rgb(await render([card(more)]), x, 30)[0];
    expect(await at(green, 20)).toBeCloseTo(20.5 / 80, 2);
    expect(await at({ ...green, settings: { ...green.settings, matteInverted: 'dark' } }, 20)).toBeCloseTo(1 - 20.5 / 80, 2);
    expect(await at({ ...green, settings: { ...green.settings, matteBlack: 50 } }, 60)).toBeCloseTo((60.5 / 80 - 0.5) * 2, 2);
    expect(await at({ ...green, settings: { ...green.settings, matteCurve: [0, 1, 1, 0] } }, 20)).toBeCloseTo(1 - 20.5 / 80, 2);
    expect(await at({ ...green, settings: { matteChannel: 'luma' } }, 60)).toBeCloseTo((0.7152 * 60.5) / 80, 2);
  });
  it('holds, ends, begins again: on a still for as long as wanted', async () => {
    const red = (settings: object) => ({ matteFootage: footage, settings: { matteChannel: 'red', ...settings } });
    const at = async (settings: object, frame: number) => rgb(await render([card(red(settings))], frame), 10, 30)[0];
    expect([
      await at({}, 10),
      await at({}, 25),
      await at({ matteEnds: 'nothing' }, 25),
      await at({ matteEnds: 'repeat' }, 25),
      await at({ matteStart: 5 }, 10),
    ]).toEqual([0.1, 0.19, 0, 0.05, 0.05]);
  });
  it('says how strong an effect is at each pixel, on a lane and on one element', async () => {
    const solid = { ...newLaneEffect('solid', 'front', null, 'solid'), matteFootage: footage };
    solid.settings = { ...solid.settings, colour: { constant: [0, 0, 1] }, matteChannel: { constant: 'green' } };
    expect(rgb(await render([solid]), 20, 30)[2]).toBeCloseTo(20.5 / 80, 2);
    const own = { ...solid, id: 'own', type: 'element-effect' as const };
    const p = await render([
      card({
        effects: [
          {
            id: 'own',
            type: 'element-effect',
            effect: 'solid',
            enabled: true,
            mix: own.mix,
            blend: 'normal',
            matteOf: null,
            matteFootage: footage,
            settings: solid.settings,
          },
        ],
      }),
    ]);
    expect(rgb(p, 20, 30)).toEqual([expect.closeTo(1 - 20.5 / 80, 2), expect.closeTo(1 - 20.5 / 80, 2), 1]);
  });
  it('is a subject, and refuses to be its own by way of others', async () => {
    const p = await render([card({ matteOf: 'near' })]);
    expect([rgb(p, 40, 30)[0], rgb(p, 10, 30)[0]]).toEqual([1, 0]);
    const document = { ...shot(), lanes: [card({ id: 'a' }), card({ id: 'b', matteOf: 'a' })] };
    expect(() => applyChange(document, [{ kind: 'assign', id: 'a', values: { matteOf: 'b' } }])).toThrow('would be its own');
    expect(() => applyChange(document, [{ kind: 'assign', id: 'a', values: { matteOf: 'gone' } }])).toThrow('not in this shot');
  });
});

describe('a shape', () => {
  it('is filled and has a line round it, each as strong as it is told', async () => {
    const shape = (settings = {}) => element('shape', 'front', { of: 'near-part', settings: { fill: [1, 0, 0], stroke: [0, 1, 0], width: 4, ...settings } });
    const p = await render([shape()]);
    expect([rgb(p, 40, 35), rgb(p, 30, 35), rgb(p, 26, 35)]).toEqual([
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 0],
    ]);
    const faint = await render([shape({ fillAlpha: 50, strokeAlpha: 0 })]);
    expect([rgb(faint, 40, 35), rgb(faint, 30, 35)]).toEqual([
      [0.5, 0, 0],
      [0.5, 0, 0],
    ]);
  });
});

describe('noise', () => {
  const noise = (settings = {}) => element('noise', 'front', { settings: { size: 20, colours: [0, 0, 0, 0, 1, 1, 1, 1, 1, 1], change: 0, ...settings } });
  const pixels = (p: Rgba) => Array.from({ length: p.width * p.height }, (_, i) => p.data[4 * i]);
  it('is seeded, changes and rises at constant rates, and is as large at every size of the picture', async () => {
    const p = await render([noise()]);
    expect(pixels(await render([noise()], 9))).toEqual(pixels(p));
    expect(pixels(await render([noise({ seed: 2 })]))).not.toEqual(pixels(p));
    expect(pixels(await render([noise({ change: 1 })], 9))).not.toEqual(pixels(p));
    // 10 px a second for a second.
    const risen = await render([noise({ rise: 10 })], 10);
    for (let y = 10; y < 60; y += 7) expect(rgb(risen, 33, y - 10)[0]).toBeCloseTo(rgb(p, 33, y)[0], 5);
    const small = await render([noise()], 0, { width: 40, height: 30 });
    expect(Math.abs(rgb(small, 20, 15)[0] - (rgb(p, 40, 30)[0] + rgb(p, 41, 31)[0]) / 2)).toBeLessThan(0.05);
  });
  it('is black under one bound and white above the other, keeps to its field, and thins upwards', async () => {
    const hard = pixels(await render([noise({ low: 50, high: 50 })]));
    expect(hard.filter((v) => v > 0.02 && v < 0.98).length).toBeLessThan(0.02 * hard.length);
    expect(hard.some((v) => v > 0.98)).toBe(true);
    const field = await render([noise({ width: 40, height: 20, low: 0, high: 1 })]);
    expect([rgb(field, 40, 30)[0], rgb(field, 15, 30)[0], rgb(field, 40, 15)[0]]).toEqual([1, 0, 0]);
    const rows = (p: Rgba, from: number, to: number) =>
      pixels(p)
        .slice(from * 80, to * 80)
        .reduce((s, v) => s + v, 0);
    const thin = await render([noise({ thins: 100 })]);
    expect(rows(thin, 0, 15)).toBeLessThan(0.5 * rows(thin, 45, 60));
  });
});

describe('lids', () => {
  const lids = (settings = {}, more: More = {}) =>
    element('lids', 'front', {
      ...more,
      settings: {
        x: 40,
        y: 30,
        width: 40,
        height: 40,
        bow: 0,
        softness: 0,
        begins: 20,
        closing: 20,
        closed: 20,
        opening: 20,
        colours: [0, 1, 1, 1, 1],
        ...settings,
      },
    });
  const whites = async (item: Element, frame: number, document = shot()) => {
    const p = await render([item], frame, SIZE, document);
    return p.data.filter((v, i) => i % 4 === 0 && v > 0.5).length;
  };
  it('close and open in proportion to how long they live, without a key', async () => {
    // The shot has 30 frames: closing from 5.8 to 11.6, closed to 17.4, open at 23.2.
    const counts = await Promise.all([0, 5, 9, 12, 16, 20, 24, 29].map((f) => whites(lids(), f)));
    expect(counts.map((n) => Math.round(n / 160))).toEqual([0, 0, expect.any(Number), 10, 10, expect.any(Number), 0, 0]);
    expect([counts[2] > 200 && counts[2] < 1400, counts[5] > 200 && counts[5] < 1400]).toEqual([true, true]);
    // A shot of twice the frames, or a life of half of them: the same at the same share.
    const long = shot();
    long.plate.frames = 59;
    expect(await whites(lids(), 18, long)).toBe(counts[2]);
    expect(await whites(lids({}, { lives: [{ first: 10, last: 24 }] }), 16)).toBeGreaterThan(1500);
  });
  it('close only, open only, not all the way, again and again, from one side, at an angle, as an oval', async () => {
    expect(await whites(lids({ moves: 'close' }), 29)).toBe(1600);
    expect([await whites(lids({ moves: 'open' }), 0), await whites(lids({ moves: 'open' }), 29)]).toEqual([1600, 0]);
    expect(await whites(lids({ far: 50 }), 14)).toBe(800);
    const twice = { begins: 0, closing: 10, closed: 10, opening: 10, pause: 20, times: 2 };
    expect(await Promise.all([4, 12, 19, 26].map(async (f) => (await whites(lids(twice), f)) > 1500))).toEqual([true, false, true, false]);
    const half = await render([lids({ far: 50, share: 100 })], 14);
    expect([rgb(half, 40, 14)[0], rgb(half, 40, 45)[0]]).toEqual([1, 0]);
    const side = await render([lids({ far: 50, share: 100, lean: 90 })], 14);
    expect([rgb(side, 55, 30)[0], rgb(side, 25, 30)[0]]).toEqual([1, 0]);
    expect(Math.abs((await whites(lids({ form: 'oval' }), 14)) - Math.PI * 400)).toBeLessThan(20);
  });
});

describe('a clean plate', () => {
  /** A wall of stripes, before which a white box goes from left to right; its matte is known. */
  const wall = (x: number) => 0.2 + 0.5 * ((x >> 2) % 2);
  const moving: Sources = {
    ...sources,
    plate: async (frame, { width, height }) => {
      const out = newRgba(width, height);
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          const inBox = x >= 2 * frame && x < 2 * frame + 20 && y >= 20 && y < 40;
          out.data.set(inBox ? [1, 1, 1, 1] : [wall(x), wall(x), 0, 1], 4 * (y * width + x));
        }
      return out;
    },
  };
  const document = (): ShotDocument => {
    const made = shot();
    const at = (dx: number) => [corner(dx, 20), corner(20 + dx, 20), corner(20 + dx, 40), corner(dx, 40)];
    const path = newPath('box-path', 0, at(0), true);
    path.shape = { keys: [0, 29].map((frame) => ({ frame, value: at(2 * frame), ease: 'linear' as const })) };
    made.cast = [{ ...newSubject('near', 'Box'), parts: [newSpline('box-part', 'Box', [path])] }];
    return made;
  };
  const clean = (settings = {}) => element('clean', 'inside', { settings: { margin: 1, ...settings } });

  it('shows what is behind a subject from frames on which that is elsewhere, and nothing of it is left', async () => {
    for (const how of ['median', 'mean', 'best'])
      for (const frame of [0, 14, 29]) {
        const p = await renderPicture({ ...document(), lanes: [clean({ how })] }, frame, moving, SIZE);
        for (let x = 0; x < 80; x++) expect([how, frame, x, rgb(p, x, 30)[0]]).toEqual([how, frame, x, expect.closeTo(wall(x), 2)]);
      }
  });

  it('shows nothing where no frame does, and looks at the frames that it is told', async () => {
    const p = await renderPicture({ ...document(), lanes: [clean({ first: 0, last: 2 })] }, 0, moving, SIZE);
    // Seen on none of the frames 0 to 2: the plate stays.
    expect(rgb(p, 10, 30)[0]).toBe(1);
    const whole = await renderPicture({ ...document(), lanes: [clean({ first: 0, last: 29, looks: 2 })] }, 0, moving, SIZE);
    expect(rgb(whole, 10, 30)[0]).toBeCloseTo(wall(10), 2);
  });

  it('goes along with a camera by a track', async () => {
    const made = document();
    // The camera goes to the right by a pixel a frame: the wall goes to the left, and the track with it.
    const panning: Sources = {
      ...moving,
      plate: async (frame, size) => {
        const out = newRgba(size.width, size.height);
        for (let y = 0; y < size.height; y++)
          for (let x = 0; x < size.width; x++) {
            const inBox = x >= 2 * frame && x < 2 * frame + 20 && y >= 20 && y < 40;
            const v = wall(x + frame + 400);
            out.data.set(inBox ? [1, 1, 1, 1] : [v, v, 0, 1], 4 * (y * size.width + x));
          }
        return out;
      },
    };
    const track = newPointTrack({ id: 'track', name: 'Wall', frame: 0, lines: 60 }, 60, 10);
    track.motion = { keys: [0, 29].map((f) => ({ frame: f, value: { at: [60 - f, 10], quality: 1 }, ease: 'linear' as const })) };
    made.tracks.push(track);
    const item = { ...clean(), follow: { track: 'track', frame: 0, takes: ['position' as const] } };
    for (const frame of [4, 10]) {
      const p = await renderPicture({ ...made, lanes: [item] }, frame, panning, SIZE);
      for (let x = 2 * frame + 2; x < 2 * frame + 18; x++) expect([frame, x, rgb(p, x, 30)[0]]).toEqual([frame, x, expect.closeTo(wall(x + frame + 400), 1)]);
    }
  });
});

describe('a patch', () => {
  /** Every pixel of a frame says where and when it is: red its column, green its row, blue the frame. */
  const told: Sources = {
    ...sources,
    plate: async (frame, { width, height }) => {
      const out = newRgba(width, height);
      for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) out.data.set([x / 100, y / 100, frame / 100, 1], 4 * (y * width + x));
      return out;
    },
  };
  const patch = (settings: object, more: object = {}) =>
    element('patch', 'front', { subject: null, drawn: [[corner(20, 30), corner(50, 30)]], settings: { width: 10, softness: 0, ...settings }, ...more });
  const at = async (item: LaneItem, frame: number, x: number, y: number, made = shot()) =>
    rgb(await renderPicture({ ...made, lanes: [item] }, frame, told, SIZE), x, y).map((v) => Math.round(100 * v));

  it('shows along its lines the same place on another frame, and nothing elsewhere', async () => {
    const item = patch({ takes: 'frame', frame: 17 });
    expect(await at(item, 3, 30, 30)).toEqual([30, 30, 17]);
    expect(await at(item, 3, 30, 34)).toEqual([30, 34, 17]);
    expect(await at(item, 3, 30, 36)).toEqual([30, 36, 3]);
    expect(await at(item, 3, 58, 30)).toEqual([58, 30, 3]);
  });

  it('takes a frame so many away, the first or the last where there are no more', async () => {
    const item = patch({ takes: 'away', away: -8 });
    expect(await at(item, 20, 30, 30)).toEqual([30, 30, 12]);
    expect(await at(item, 3, 30, 30)).toEqual([30, 30, 0]);
  });

  it('shows the place beside it', async () => {
    const item = patch({ takes: 'away', away: 0, shiftX: 12, shiftY: -7 });
    expect(await at(item, 5, 30, 30)).toEqual([42, 23, 5]);
  });

  it('goes with a track, and shows what was there as that moved', async () => {
    const made = shot();
    const track = newPointTrack({ id: 'track', name: 'Wall', frame: 0, lines: 60 }, 30, 30);
    track.motion = { keys: [0, 29].map((f) => ({ frame: f, value: { at: [30 + f, 30], quality: 1 }, ease: 'linear' as const })) };
    made.tracks.push(track);
    const item = patch({ takes: 'frame', frame: 4 }, { follow: { track: 'track', frame: 0, takes: ['position' as const] } });
    // On frame 14 the line lies 14 to the right; what is under it lay 10 more to the left on frame 4.
    expect(await at(item, 14, 44, 30, made)).toEqual([34, 30, 4]);
    expect(await at(item, 14, 25, 30, made)).toEqual([25, 30, 14]);
  });

  it('fades as softly as asked for, and fills a closed curve', async () => {
    const soft = await at(patch({ takes: 'frame', frame: 90, softness: 12 }), 0, 35, 35);
    expect(soft[2]).toBeGreaterThan(10);
    expect(soft[2]).toBeLessThan(80);
    const made = shot();
    const path = newPath('area', 0, [corner(10, 10), corner(40, 10), corner(40, 40), corner(10, 40)], true);
    made.cast.push({ ...newSubject('place', 'Place'), parts: [newSpline('place-part', 'Place', [path])] });
    const filled = patch({ takes: 'frame', frame: 9 }, { drawn: [], of: 'place-part' });
    expect(await at(filled, 0, 25, 25, made)).toEqual([25, 25, 9]);
    expect(await at(filled, 0, 45, 25, made)).toEqual([45, 25, 0]);
  });
});

describe('a clean plate of a camera that moves', () => {
  const WIDE = { width: 128, height: 96 };
  /** Something without a period: smooth bumps of many sizes, at a place of the world. */
  const world = (x: number, y: number): number => {
    let v = 0.5;
    for (const [fx, fy, shift] of [
      [0.31, 0.13, 0.2],
      [0.11, 0.37, 1.7],
      [0.53, 0.29, 3.1],
      [0.07, 0.05, 0.9],
    ])
      v += 0.11 * Math.sin(fx * x + fy * y + shift) * Math.cos(fy * x - fx * y + shift);
    return v;
  };
  /** The camera goes right and down, turns and comes nearer: where a place of a frame is in the world. */
  const inWorld = (frame: number, x: number, y: number): [number, number] => {
    const [turn, size] = [0.004 * frame, 1 - 0.003 * frame];
    const [dx, dy] = [x - 64, y - 48];
    return [64 + size * (dx * Math.cos(turn) - dy * Math.sin(turn)) + 1.3 * frame, 48 + size * (dx * Math.sin(turn) + dy * Math.cos(turn)) + 0.6 * frame];
  };
  const boxAt = (frame: number) => 10 + 3 * frame;
  const handheld: Sources = {
    ...sources,
    plate: async (frame, { width, height }) => {
      const out = newRgba(width, height);
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          const inBox = x >= boxAt(frame) && x < boxAt(frame) + 24 && y >= 40 && y < 70;
          const v = world(...inWorld(frame, x + 0.5, y + 0.5));
          out.data.set(inBox ? [1, 0, 0, 1] : [v, v, v, 1], 4 * (y * width + x));
        }
      return out;
    },
  };

  it.each(['median', 'best'])('is laid along its motion, which is found, and moves with it (%s)', async (how) => {
    const document = newDocument('Handheld', { ...WIDE, frames: 25, rate: { num: 24, den: 1 }, firstNumber: 0 });
    const at = (frame: number) => {
      const left = boxAt(frame);
      return [corner(left, 40), corner(left + 24, 40), corner(left + 24, 70), corner(left, 70)];
    };
    const path = newPath('box', 0, [], true);
    path.shape = { keys: [0, 24].map((frame) => ({ frame, value: at(frame), ease: 'linear' as const })) };
    document.cast = [{ ...newSubject('near', 'Box'), parts: [newSpline('part', 'Box', [path])] }];
    const far = async (camera: string, frame: number) => {
      const item = element('clean', 'inside', { settings: { margin: 2, how, camera, looks: 9 } });
      const { data } = await renderPicture({ ...document, lanes: [item] }, frame, handheld, WIDE);
      let [sum, n] = [0, 0];
      for (let y = 44; y < 66; y++)
        for (let x = boxAt(frame) + 3; x < Math.min(124, boxAt(frame) + 21); x++) {
          sum += Math.abs(data[4 * (y * WIDE.width + x)] - world(...inWorld(frame, x + 0.5, y + 0.5)));
          n++;
        }
      return sum / n;
    };
    for (const frame of [3, 11, 17]) {
      expect(await far('moves', frame), `frame ${frame}`).toBeLessThan(0.025);
      // What it is worth: frames laid on one another as they are show something else.
      expect(await far('still', frame), `frame ${frame}, still`).toBeGreaterThan(0.06);
    }
  });
});

describe('a shadow', () => {
  const shadow = (settings = {}) =>
    element('shadow', 'behind', { settings: { colour: [1, 1, 1], strength: 100, softness: 0, softer: 0, fades: 0, contact: 0, ground: 0, ...settings } });
  it('falls in its direction, as long as it is told, behind the subject', async () => {
    // To the right and down by 45 degrees, as long as the subject is high: its top right corner comes to (50 + 30 / √2, 50 + 30 / √2).
    const p = await render([shadow({ direction: 45, length: 30 })]);
    expect([rgb(p, 52, 54)[0], rgb(p, 26, 54)[0], rgb(p, 40, 35)[0], rgb(p, 66, 54)[0]]).toEqual([1, 0, 0, 0]);
    const up = await render([shadow({ direction: -45, length: 100 })]);
    expect([rgb(up, 60, 35)[0], rgb(up, 25, 35)[0]]).toEqual([1, 0]);
  });
  it('is softer and weaker far off, and dark where the subject stands', async () => {
    const far = await render([shadow({ direction: -20, length: 100, softer: 16, fades: 50 })]);
    expect(rgb(far, 66, 41)[0]).toBeLessThan(0.7);
    expect(rgb(far, 53, 47)[0]).toBeGreaterThan(rgb(far, 66, 41)[0] + 0.1);
    const touch = await render([shadow({ length: 0, contact: 100, contactHeight: 6, contactSoftness: 3 })]);
    expect(rgb(touch, 40, 51)[0]).toBeGreaterThan(0.3);
    expect(rgb(touch, 40, 58)[0]).toBeLessThan(0.05);
  });
});

describe('the rim', () => {
  it('is the band along the edge, inwards and outwards by its own widths, of elements and of effects', async () => {
    const document = shot();
    document.cast[0].rim = { inner: { constant: 4 }, outer: keyed([0, 2], [10, 8]), softness: { constant: 0 } };
    const card = element('card', 'rim', { settings: { width: 200, height: 200, colours: '1', colour1: [1, 1, 1] } });
    const at = async (lanes: ShotDocument['lanes'], x: number, frame = 0) => rgb(await render(lanes, frame, SIZE, document), x, 35)[0];
    expect([await at([card], 32), await at([card], 28), await at([card], 36), await at([card], 26), await at([card], 26, 10)]).toEqual([1, 1, 0, 0, 1]);
    const solid = newLaneEffect('s', 'rim', 'near', 'solid');
    solid.settings.colour = { constant: [1, 1, 1] };
    expect([await at([solid], 32), await at([solid], 28), await at([solid], 36), await at([solid], 24)]).toEqual([1, 1, 0, 0]);
  });
  it('is covered by what is nearer', async () => {
    const document = shot();
    const path = newPath('cover-path', 0, [corner(0, 0), corner(80, 0), corner(80, 40), corner(0, 40)], true);
    document.cast.unshift({ ...newSubject('cover', 'Cover'), parts: [newSpline('cover-part', 'Cover', [path])] });
    const card = element('card', 'rim', { settings: { width: 200, height: 200, colours: '1', colour1: [1, 1, 1] } });
    const p = await render([card], 0, SIZE, document);
    expect([rgb(p, 31, 30)[0], rgb(p, 31, 45)[0]]).toEqual([0, 1]);
  });
  it('takes light from behind the subject', async () => {
    const card = element('card', 'behind', { settings: { width: 200, height: 200, colours: '1', colour1: [1, 0, 0] } });
    for (const lane of ['inside', 'rim'] as const) {
      const wrap = newLaneEffect('w', lane, 'near', 'light-wrap');
      wrap.settings.width = { constant: 2 };
      const p = await render([card, wrap]);
      expect([lane, rgb(p, 31, 35)[0] > 0.2, rgb(p, 40, 35)[0] < 0.2]).toEqual([lane, true, true]);
    }
  });
});

describe('blending of effects', () => {
  it('goes together with what was there, on a lane and on an element', async () => {
    const card = element('card', 'backdrop', { settings: { width: 200, height: 200, colours: '1', colour1: [0.5, 0.5, 0.5] } });
    const solid = { ...newLaneEffect('s', 'front', null, 'solid'), blend: 'multiply' as const };
    solid.settings.colour = { constant: [0.5, 1, 0] };
    expect(rgb(await render([card, solid]), 5, 5)).toEqual([0.25, 0.5, 0]);
    const own = {
      id: 'o',
      type: 'element-effect' as const,
      effect: 'solid',
      enabled: true,
      mix: { constant: 0.5 },
      blend: 'screen' as const,
      matteOf: null,
      matteFootage: null,
      settings: solid.settings,
    };
    const p = await render([{ ...card, effects: [own] }]);
    expect(rgb(p, 5, 5)).toEqual([0.625, 0.75, 0.5]);
  });
});
