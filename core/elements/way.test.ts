import { describe, expect, it } from 'vitest';
import { planOf } from '../compose/plan.ts';
import { renderPicture } from '../compose/render-picture.ts';
import { newSpline } from '../document/part-kinds/spline.ts';
import { newDocument, newPath, newSubject } from '../document/records.ts';
import type { Element } from '../document/schema.ts';
import type { SettingValue } from '../effects/settings.ts';
import { newRgba, type Rgba } from '../image/picture.ts';
import { smoothstep } from '../math/clamp.ts';
import { mattesOf } from '../matte/mattes.ts';
import { NO_IMPORTS, type Sources } from '../matte/sources.ts';
import { corner } from '../path/path.ts';
import { newElement } from './index.ts';
import { renderElement } from './render-element.ts';
import { goneAt } from './way.ts';

const SIZE = { width: 64, height: 40 };
const [BEGINS, TAKES] = [10, 7];

/** A picture by place: red for how far it is from the left, green from the top; blue says which of the two it is. */
function ramp(blue: number): Rgba {
  const out = newRgba(SIZE.width, SIZE.height);
  for (let y = 0; y < SIZE.height; y++) for (let x = 0; x < SIZE.width; x++) out.data.set([x / SIZE.width, y / SIZE.height, blue, 1], 4 * (y * SIZE.width + x));
  return out;
}
const asked: number[] = [];
const sources: Sources = {
  ...NO_IMPORTS,
  plate: async () => ramp(0),
  footage: async (_of, frame) => {
    asked.push(frame);
    return ramp(1);
  },
};

function shotWith(settings: Record<string, SettingValue>) {
  const document = newDocument('Ways', { ...SIZE, frames: 40, rate: { num: 24, den: 1 }, firstNumber: 0 });
  const made = newElement(document, 'w', 'front', null, 'way');
  const all = { begins: BEGINS, takes: TAKES, ease: 0, shutter: 0, softness: 0, ...settings };
  const own = Object.fromEntries(Object.entries(all).map(([k, v]) => [k, { constant: v }]));
  const path = newPath('q', 0, [corner(20, 10), corner(40, 10), corner(40, 30), corner(20, 30)], true);
  document.cast.push({ ...newSubject('s', 'S'), parts: [{ ...newSpline('curve', 'Curve', [path]), enabled: false }] });
  document.lanes.push({ ...made, of: 'curve', footage: { id: 'other', ...SIZE, frames: 20, alpha: false }, settings: { ...made.settings, ...own } });
  return document;
}

async function wayOn(frame: number, settings: Record<string, SettingValue>) {
  const { data } = await renderPicture(shotWith(settings), frame, sources, SIZE);
  return (x: number, y: number) => [...data.subarray(4 * (y * SIZE.width + x), 4 * (y * SIZE.width + x) + 4)];
}
/** Of the footage's blue, on all pixels. */
async function shareOn(frame: number, settings: Record<string, SettingValue>): Promise<number> {
  const pixel = await wayOn(frame, settings);
  let sum = 0;
  for (let y = 0; y < SIZE.height; y++) for (let x = 0; x < SIZE.width; x++) sum += pixel(x, y)[2];
  return sum / (SIZE.width * SIZE.height);
}

