import { describe, expect, it } from 'vitest';
import { newPeel } from '../document/part-kinds/peel.ts';
import { newSpline } from '../document/part-kinds/spline.ts';
import { newDocument, newPath, newStroke, newSubject } from '../document/records.ts';
import { remarksOf } from '../document/remarks.ts';
import type { Lane, LaneItem, ShotDocument } from '../document/schema.ts';
import { newLaneEffect } from '../effects/lane-effect.ts';
import { newElement } from '../elements/index.ts';
import { newRgba } from '../image/picture.ts';
import { NO_IMPORTS, type Sources } from '../matte/sources.ts';
import { corner } from '../path/path.ts';
import { framesToLook, unseenOn } from './unseen.ts';

const SIZE = { width: 64, height: 40 };
const sources: Sources = {
  ...NO_IMPORTS,
  async plate() {
    const out = newRgba(SIZE.width, SIZE.height);
    for (let i = 0; i < out.data.length; i += 4) out.data.set([0.2 + 0.4 * ((i / 4) % 2), 0.5, 0.3, 1], i);
    return out;
  },
};

/** A subject that is the left half. */
function shot(): ShotDocument {
  const document = newDocument('Test', { ...SIZE, frames: 20, rate: { num: 24, den: 1 }, firstNumber: 0 });
  const subject = newSubject('s', 'Left');
  subject.parts.push(newSpline('p', 'Half', [newPath('q', 0, [corner(0, 0), corner(32, 0), corner(32, 40), corner(0, 40)], true)]));
  document.cast.push(subject);
  return document;
}
const card = (document: ShotDocument, id: string, lane: Lane, width: number, x = 32): LaneItem => {
  const made = newElement(document, id, lane, lane === 'front' || lane === 'backdrop' ? null : 's', 'card');
  return { ...made, settings: { ...made.settings, width: { constant: width }, height: { constant: 80 }, x: { constant: x }, y: { constant: 20 } } };
};
const why = async (document: ShotDocument, frame = 0) => Object.fromEntries(await unseenOn(document, frame, sources, SIZE));

describe('what is not seen', () => {
  it('is covered by what is nearer, has no room in its lane, or changes nothing', async () => {
    const document = shot();
    document.lanes.push(card(document, 'behind', 'behind', 200), newLaneEffect('blur', 'inside', 's', 'gaussian-blur'));
    expect(await why(document)).toEqual({});
    document.lanes.push(card(document, 'curtain', 'front', 200));
    expect(await why(document)).toEqual({ behind: 'covered', blur: 'covered' });
    // Beside the curtain something of both is seen again.
    document.lanes[2] = card(document, 'curtain', 'front', 20);
    expect(await why(document)).toEqual({});
    document.lanes.push(newLaneEffect('grade', 'behind', 's', 'grade'), card(document, 'aside', 'front', 10, 400));
    expect(await why(document)).toEqual({ grade: 'no-change', aside: 'no-change' });
  });

  it('inside a subject that masks nothing has no room', async () => {
    const document = shot();
    document.cast[0].parts[0] = newSpline('p', 'Half', [newPath('q', 0, [corner(0, 0), corner(32, 0), corner(32, 40)], false)]);
    document.lanes.push(newLaneEffect('solid', 'inside', 's', 'solid'));
    expect(await why(document)).toEqual({ solid: 'no-room' });
  });

  it('is not told of what is not asked to be seen', async () => {
    const document = shot();
    const solid = newLaneEffect('solid', 'inside', 's', 'solid');
    document.lanes.push(
      { ...solid, enabled: false },
      { ...solid, id: 'late', lives: [{ first: 5, last: 9 }] },
      { ...solid, id: 'faint', mix: { constant: 0 } },
    );
    expect(await why(document)).toEqual({});
  });

  it('is looked for on frames spread over those on which it lives', () => {
    const item = newLaneEffect('solid', 'inside', 's', 'solid');
    expect(framesToLook(item, 20, 5)).toEqual([0, 5, 10, 14, 19]);
    expect(framesToLook(item, 1, 5)).toEqual([0]);
    const bursts = {
      ...item,
      lives: [
        { first: 2, last: 3 },
        { first: 10, last: 40 },
      ],
    };
    const looked = framesToLook(bursts, 20, 4);
    expect(looked.every((f) => (f >= 2 && f <= 3) || (f >= 10 && f <= 19))).toBe(true);
    expect(looked.length).toBeLessThanOrEqual(4);
  });
});

describe('remarks', () => {
  const words = (document: ShotDocument) => remarksOf(document).map((r) => [r.id, r.words]);

  it('tell of open curves, of a Peel without strokes, and of items with nothing to show', () => {
    const document = shot();
    expect(words(document)).toEqual([]);
    const square = [corner(0, 0), corner(9, 0), corner(9, 9)];
    document.cast[0].parts.push(
      newSpline('open', 'Open', [newPath('o', 0, square, false)]),
      newSpline('half', 'Half open', [newPath('a', 0, square, false), newPath('b', 0, square, true)]),
      newPeel('peel', 'Peel', [newStroke('k', 0, 'drop', [1, 1])]),
    );
    document.lanes.push(
      newElement(document, 'shot', 'front', null, 'footage'),
      { ...newElement(document, 'title', 'front', null, 'title'), words: '  ' },
      { ...newLaneEffect('late', 'inside', 's', 'solid'), lives: [{ first: 90, last: 99 }] },
      { ...newLaneEffect('none', 'inside', 's', 'solid'), mix: { constant: 0 } },
    );
    expect(words(document)).toEqual([
      ['open', 'its curve is open and masks nothing: close it'],
      ['half', 'one of its curves is open and masks nothing'],
      ['peel', 'nothing is kept: paint a keep stroke on the subject'],
      ['shot', 'not seen: choose its footage'],
      ['title', 'not seen: it has no words'],
      ['late', 'not seen: it lives on frames after the end of the shot'],
      ['none', 'not seen: its mix is 0'],
    ]);
  });

  it('say of what is inside a subject that this masks nothing yet; switched off, nothing is said', () => {
    const document = shot();
    document.cast[0].parts = [newSpline('open', 'Open', [newPath('o', 0, [corner(0, 0), corner(9, 0)], false)])];
    document.lanes.push(newLaneEffect('solid', 'inside', 's', 'solid'));
    expect(words(document)).toEqual([
      ['open', 'its curve is open and masks nothing: close it'],
      ['solid', 'not seen: Left masks nothing yet'],
    ]);
    document.cast[0].parts[0].enabled = false;
    document.lanes[0].enabled = false;
    expect(words(document)).toEqual([]);
  });
});

describe('what a matte hides', () => {
  it('is told, also where the matte is switched off itself', async () => {
    const document = shot();
    const black = { ...card(document, 'matte', 'front', 200), enabled: false } as LaneItem;
    black.settings = { ...black.settings, colours: { constant: '1' }, colour1: { constant: [0, 0, 0] } };
    document.lanes = [black, { ...card(document, 'hidden', 'front', 40), matteOf: 'matte' }, card(document, 'there', 'front', 10)];
    expect([...(await unseenOn(document, 0, sources, SIZE)).keys()]).toEqual(['hidden']);
  });
});
