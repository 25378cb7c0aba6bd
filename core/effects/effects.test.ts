/** Each effect against a plain twin or a figure that can be worked out; and that its settings do what they say. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { whereOn } from '../../tests/where.ts';
import type { LaneEffect, Setting } from '../document/schema.ts';
import { LUMA, newGray, newRgba, type Rgba } from '../image/picture.ts';
import { randomFrom } from '../math/random.ts';
import { newLaneEffect, runEffect, type Where } from './lane-effect.ts';

const SIZE = { width: 48, height: 36 };

type Given = number | string | number[] | Setting;
const item = (id: string, settings: Record<string, Given>): LaneEffect => {
  const made = newLaneEffect('x', 'front', null, id, SIZE);
  const own = Object.entries(settings).map(([k, v]) => [k, typeof v === 'object' && !Array.isArray(v) ? v : { constant: v }]);
  return { ...made, settings: { ...made.settings, ...Object.fromEntries(own) } };
};

/** What an effect makes of a picture. */
function made(id: string, picture: Rgba, settings: Record<string, Given> = {}, more: Partial<Where> = {}): Rgba {
  const layer = { ...picture, data: picture.data.slice() };
  runEffect(layer, item(id, settings), whereOn(picture, more));
  return layer;
}

const flat = (colour: number[], size = SIZE): Rgba => {
  const out = newRgba(size.width, size.height);
  for (let i = 0; i < out.data.length; i += 4) out.data.set(colour, i);
  return out;
};
/** One bright pixel on black, opaque. */
const dot = (x: number, y: number, size = SIZE): Rgba => {
  const out = flat([0, 0, 0, 1], size);
  out.data.set([1, 1, 1, 1], 4 * (y * size.width + x));
  return out;
};
const mess = (seed = 1, size = SIZE): Rgba => {
  const random = randomFrom(seed);
  const out = newRgba(size.width, size.height);
  for (let i = 0; i < out.data.length; i += 4) out.data.set([random(), random(), random(), 1], i);
  return out;
};
const at = (p: Rgba, x: number, y: number): number[] => [...p.data.subarray(4 * (y * p.width + x), 4 * (y * p.width + x) + 4)];
const luma = (c: ArrayLike<number>) => LUMA[0] * c[0] + LUMA[1] * c[1] + LUMA[2] * c[2];
const sumOf = (p: Rgba, k = 0): number => p.data.reduce((sum, v, i) => (i % 4 === k ? sum + v : sum), 0);
const same = (a: Rgba, b: Rgba, digits = 5) => {
  for (let i = 0; i < a.data.length; i++) if (Math.abs(a.data[i] - b.data[i]) > 10 ** -digits) expect([i, a.data[i]]).toEqual([i, b.data[i]]);
};
/** Mean distance of what is bright from a place, in a direction. */
const spread = (p: Rgba, cx: number, cy: number, dx: number, dy: number): number => {
  let [sum, whole] = [0, 0];
  for (let y = 0; y < p.height; y++)
    for (let x = 0; x < p.width; x++) {
      const v = at(p, x, y)[0];
      sum += v * Math.abs((x - cx) * dx + (y - cy) * dy);
      whole += v;
    }
  return sum / whole;
};

describe('effects that change nothing as they say', () => {
  it.each<[string, Record<string, Given>]>([
    ['levels', {}],
    ['curves', {}],
    ['contrast', {}],
    ['temperature', {}],
    ['hue', {}],
    ['grade', {}],
    ['match', {}],
    ['directional-blur', { length: 0 }],
    ['zoom-blur', { amount: 0 }],
    ['turning-blur', { angle: 0 }],
    ['lens-blur', { radius: 0 }],
    ['glow', { strength: 0 }],
    ['sharpen', { amount: 0 }],
    ['pixelate', { size: 1 }],
    ['channel-offset', { redX: 0, blueX: 0 }],
    ['vignette', { exposure: 0 }],
    ['shake', { across: 0, down: 0, turn: 0 }],
    ['repeat', { scale: 100 }],
    ['framing', {}],
    ['displace', { across: 0, down: 0 }],
    ['light-wrap', {}],
    ['grain', { strength: 0 }],
  ])('%s', (id, settings) => same(made(id, mess(), settings), mess(), 4));
});

