/** Mixing in linear light, or in the plate's values. */
import { describe, expect, it } from 'vitest';
import { applyChange } from '../document/edits.ts';
import { newDocument } from '../document/records.ts';
import type { LaneItem, ShotDocument } from '../document/schema.ts';
import { newLaneEffect } from '../effects/lane-effect.ts';
import { newElement } from '../elements/index.ts';
import { toLinear, toPlateValues } from '../image/light.ts';
import { newRgba, type Rgba } from '../image/picture.ts';
import { NO_IMPORTS, type Sources } from '../matte/sources.ts';
import { renderPicture } from './render-picture.ts';

const SIZE = { width: 64, height: 32 };
/** Black on the left, white on the right. */
const plate = (): Rgba => {
  const out = newRgba(SIZE.width, SIZE.height);
  for (let p = 0; p < SIZE.width * SIZE.height; p++) out.data.set(p % SIZE.width < 32 ? [0, 0, 0, 1] : [1, 1, 1, 1], 4 * p);
  return out;
};
const sources: Sources = { ...NO_IMPORTS, plate: async () => plate() };
const bare = (light: ShotDocument['light']): ShotDocument => ({
  ...newDocument('Light', { ...SIZE, frames: 1, rate: { num: 24, den: 1 }, firstNumber: 0 }),
  light,
});
const seen = async (light: ShotDocument['light'], item: (document: ShotDocument) => LaneItem, x: number) => {
  const document = bare(light);
  document.lanes.push(item(document));
  return (await renderPicture(document, 0, sources, SIZE)).data[(16 * SIZE.width + x) * 4];
};
const effect =
  (id: string, settings: Record<string, number | number[]>, mix = 1) =>
  (): LaneItem => ({
    ...newLaneEffect('e', 'front', null, id),
    mix: { constant: mix },
    settings: Object.fromEntries(Object.entries(settings).map(([k, v]) => [k, { constant: v }])),
  });
const card =
  (opacity: number) =>
  (document: ShotDocument): LaneItem => {
    const made = newElement(document, 'c', 'front', null, 'card');
    const settings = { width: 200, height: 200, colours: '1', colour1: [1, 1, 1] };
    return {
      ...made,
      mix: { constant: opacity },
      settings: { ...made.settings, ...Object.fromEntries(Object.entries(settings).map(([k, v]) => [k, { constant: v }])) },
    };
  };

describe('linear light', () => {
  it('is what half of a white card lets through of black, and what a blur spreads', async () => {
    expect(await seen('plate', card(0.5), 10)).toBeCloseTo(0.5, 4);
    expect(await seen('linear', card(0.5), 10)).toBeCloseTo(0.5 ** (1 / 2.2), 4);
    const blur = effect('gaussian-blur', { x: 6, y: 0 });
    const middle = async (light: ShotDocument['light']) => ((await seen(light, blur, 31)) + (await seen(light, blur, 32))) / 2;
    expect(await middle('plate')).toBeCloseTo(0.5, 2);
    expect(await middle('linear')).toBeCloseTo(0.5 ** (1 / 2.2), 2);
  });

  it('changes no colour that is set, and no stop of exposure', async () => {
    for (const light of ['plate', 'linear'] as const) {
      expect(await seen(light, effect('solid', { colour: [0.3, 0.6, 0.1] }), 50)).toBeCloseTo(0.3, 4);
      expect(await seen(light, effect('grade', { exposure: -1, saturation: 100 }), 50)).toBeCloseTo(2 ** (-1 / 2.2), 4);
      expect(await seen(light, effect('monochrome', { tint: [0.5, 1, 1] }), 50)).toBeCloseTo(0.5, 4);
    }
  });

  it('leaves a plate on which nothing is seen as it is, to the bit', async () => {
    expect((await renderPicture(bare('linear'), 0, sources, SIZE)).data).toEqual(plate().data);
  });

  it('is there and back within a fiftieth of a step of 8 bit', () => {
    const ramp = newRgba(1024, 1);
    for (let x = 0; x < 1024; x++)
      ramp.data.set(
        [x / 1023, (x / 1023) ** 2, 0, 1].map((v) => v * (x % 2 ? 1 : 0.5)),
        4 * x,
      );
    const turned = { ...ramp, data: ramp.data.slice() };
    toLinear(turned);
    expect(turned.data[4 * 511] / turned.data[4 * 511 + 3]).toBeCloseTo((511 / 1023) ** 2.2, 5);
    toPlateValues(turned);
    for (let i = 0; i < ramp.data.length; i++) expect(Math.abs(turned.data[i] - ramp.data[i])).toBeLessThan(0.02 / 255);
  });

  it('is chosen for the shot by an edit that can be taken back; nothing else of the shot can be set so', () => {
    const document = bare('plate');
    const { document: after, inverse } = applyChange(document, [{ kind: 'assign', id: 'shot', values: { light: 'linear' } }]);
    expect(after.light).toBe('linear');
    expect(applyChange(after, inverse).document).toEqual(document);
    expect(() => applyChange(document, [{ kind: 'assign', id: 'shot', values: { light: 'moon' } }])).toThrow();
    expect(() => applyChange(document, [{ kind: 'assign', id: 'shot', values: { version: 9 } }])).toThrow('A shot has no field "version"');
  });
});
