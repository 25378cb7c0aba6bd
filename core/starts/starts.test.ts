import { describe, expect, it } from 'vitest';
import { descriptionsOf } from '../compose/lane-items.ts';
import { renderPicture } from '../compose/render-picture.ts';
import { applyChange, type Edit } from '../document/edits.ts';
import { newSpline } from '../document/part-kinds/spline.ts';
import { newDocument, newPath, newSubject } from '../document/records.ts';
import { documentSchema, type LaneItem, type ShotDocument } from '../document/schema.ts';
import { newRgba } from '../image/picture.ts';
import { NO_IMPORTS, type Sources } from '../matte/sources.ts';
import { corner } from '../path/path.ts';
import { hasKeys } from '../time/animated.ts';
import { keptStart, keptStartEdits, needsSubject } from './kept.ts';
import { laidOut, STARTS } from './starts.ts';

const SIZE = { width: 96, height: 54 };
let ids = 0;
const newId = () => `id-${ids++}`;

/** A subject that crosses a plate of stripes. */
function shot(frames: number): ShotDocument {
  const document = newDocument('Test', { ...SIZE, frames, rate: { num: 24, den: 1 }, firstNumber: 0 });
  const box = (left: number) => [corner(left, 15), corner(left + 24, 15), corner(left + 24, 45), corner(left, 45)];
  const path = newPath('q', 0, [], true);
  path.shape = {
    keys: [
      { frame: 0, value: box(4), ease: 'linear' },
      { frame: frames - 1, value: box(66), ease: 'linear' },
    ],
  };
  document.cast.push({ ...newSubject('s', 'Courier'), parts: [newSpline('curve', 'Curve', [path])] });
  return document;
}
const sources = (frames: number): Sources => ({
  ...NO_IMPORTS,
  async plate(frame, { width, height }) {
    const out = newRgba(width, height);
    const left = 4 + (62 * frame) / (frames - 1);
    for (let y = 0, o = 0; y < height; y++)
      for (let x = 0; x < width; x++, o += 4) {
        const there = x >= left && x < left + 24 && y >= 15 && y < 45;
        out.data.set(there ? [0.8, 0.5, 0.1 + 0.3 * (y % 2), 1] : [0.2, 0.3 + 0.3 * ((x >> 2) % 2), 0.4, 1], o);
      }
    return out;
  },
  async footage(_of, _frame, { width, height }) {
    const out = newRgba(width, height);
    for (let o = 0; o < out.data.length; o += 4) out.data.set([0.1, 0.9, 0.2, 1], o);
    return out;
  },
  letters: async () => ({ shapes: [[[corner(0, 0), corner(0.6, 0), corner(0.6, -0.7), corner(0, -0.7)]]], advances: [0.7] }),
});
const asked = { subject: 's', footage: { id: 'f', ...SIZE, frames: 20, alpha: false }, words: 'Low Tide', leader: 'curve' };

const withItems = (document: ShotDocument, items: LaneItem[]): ShotDocument =>
  applyChange(
    document,
    items.map((record, i): Edit => ({ kind: 'insert', parent: 'lanes', index: i, record })),
  ).document;

describe.each(STARTS.map((s) => [s.id, s] as const))('the start %s', (_id, start) => {
  it('lays out items that are valid, and whose settings are all known', () => {
    const document = withItems(shot(48), laidOut(start, shot(48), asked, newId));
    expect(documentSchema.safeParse(JSON.parse(JSON.stringify(document))).error).toBeUndefined();
    for (const item of document.lanes)
      for (const of of [item, ...(item.type === 'element' ? item.effects : [])])
        expect(
          Object.keys(of.settings).filter((key) => !(key in descriptionsOf(of))),
          of.id,
        ).toEqual([]);
    expect(start.steps.length).toBeGreaterThan(0);
  });

  it('changes the picture, somewhere in the shot', async () => {
    const frames = 24;
    const document = withItems(shot(frames), laidOut(start, shot(frames), asked, newId));
    let most = 0;
    for (const frame of [2, 5, 8, 11, 14, 20]) {
      const [is, was] = [await renderPicture(document, frame, sources(frames), SIZE), await sources(frames).plate(frame, SIZE)];
      const changed = is.data.reduce((n, v, i) => n + (Math.abs(v - was.data[i]) > 0.05 ? 1 : 0), 0) / is.data.length;
      most = Math.max(most, changed);
    }
    expect(most).toBeGreaterThan(0.01);
  });

  it('has its keys in proportion: in a shot ten times as long, ten times as far on', () => {
    const keysOf = (frames: number) =>
      laidOut(start, shot(frames), asked, newId).flatMap((item) =>
        [item.mix, ...Object.values(item.settings)].flatMap((v) => (hasKeys(v) ? v.keys.map((k) => k.frame) : [])),
      );
    const [short, long] = [keysOf(101), keysOf(1001)];
    expect(long).toEqual(short.map((frame) => 10 * frame));
  });
});

describe("a start of one's own", () => {
  it('comes to another shot, and another subject, with its keys as far on', () => {
    const title = STARTS.find((s) => s.id === 'title-behind');
    if (!title) throw new Error('There is no title.');
    const from = withItems(shot(101), laidOut(title, shot(101), asked, newId));
    const kept = keptStart(from, from.lanes);
    expect(needsSubject(kept)).toBe(true);
    const to = shot(201);
    to.cast = to.cast.map((s) => ({ ...s, id: 'other' }));
    const { document } = applyChange(to, keptStartEdits(kept, to, 'other', newId));
    const [item] = document.lanes;
    expect(item).toMatchObject({ subject: 'other', lane: 'behind', words: 'Low Tide' });
    expect(hasKeys(item.mix) && item.mix.keys.map((k) => k.frame)).toEqual([0, 16, 184, 200]);
    expect(item.id).not.toBe(from.lanes[0].id);
    // On a shot that is too short for its keys it is refused in words.
    expect(() => keptStartEdits(kept, shot(3), 's', newId)).toThrow(/would fall on one frame/);
  });
});