describe('blurs', () => {
  it('directional: a point becomes an even line of its length, at its angle, and no light is lost', () => {
    const out = made('directional-blur', dot(24, 18), { length: 12, angle: 0 });
    const row = Array.from({ length: SIZE.width }, (_, x) => at(out, x, 18)[0]);
    // From the middle of a pixel to that of another: its ends are halves.
    expect([row.filter((v) => v > 0.06).length, row.filter((v) => v > 0.03).length]).toEqual([11, 13]);
    for (let x = 20; x <= 28; x++) expect(row[x]).toBeCloseTo(1 / 12, 1);
    expect(sumOf(out)).toBeCloseTo(1, 2);
    expect(at(out, 24, 16)[0]).toBeLessThan(1e-3);
    const up = made('directional-blur', dot(24, 18), { length: 12, angle: 90 });
    expect([at(up, 24, 14)[0] > 0.05, at(up, 20, 18)[0] < 1e-3]).toEqual([true, true]);
    const longer = (length: number) => spread(made('directional-blur', dot(24, 18), { length, angle: 0 }), 24, 18, 1, 0);
    expect([longer(8) > longer(4), longer(16) > longer(8)]).toEqual([true, true]);
  });

  it('zoom: a point goes to and from the place, which itself stays sharp', () => {
    const place = { x: 10.5, y: 18.5 };
    const out = made('zoom-blur', dot(34, 18), { ...place, amount: 30 });
    expect(spread(out, 34, 18, 1, 0)).toBeGreaterThan(5 * spread(out, 34, 18, 0, 1));
    // A growth of g from half before to half after: as long as its distance times ln(1 + g).
    expect(spread(out, 34, 18, 1, 0)).toBeCloseTo((24 * Math.log(1.3)) / 4, 0);
    expect(at(made('zoom-blur', dot(10, 18), { ...place, amount: 30 }), 10, 18)[0]).toBeGreaterThan(0.5);
  });

  it('turning: a point goes round the place', () => {
    const out = made('turning-blur', dot(34, 18), { x: 24.5, y: 18.5, angle: 40 });
    expect(spread(out, 34, 18, 0, 1)).toBeGreaterThan(4 * spread(out, 34, 18, 1, 0));
    expect(spread(out, 34, 18, 0, 1)).toBeCloseTo((10 * 40 * Math.PI) / 180 / 4, 0);
  });

  it('lens: a point becomes a disc of its area, against a plain mean over it', () => {
    const radius = 5;
    const out = made('lens-blur', dot(24, 18), { radius });
    expect(at(out, 24, 18)[0]).toBeCloseTo(1 / (Math.PI * radius * radius), 3);
    expect(at(out, 24 + 4, 18)[0]).toBeCloseTo(at(out, 24, 18)[0], 6);
    expect(at(out, 24 + 7, 18)[0]).toBe(0);
    expect(sumOf(out)).toBeCloseTo(1, 4);
    const given = mess(4);
    const soft = made('lens-blur', given, { radius });
    const rows = Array.from({ length: 11 }, (_, k) => k - 5).filter((dy) => Math.abs(dy) < radius + 0.5);
    let [sum, area] = [0, 0];
    for (const dy of rows) {
      const half = Math.sqrt(Math.max(0, radius * radius - dy * dy));
      for (let dx = -6; dx <= 6; dx++) {
        const share = Math.max(0, Math.min(dx + 0.5, half) - Math.max(dx - 0.5, -half));
        sum += share * at(given, 20 + dx, 16 + dy)[1];
        area += share;
      }
    }
    expect(at(soft, 20, 16)[1]).toBeCloseTo(sum / area, 4);
  });

  it('lens: highlights are brighter discs, and never brighter than white', () => {
    const [plain, bloom] = [0, 4].map((stops) => made('lens-blur', dot(24, 18), { radius: 4, bloom: stops, from: 50 }));
    expect(at(bloom, 24, 18)[0]).toBeGreaterThan(2 * at(plain, 24, 18)[0]);
    expect(Math.max(...made('lens-blur', flat([0.9, 0.9, 0.9, 1]), { radius: 4, bloom: 8 }).data)).toBeLessThanOrEqual(1);
  });
});

