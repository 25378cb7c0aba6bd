import { describe, expect, it } from 'vitest';
import { applyChange } from '../document/edits.ts';
import { newDocument } from '../document/records.ts';
import type { Element, ShotDocument } from '../document/schema.ts';
import { newElementEffect } from '../effects/lane-effect.ts';
import { newElement } from '../elements/index.ts';
import type { FrameRange } from '../time/ranges.ts';
import { spanOf, stretchEdits } from './stretch.ts';

const key = (frame: number, value: number) => ({ frame, value, ease: 'linear' as const });

function shot(more: Partial<Element>, kind = 'title'): ShotDocument {
  const document = newDocument('Test', { width: 64, height: 40, frames: 100, rate: { num: 24, den: 1 }, firstNumber: 0 });
  document.lanes.push({ ...newElement(document, 'e', 'front', null, kind), ...more });
  return document;
}
function stretched(document: ShotDocument, to: FrameRange): Element {
  const item = document.lanes[0];
  const { document: after } = applyChange(document, stretchEdits(item, spanOf(item, document.plate.frames), to));
  return after.lanes[0] as Element;
}
const frames = (value: unknown) => (value as { keys: { frame: number }[] }).keys.map((k) => k.frame);

describe('laying an item over other frames', () => {
  it('moves its life and all its keys in proportion, those of its own effects too', () => {
    const blur = newElementEffect('b', 'gaussian-blur', { width: 64, height: 40 });
    const document = shot({
      lives: [
        { first: 10, last: 20 },
        { first: 40, last: 50 },
      ],
      mix: { keys: [key(10, 0), key(14, 1), key(50, 0)] },
      effects: [{ ...blur, settings: { ...blur.settings, x: { keys: [key(10, 0), key(30, 9)] } } }],
    });
    expect(spanOf(document.lanes[0], 100)).toEqual({ first: 10, last: 50 });
    const item = stretched(document, { first: 0, last: 80 });
    expect(item.lives).toEqual([
      { first: 0, last: 20 },
      { first: 60, last: 80 },
    ]);
    expect(frames(item.mix)).toEqual([0, 8, 80]);
    expect(frames(item.effects[0].settings.x)).toEqual([0, 40]);
  });

  it('takes frames along that are told in settings: a place where it lies, a length by as much', () => {
    const made = shot({}, 'way');
    const item = made.lanes[0] as Element;
    const document = {
      ...made,
      lanes: [{ ...item, lives: [{ first: 20, last: 40 }], settings: { ...item.settings, begins: { constant: 30 }, takes: { constant: 8 } } }],
    };
    const { settings } = stretched(document, { first: 40, last: 80 });
    expect([settings.begins, settings.takes]).toEqual([{ constant: 60 }, { constant: 16 }]);
  });

  it('only moves what says one frame alone, and takes all of the shot for what says none', () => {
    expect(frames(stretched(shot({ mix: { keys: [key(12, 1)] } }), { first: 30, last: 60 }).mix)).toEqual([30]);
    expect(spanOf(shot({}).lanes[0], 100)).toEqual({ first: 0, last: 99 });
  });

  it('is refused where keys would fall together, and can be taken back', () => {
    const document = shot({ mix: { keys: [key(10, 0), key(11, 1), key(50, 0)] } });
    expect(() => stretched(document, { first: 0, last: 3 })).toThrow(/would fall on one frame/);
    const item = document.lanes[0];
    const { document: after, inverse } = applyChange(document, stretchEdits(item, spanOf(item, 100), { first: 0, last: 90 }));
    expect(applyChange(after, inverse).document).toEqual(document);
  });
});
