import { describe, expect, it } from 'vitest';
import { documentSchema } from '../document/schema.ts';
import { type Join, joinedDocument, joinedTimes } from './joined.ts';

const shot = (id: string, frames: number, more: object = {}) => ({
  ...{ id, name: id, plateId: `plate-${id}`, frames, width: 96, height: 64, rate: { num: 24, den: 1 }, finished: null },
  ...more,
});
let ids = 0;
const made = (join: Join) => documentSchema.parse(joinedDocument(join, () => `id-${ids++}`));
const at = (settings: Record<string, unknown>, key: string) => (settings[key] as { constant: unknown }).constant;

describe('shots joined', () => {
  it('come one after the other, each way over the end of one and the beginning of the next', () => {
    const shots = [shot('a', 30), shot('b', 20), shot('c', 40)];
    expect(joinedTimes({ shots, takes: 6 })).toEqual({ begins: [0, 24, 38], lengths: [30, 20, 40], frames: 78 });
    expect(joinedTimes({ shots, takes: 0 }).frames).toBe(90);
    const { lanes, plate } = made({ name: 'All', shots, way: 'push', takes: 6, held: null });
    expect(plate).toMatchObject({ width: 96, height: 64, frames: 78 });
    expect(lanes.map((l) => [l.type === 'element' && l.element, l.type === 'element' && l.footage?.id])).toEqual([
      ['footage', 'plate-a'],
      ['way', 'plate-b'],
      ['way', 'plate-c'],
    ]);
    expect(lanes.slice(1).map(({ settings }) => [at(settings, 'way'), at(settings, 'begins'), at(settings, 'takes')])).toEqual([
      ['push', 24, 6],
      ['push', 38, 6],
    ]);
  });

  it('last as long as they do by the clock, and show what is finished of them', () => {
    const shots = [shot('a', 24), shot('b', 60, { rate: { num: 60, den: 1 }, finished: 120 })];
    expect(joinedTimes({ shots, takes: 4 })).toEqual({ begins: [0, 20], lengths: [24, 48], frames: 68 });
    const [, way] = made({ name: 'Two', shots, way: 'dissolve', takes: 4, held: null }).lanes;
    expect(at(way.settings, 'speed')).toBe(250);
    expect(way.type === 'element' && way.footage).toMatchObject({ frames: 120, made: { shot: 'b', subject: null } });
  });

  it('hold a subject on top while its shot comes and goes', () => {
    const shots = [shot('a', 30), shot('b', 20), shot('c', 40)];
    const held = { shot: 1, subject: 's', name: 'Courier' };
    const last = made({ name: 'Held', shots, way: 'slide', takes: 6, held }).lanes.at(-1);
    expect(last).toMatchObject({
      ...{ name: 'Courier, on top', footage: { id: 'plate-b', alpha: true, made: { shot: 'b', subject: 's' } } },
      lives: [
        { first: 24, last: 29 },
        { first: 38, last: 43 },
      ],
    });
    expect(at(last?.settings ?? {}, 'offset')).toBe(24);
  });
});