describe('glow and sharpening', () => {
  it('glow sheds light as far and as strong as it is told, on what is there and where nothing is', () => {
    const near = (settings: object, x = 30) => at(made('glow', dot(24, 18), { radius: 4, strength: 300, from: 40, ...settings }), x, 18)[0];
    expect(near({})).toBeGreaterThan(0);
    expect(near({ strength: 150 })).toBeLessThan(near({}));
    expect(near({ radius: 8 }, 34)).toBeGreaterThan(near({}, 34));
    expect(at(made('glow', dot(24, 18), { radius: 4, strength: 300, tint: [1, 0, 0] }), 27, 18)[1]).toBe(0);
    // What is darker sheds none.
    same(made('glow', flat([0.3, 0.3, 0.3, 1]), { from: 40 }), flat([0.3, 0.3, 0.3, 1]));
    const alone = newRgba(SIZE.width, SIZE.height);
    for (let y = 16; y < 20; y++) for (let x = 22; x < 26; x++) alone.data.set([0.8, 0.6, 0.2, 1], 4 * (y * SIZE.width + x));
    const [r, g, , a] = at(made('glow', alone, { radius: 4, strength: 200, from: 0 }), 29, 18);
    expect(a).toBeGreaterThan(0.01);
    expect(r).toBeLessThanOrEqual(a);
    expect(r / g).toBeCloseTo(0.8 / 0.6, 1);
  });

  it('sharpening overshoots at an edge, leaves what is level, and small differences where it is told to', () => {
    const edge = flat([0.4, 0.4, 0.4, 1]);
    for (let y = 0; y < SIZE.height; y++) for (let x = 24; x < SIZE.width; x++) edge.data.set([0.6, 0.6, 0.6, 1], 4 * (y * SIZE.width + x));
    const out = made('sharpen', edge, { radius: 2, amount: 100 });
    expect(at(out, 23, 18)[0]).toBeLessThan(0.36);
    expect(at(out, 24, 18)[0]).toBeGreaterThan(0.64);
    expect(at(out, 5, 18)[0]).toBeCloseTo(0.4, 4);
    same(made('sharpen', edge, { radius: 2, amount: 100, above: 15 }), edge, 4);
  });
});