describe('a way to footage', () => {
  it('is seen on as many frames as it takes, and goes steadily or gently', () => {
    const at = (frame: number, ease = 0) => goneAt({ begins: BEGINS, takes: TAKES, ease }, frame);
    expect([at(BEGINS - 1), at(BEGINS + TAKES)]).toEqual([0, 1]);
    for (let k = 0; k < TAKES; k++) expect(at(BEGINS + k)).toBeCloseTo((k + 1) / (TAKES + 1), 9);
    expect(at(BEGINS, 100)).toBeCloseTo(smoothstep(1 / 8), 9);
    // None at all: a cut.
    expect([goneAt({ begins: 5, takes: 0, ease: 50 }, 4), goneAt({ begins: 5, takes: 0, ease: 50 }, 5)]).toEqual([0, 1]);
  });

  it.each(['dissolve', 'wipe', 'circle', 'shape', 'push', 'slide'])(
    'shows one picture before it and the other after it, and ever more between (%s)',
    async (way) => {
      for (const softness of [0, 30]) {
        const shares = [];
        for (let frame = BEGINS - 1; frame <= BEGINS + TAKES; frame++) shares.push(await shareOn(frame, { way, softness }));
        expect(shares[0]).toBe(0);
        expect(shares.at(-1)).toBeCloseTo(1, 5);
        for (let k = 1; k < shares.length; k++) expect(shares[k], `${softness} px, frame ${k}`).toBeGreaterThan(shares[k - 1]);
      }
    },
  );

  it('is not asked for before it begins, so that nobody misses it there', () => {
    const asked = (frame: number, settings: Record<string, SettingValue> = {}) => planOf(shotWith(settings), frame).items;
    expect([asked(BEGINS - 1), asked(BEGINS), asked(BEGINS + 20)]).toEqual([0, 1, 1]);
    // Half a frame of open shutter sees something before.
    expect([asked(BEGINS - 1, { way: 'push', shutter: 360 }), asked(BEGINS - 1, { way: 'push' })]).toEqual([1, 0]);
  });

  it('fades by as much as it has gone', async () => {
    for (const k of [1, 4, 6]) expect(await shareOn(BEGINS + k - 1, { way: 'dissolve' })).toBeCloseTo(k / 8, 4);
  });

  it('begins the footage with its first frame, and runs on', async () => {
    asked.length = 0;
    await wayOn(BEGINS, { way: 'dissolve' });
    await wayOn(BEGINS + 12, { way: 'dissolve' });
    expect(asked).toEqual([0, 12]);
  });

  it('a line goes where it is told to', async () => {
    const half = BEGINS + 3;
    for (const [goes, there, not] of [
      ['right', [10, 20], [54, 20]],
      ['left', [54, 20], [10, 20]],
      ['down', [32, 5], [32, 35]],
      ['up', [32, 35], [32, 5]],
    ] as const) {
      const pixel = await wayOn(half, { way: 'wipe', goes });
      expect([pixel(there[0], there[1])[2], pixel(not[0], not[1])[2]], goes).toEqual([1, 0]);
    }
    // Turned by 45°, it has come to one corner and not to the other.
    const turned = await wayOn(half, { way: 'wipe', goes: 'right', turned: 45 });
    expect([turned(8, 8)[2], turned(56, 32)[2]]).toEqual([1, 0]);
  });

  it('a push moves both by the same, with no gap between them in the blur', async () => {
    const moved = await wayOn(BEGINS + 3, { way: 'push', goes: 'left' });
    // Half gone: the left half is the right one of the first picture, the right half the left one of the other.
    expect(moved(10, 20)[0]).toBeCloseTo(42 / 64, 4);
    expect(moved(10, 20)[2]).toBe(0);
    expect(moved(50, 20)[0]).toBeCloseTo(18 / 64, 4);
    expect(moved(50, 20)[2]).toBe(1);
    // Of the layer itself: behind a gap the first picture would show.
    for (const goes of ['left', 'right', 'up', 'down'])
      for (let k = 0; k < TAKES; k++) {
        const document = shotWith({ way: 'push', goes, shutter: 300 });
        const given = { document, sources, size: SIZE, mattes: mattesOf(document, sources, SIZE), room: null, prepared: new Map(), behind: ramp(0) };
        const layer = await renderElement(given, document.lanes[0] as Element, BEGINS + k);
        expect(Math.min(...(layer?.data.filter((_, i) => i % 4 === 3) ?? [0])), `${goes} ${k}`).toBeGreaterThan(0.99);
      }
    // Blurred over half a frame, the edge is a ramp as wide as it goes in that: 4 px.
    const blurred = await wayOn(BEGINS + 3, { way: 'push', goes: 'left', shutter: 180 });
    const soft = Array.from({ length: SIZE.width }, (_, x) => blurred(x, 20)[2]).filter((b) => b > 0.02 && b < 0.98);
    expect(soft.length).toBeGreaterThanOrEqual(3);
    expect(soft.length).toBeLessThanOrEqual(6);
  });

  it('what slides leaves the other where it is', async () => {
    const pixel = await wayOn(BEGINS + 3, { way: 'slide', goes: 'down', shutter: 180 });
    expect(pixel(30, 5)[2]).toBeCloseTo(1, 3);
    expect(pixel(30, 5)[1]).toBeCloseTo(25 / 40, 2);
    expect(pixel(30, 35)).toEqual([30 / 64, 35 / 40, 0, 1].map((v) => Math.fround(v)));
  });

  it('a curve opens from within, and without one a circle does', async () => {
    const early = await wayOn(BEGINS + 1, { way: 'shape' });
    expect([early(30, 20)[2], early(60, 36)[2]]).toEqual([1, 0]);
    const round = await wayOn(BEGINS + 1, { way: 'circle' });
    expect([round(32, 20)[2], round(60, 36)[2]]).toEqual([1, 0]);
  });
});
