/** Every setting of every effect does something, and those that say how much do more the higher they are. */
import { describe, expect, it } from 'vitest';
import { whereOn } from '../../tests/where.ts';
import { newRgba, type Rgba } from '../image/picture.ts';
import { randomFrom } from '../math/random.ts';
import { EFFECTS, effectById } from './index.ts';
import { newLaneEffect, runEffect } from './lane-effect.ts';
import type { SettingDescription, SettingValue } from './settings.ts';

const SIZE = { width: 48, height: 36 };
/** A thing of many colours with something hot in it, as far as the left and the lower side, see-through beyond it. */
function thing(): Rgba {
  const random = randomFrom(5);
  const out = newRgba(SIZE.width, SIZE.height);
  for (let y = 0, i = 0; y < SIZE.height; y++)
    for (let x = 0; x < SIZE.width; x++, i += 4) {
      const a = x < 40 && y > 6 ? 1 : 0;
      const plain = [0.15 + 0.7 * (x / 48) + 0.1 * random(), 0.2 + 0.5 * (y / 36) + 0.1 * random(), 0.8 - 0.6 * (x / 48) + 0.1 * random()];
      const colour = Math.hypot(x - 30, y - 14) < 4 ? [1, 0.98, 0.9] : plain;
      out.data.set([...colour.map((v) => a * v), a], i);
    }
  return out;
}
function green(): Rgba {
  const out = newRgba(SIZE.width, SIZE.height);
  for (let i = 0; i < out.data.length; i += 4) out.data.set([0.2, 0.9, 0.4, 1], i);
  return out;
}
type Values = Record<string, SettingValue>;
const behind = { picture: green(), matte: null };

function made(effect: string, values: Values): Float32Array {
  const layer = thing();
  const item = newLaneEffect('x', 'front', null, effect, SIZE);
  Object.assign(item.settings, Object.fromEntries(Object.entries(values).map(([key, constant]) => [key, { constant }])));
  runEffect(layer, item, whereOn(layer, { behind, frame: 7 }));
  return layer.data;
}
const apart = (a: Float32Array, b: Float32Array): number => a.reduce((sum, v, i) => sum + Math.abs(v - b[i]), 0) / a.length;

/** What has to be set besides, where a setting says something only then. */
const WITH: Record<string, Values> = {
  'directional-blur angle': { length: 20 },
  'lens-blur from': { bloom: 3 },
  'contrast pivot': { contrast: 170 },
  'hue middle': { turn: 120, range: 60 },
  'hue range': { turn: 120 },
  'hue fade': { turn: 120, range: 60 },
  'spot x': { exposure: 2, radius: 10 },
  'spot y': { exposure: 2, radius: 10 },
  'spot radius': { exposure: 2, x: 20, y: 15, softness: 2 },
  'spot softness': { exposure: 2, radius: 10 },
  'spot around': { radius: 10 },
  'key colour': { by: 'colour', near: 40 },
  'key near': { by: 'colour' },
  'key softness': { by: 'colour' },
  'displace sides': { across: 60 },
  'framing middleX': { turn: 40 },
  'framing middleY': { turn: 40 },
  'framing sides': { scale: 40 },
  'shake sides': { across: 60 },
};
/** Told by a test of its own: it says something only while something moves. */
const ELSEWHERE = new Set(['framing shutter']);

function some(described: SettingDescription): SettingValue[] {
  switch (described.kind) {
    case 'number':
      // What goes round, as a direction does, is the same at both ends.
      return [0, 0.37, 1].map((share) => {
        // Of a place, what lies in the picture.
        const [least, most] = described.usual ?? (described.max > 10_000 ? [8, 40] : [described.min, described.max]);
        return least + share * (most - least);
      });
    case 'choice':
      return described.options.map((o) => o.id);
    case 'colour':
      return [
        [1, 0, 0],
        [0, 1, 0.5],
      ];
    case 'curve':
      return [
        [0, 0, 1, 1],
        [0, 0.4, 1, 0.8],
      ];
    case 'stops':
      return [described.start, [0, 1, 0, 0, 1, 1, 0, 0, 1, 1]];
  }
}

describe.each(EFFECTS.map((e) => [e.id]))('%s', (id) => {
  it.each(Object.keys(effectById(id).settings).filter((key) => !ELSEWHERE.has(`${id} ${key}`)))('%s does something', (key) => {
    const pictures = some(effectById(id).settings[key]).map((value) => made(id, { ...WITH[`${id} ${key}`], [key]: value }));
    expect(Math.max(...pictures.map((p) => apart(p, pictures[0])))).toBeGreaterThan(1e-5);
  });
});

/** Settings that say how much: the higher, the farther from what was there; or the nearer. */
const MORE =
  'gaussian-blur x, gaussian-blur y, directional-blur length, zoom-blur amount, turning-blur angle, lens-blur radius, glow strength, sharpen radius, sharpen amount, light-wrap width, light-wrap strength, grade exposure, contrast brightness, levels black, levels low, levels redBlack, levels greenBlack, levels blueBlack, levels redLow, levels greenLow, levels blueLow, temperature temperature, temperature tint, hue turn, hue lightness, hue range, hue fade, spot exposure, spot around, key low, key near, key softness, displace across, displace down, pixelate size, shake across, shake down, grain strength, grain bright';
const LESS = 'lens-blur from, glow from, sharpen above, levels high, levels redHigh, levels greenHigh, levels blueHigh, vignette inner';

/** How far it changes the thing with a setting at shares of its usual range, from what changes nothing on. */
function changes(of: string): number[] {
  const [effect, key] = of.split(' ');
  const described = effectById(effect).settings[key];
  if (described?.kind !== 'number') throw new Error(`${of} is no number.`);
  const [least, most] = described.usual ?? [described.min, described.max];
  const from = least < 0 ? described.start : least;
  const was = thing().data;
  return [0.1, 0.25, 0.45, 0.7].map((share) => apart(made(effect, { ...WITH[of], [key]: from + share * (most - from) }), was));
}

describe('settings that say how much', () => {
  it.each(MORE.split(', '))('%s: more the higher it is', (of) => {
    const found = changes(of);
    for (let k = 1; k < found.length; k++) expect(found[k], `${found}`).toBeGreaterThan(found[k - 1]);
  });
  it.each(LESS.split(', '))('%s: less the higher it is', (of) => {
    const found = changes(of);
    for (let k = 1; k < found.length; k++) expect(found[k], `${found}`).toBeLessThan(found[k - 1]);
  });
});