describe('tones and colours', () => {
  it('levels: published formula, all channels and then each', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 40 }), fc.integer({ min: 60, max: 100 }), fc.double({ min: 0.3, max: 3, noNaN: true }), (black, white, gamma) => {
        const out = at(made('levels', flat([0.5, 0.5, 0.5, 1]), { black, white, gamma, low: 10, high: 90, greenLow: 20 }), 0, 0);
        const x = 0.1 + 0.8 * Math.min(1, Math.max(0, (0.5 - black / 100) / ((white - black) / 100))) ** (1 / gamma);
        expect(out[0]).toBeCloseTo(x, 2);
        expect(out[1]).toBeCloseTo(0.2 + 0.8 * x, 2);
      }),
      { numRuns: 30 },
    );
  });

  it('curves: what their points say, the one of all first', () => {
    const out = at(made('curves', flat([0.25, 0.5, 0.75, 1]), { all: [0, 1, 1, 0], red: [0, 0, 0.75, 0.2, 1, 1] }), 0, 0);
    expect(out).toEqual([expect.closeTo(0.2, 4), expect.closeTo(0.5, 4), expect.closeTo(0.25, 4), 1]);
  });

  it('on what is half there, colours change as they do where all of it is', () => {
    for (const [id, settings] of [
      ['levels', { gamma: 2 }],
      ['curves', { all: [0, 0, 0.5, 0.8, 1, 1] }],
      ['contrast', { contrast: 150, brightness: 10 }],
      ['hue', { turn: 90 }],
      ['temperature', { temperature: 60 }],
      ['ramp', {}],
    ] as [string, Record<string, Given>][]) {
      const [whole, half] = [at(made(id, flat([0.6, 0.4, 0.2, 1]), settings), 0, 0), at(made(id, flat([0.3, 0.2, 0.1, 0.5]), settings), 0, 0)];
      for (let k = 0; k < 3; k++) expect([id, half[k] * 2]).toEqual([id, expect.closeTo(whole[k], 4)]);
    }
  });

  it('brightness, contrast, gamma: a line round its pivot', () => {
    const one = (settings: object, v = 0.6) => at(made('contrast', flat([v, v, v, 1]), { ...settings }), 0, 0)[0];
    expect(one({ contrast: 200 })).toBeCloseTo(0.7, 4);
    expect(one({ contrast: 200, pivot: 60 })).toBeCloseTo(0.6, 4);
    expect(one({ contrast: 0 })).toBeCloseTo(0.5, 4);
    expect(one({ brightness: -20 })).toBeCloseTo(0.4, 4);
    expect(one({ gamma: 2 })).toBeCloseTo(Math.sqrt(0.6), 3);
  });

  it('temperature and tint keep the luma, and move red against blue, green against both', () => {
    fc.assert(
      fc.property(fc.integer({ min: -100, max: 100 }), fc.integer({ min: -100, max: 100 }), (temperature, tint) => {
        const given = [0.4, 0.35, 0.3, 1];
        const out = at(made('temperature', flat(given), { temperature, tint }), 0, 0);
        expect(luma(out)).toBeCloseTo(luma(given), 4);
      }),
    );
    const warm = at(made('temperature', flat([0.4, 0.4, 0.4, 1]), { temperature: 50 }), 0, 0);
    expect([warm[0] > 0.42, warm[2] < 0.38]).toEqual([true, true]);
    expect(at(made('temperature', flat([0.4, 0.4, 0.4, 1]), { tint: 50 }), 0, 0)[1]).toBeLessThan(0.39);
  });

  it('hue: red turned by a third is green; a range changes its own hues alone', () => {
    expect(at(made('hue', flat([0.8, 0.2, 0.2, 1]), { turn: 120 }), 0, 0)).toEqual([expect.closeTo(0.2, 4), expect.closeTo(0.8, 4), expect.closeTo(0.2, 4), 1]);
    const reds = { turn: 120, middle: 0, range: 60, fade: 10 };
    expect(at(made('hue', flat([0.2, 0.2, 0.8, 1]), reds), 0, 0)[2]).toBeCloseTo(0.8, 4);
    expect(at(made('hue', flat([0.8, 0.2, 0.2, 1]), reds), 0, 0)[1]).toBeCloseTo(0.8, 4);
    expect(at(made('hue', flat([0.5, 0.5, 0.5, 1]), { ...reds, lightness: 50 }), 0, 0)[0]).toBeCloseTo(0.5, 4);
    expect(at(made('hue', flat([0.8, 0.2, 0.2, 1]), { saturation: 0 }), 0, 0)).toEqual([
      expect.closeTo(0.5, 4),
      expect.closeTo(0.5, 4),
      expect.closeTo(0.5, 4),
      1,
    ]);
  });

  it('ramp: the colour at the place of the luma, and what was there where that is see-through', () => {
    const colours = [0, 0, 0, 0, 1, 0.5, 1, 0, 0, 1, 1, 0, 0, 1, 0];
    const one = (v: number) => at(made('ramp', flat([v, v, v, 1]), { colours }), 0, 0);
    expect(one(0.25)).toEqual([expect.closeTo(0.5, 2), expect.closeTo(0, 3), expect.closeTo(0, 3), 1]);
    expect(one(1)[1]).toBeCloseTo(1, 3);
    // Half way from red to see-through blue.
    expect(one(0.75)).toEqual([expect.closeTo(0.625, 2), expect.closeTo(0.375, 2), expect.closeTo(0.625, 2), 1]);
  });
});

describe('what moves pixels', () => {
  it('pixelate: squares of their own mean, from the corner of the picture wherever the layer begins', () => {
    const out = made('pixelate', mess(), { size: 6 });
    let sum = 0;
    for (let y = 6; y < 12; y++) for (let x = 12; x < 18; x++) sum += at(mess(), x, y)[0];
    for (const [x, y] of [
      [12, 6],
      [17, 11],
    ])
      expect(at(out, x, y)[0]).toBeCloseTo(sum / 36, 5);
    const part = newRgba(20, 20);
    for (let y = 0; y < 20; y++) for (let x = 0; x < 20; x++) part.data.set(at(mess(), x + 9, y + 5), 4 * (y * 20 + x));
    const made9 = { ...part, data: part.data.slice() };
    runEffect(made9, item('pixelate', { size: 6 }), whereOn(SIZE, { left: 9, top: 5 }));
    expect(at(made9, 12 - 9, 6 - 5)[0]).toBeCloseTo(at(out, 12, 6)[0], 5);
  });

  it('channel offset: each channel from its own place', () => {
    const out = made('channel-offset', mess(), { redX: 3, redY: 0, greenX: 0, greenY: -2, blueX: 0, blueY: 0 });
    expect(at(out, 20, 10)).toEqual([at(mess(), 17, 10)[0], at(mess(), 20, 12)[1], at(mess(), 20, 10)[2], 1]);
  });

  it('vignette: darker towards the corners, the place as it was, more with more stops', () => {
    const one = (x: number, y: number, settings = {}) =>
      at(made('vignette', flat([0.5, 0.5, 0.5, 1]), { exposure: -1, inner: 30, round: 50, ...settings }), x, y)[0];
    expect(one(24, 18)).toBe(0.5);
    expect(one(0, 0)).toBeCloseTo(0.5 * 2 ** (-1 / 2.2), 2);
    expect(one(0, 18)).toBeGreaterThan(one(0, 0));
    expect(one(0, 0, { exposure: -2 })).toBeLessThan(one(0, 0));
  });

  it('shake: seeded, within what it is told, in time with its swings, and with no border', () => {
    const shaken = (frame: number, more = {}) => made('shake', dot(24, 18), { across: 6, down: 3, turn: 0, rate: 2, roughness: 1, ...more }, { frame });
    const middle = (p: Rgba) => {
      let [sx, sy, s] = [0, 0, 0];
      for (let y = 0; y < p.height; y++)
        for (let x = 0; x < p.width; x++) {
          const v = at(p, x, y)[0];
          sx += v * x;
          sy += v * y;
          s += v;
        }
      return [sx / s, sy / s];
    };
    const places = Array.from({ length: 40 }, (_, f) => middle(shaken(f)));
    for (const [x, y] of places) expect([Math.abs(x - 24) < 7, Math.abs(y - 18) < 4]).toEqual([true, true]);
    expect(Math.max(...places.map((p) => p[0])) - Math.min(...places.map((p) => p[0]))).toBeGreaterThan(4);
    expect(shaken(7).data).toEqual(shaken(7).data);
    expect(shaken(7, { seed: 2 }).data).not.toEqual(shaken(7).data);
    // Twice as many swings: the frame before half the time.
    same(shaken(6, { rate: 4 }), shaken(12), 5);
    expect(Math.min(...made('shake', flat([1, 1, 1, 1]), { across: 20, down: 20 }, { frame: 5 }).data)).toBeGreaterThan(0.99);
  });

  it('repeat: the picture in its middle, and beyond it a mirror or the same again', () => {
    const half = (sides: string) => made('repeat', dot(24, 18), { scale: 50, sides });
    const lit = (p: Rgba) => p.data.reduce((n, v, i) => (i % 4 === 0 && v > 0.1 ? n + 1 : n), 0);
    expect(lit(half('hold'))).toBeLessThan(lit(half('wrap')));
    const [mirror, wrap] = [made('repeat', dot(2, 18), { scale: 50, sides: 'mirror' }), made('repeat', dot(2, 18), { scale: 50, sides: 'wrap' })];
    // At the left border of the small picture (12): a mirror shows it as far on the other side, the same again at its right border.
    expect(at(mirror, 10, 18)[0]).toBeGreaterThan(0.05);
    expect(at(wrap, 10, 18)[0]).toBe(0);
    expect(at(wrap, 37, 18)[0]).toBeGreaterThan(0.05);
  });

  it('framing: moves, scales and turns about its middle, and fills beyond', () => {
    expect(at(made('framing', dot(24, 18), { across: 6, down: -4 }), 30, 14)[0]).toBeCloseTo(1, 4);
    // Twice as large about its middle (24, 18): what was 3 pixels off is 6 off.
    expect(at(made('framing', dot(30, 18), { scale: 200 }), 37, 19)[0]).toBeGreaterThan(0.5);
    expect(at(made('framing', dot(30, 17), { turn: 90 }), 24, 24)[0]).toBeGreaterThan(0.9);
    const bright = flat([0.5, 0.5, 0.5, 1]);
    for (const sides of ['hold', 'mirror', 'wrap']) same(made('framing', bright, { scale: 50, across: 9, sides }), bright, 4);
    expect(at(made('framing', bright, { scale: 50, sides: 'black' }), 2, 2)).toEqual([0, 0, 0, 1]);
    const other = made('framing', dot(2, 18), { across: -10, sides: 'wrap' });
    expect(at(other, 40, 18)[0]).toBeCloseTo(1, 4);
  });

  it('framing: its shutter blurs its own motion alone', () => {
    const across = { keys: [0, 10].map((f) => ({ frame: f, value: 2 * f, ease: 'linear' as const })) };
    const moving = made('framing', dot(10, 18), { across, shutter: 360 }, { frame: 5 });
    // Two pixels a frame for a whole frame, round 20.
    expect(spread(moving, 20, 18, 1, 0)).toBeGreaterThan(0.3);
    expect(spread(moving, 20, 18, 1, 0)).toBeLessThan(1);
    expect(sumOf(moving)).toBeCloseTo(1, 0);
    same(made('framing', dot(10, 18), { across, shutter: 0 }, { frame: 5 }), made('framing', dot(10, 18), { across: 10 }), 5);
    same(made('framing', dot(10, 18), { across: 10, shutter: 360 }), made('framing', dot(10, 18), { across: 10 }), 5);
  });

  it('displace: by a matte as far as it is bright, grey moves nothing; by noise it changes and rises at a constant rate', () => {
    const matte = newGray(SIZE.width, SIZE.height);
    const by = (v: number) => {
      matte.data.fill(v);
      return made('displace', dot(24, 18), { across: 8, down: 0 }, { matte });
    };
    expect(at(by(1), 32, 18)[0]).toBeCloseTo(1, 5);
    expect(at(by(0), 16, 18)[0]).toBeCloseTo(1, 5);
    expect(at(by(0.5), 24, 18)[0]).toBeCloseTo(1, 5);
    expect(at(by(0.75), 28, 18)[0]).toBeCloseTo(1, 5);
    const noisy = (frame: number, more = {}) => made('displace', mess(), { across: 6, down: 6, size: 12, change: 0, ...more }, { frame });
    expect(noisy(5).data).toEqual(noisy(0).data);
    expect(noisy(5, { change: 1 }).data).not.toEqual(noisy(0, { change: 1 }).data);
    expect(noisy(0).data).not.toEqual(mess().data);
    // Risen by 6 px in 10 frames: what the noise was at a place is now 6 px higher.
    const ramp = flat([0, 0, 0, 1]);
    for (let y = 0; y < SIZE.height; y++) for (let x = 0; x < SIZE.width; x++) ramp.data[4 * (y * SIZE.width + x)] = x / SIZE.width;
    const [was, is] = [0, 10].map((frame) => made('displace', ramp, { across: 6, down: 0, size: 12, change: 0, rise: 6 }, { frame }));
    for (let y = 8; y < 24; y++) for (let x = 12; x < 36; x++) expect(at(is, x, y - 6)[0]).toBeCloseTo(at(was, x, y)[0], 4);
  });
});

describe('what looks behind, and grain, and key', () => {
  it('light wrap: light of what is behind, at the edge alone, none of the subject itself', () => {
    const matte = newGray(SIZE.width, SIZE.height);
    const layer = newRgba(SIZE.width, SIZE.height);
    for (let y = 0; y < SIZE.height; y++)
      for (let x = 24; x < SIZE.width; x++) {
        matte.data[y * SIZE.width + x] = 1;
        layer.data.set([0.1, 0.1, 0.1, 1], 4 * (y * SIZE.width + x));
      }
    const picture = flat([0, 0, 0, 1]);
    for (let y = 0; y < SIZE.height; y++)
      for (let x = 0; x < SIZE.width; x++) picture.data.set(x < 24 ? [0.8, 0.4, 0, 1] : [0, 0, 1, 1], 4 * (y * SIZE.width + x));
    const wrapped = (width: number, by: typeof matte | null = matte) => made('light-wrap', layer, { width }, { behind: { picture, matte: by } });
    const near = at(wrapped(3), 24, 18);
    expect(near[0]).toBeGreaterThan(0.3);
    expect(near[2]).toBeCloseTo(0.1, 4);
    expect(at(wrapped(3), 40, 18)[0]).toBeCloseTo(0.1, 4);
    expect(at(wrapped(6), 30, 18)[0]).toBeGreaterThan(at(wrapped(3), 30, 18)[0]);
    // An element's own alpha says the same as a matte does.
    same(wrapped(3, null), wrapped(3), 5);
  });

  it('grain: as strong as it is told, new on each frame, the same again, and as large', () => {
    const size = { width: 160, height: 120 };
    const grey = flat([0.5, 0.5, 0.5, 1], size);
    const grain = (settings = {}, frame = 0) => made('grain', grey, { strength: 4, colour: 0, ...settings }, { frame });
    const off = (p: Rgba, k = 0) => Array.from({ length: p.data.length / 4 }, (_, i) => p.data[4 * i + k] - 0.5);
    const sigma = (list: number[]) => Math.sqrt(list.reduce((s, v) => s + v * v, 0) / list.length);
    expect(sigma(off(grain()))).toBeCloseTo(0.04, 2);
    expect(sigma(off(grain({ size: 3 })))).toBeCloseTo(0.04, 2);
    expect(Math.abs(off(grain()).reduce((s, v) => s + v, 0)) / (size.width * size.height)).toBeLessThan(0.001);
    expect(grain({}, 1).data).not.toEqual(grain().data);
    expect(grain({}, 1).data).toEqual(grain({}, 1).data);
    const alike = (p: Rgba) => {
      const d = off(p);
      return d.reduce((s, v, i) => s + v * (d[i + 1] ?? 0), 0) / d.reduce((s, v) => s + v * v, 0);
    };
    expect(Math.abs(alike(grain()))).toBeLessThan(0.03);
    expect(alike(grain({ size: 3 }))).toBeGreaterThan(0.6);
    expect(off(grain(), 1)).toEqual(off(grain(), 0));
    expect(off(grain({ colour: 100 }), 1)).not.toEqual(off(grain({ colour: 100 }), 0));
    const black = made('grain', flat([0.05, 0.05, 0.05, 1], size), { strength: 2, colour: 0, dark: 0 });
    expect(sigma(Array.from({ length: size.width * size.height }, (_, i) => black.data[4 * i] - 0.05))).toBeLessThan(0.004);
  });

  it('key: dark goes, or a colour in whatever light, and the other way round', () => {
    const alpha = (colour: number[], settings: Record<string, Given>) => at(made('key', flat([...colour, 1]), settings), 0, 0)[3];
    expect([0, 0.05, 0.2, 0.5].map((v) => alpha([v, v, v], { low: 5, high: 40 }))).toEqual([0, expect.closeTo(0, 9), expect.closeTo(0.3936, 3), 1]);
    const green = { by: 'colour', colour: [0.1, 0.6, 0.2], near: 12, softness: 6 };
    expect([alpha([0.1, 0.6, 0.2], green), alpha([0.12, 0.5, 0.2], green), alpha([0.7, 0.3, 0.2], green)]).toEqual([0, 0, 1]);
    expect(alpha([0.1, 0.6, 0.2], { ...green, inverted: 'same' })).toBe(1);
    expect(at(made('key', flat([0.2, 0.2, 0.2, 1]), { low: 5, high: 40 }), 0, 0)[0]).toBeCloseTo(0.2 * 0.3936, 3);
  });
});
