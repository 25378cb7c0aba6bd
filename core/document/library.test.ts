import { describe, expect, it } from 'vitest';
import { newElementEffect, newLaneEffect } from '../effects/lane-effect.ts';
import { newElement } from '../elements/index.ts';
import { applyChange } from './edits.ts';
import { copiedItems, effectContent, elementContent, lanePresetEdits, libraryItemSchema, peelContent, trackContent } from './library.ts';
import { newPeel } from './part-kinds/peel.ts';
import { newDocument, newPointTrack, newSubject } from './records.ts';
import type { Element, ShotDocument } from './schema.ts';

const shot = (): ShotDocument => {
  const document = newDocument('Test', { width: 100, height: 50, frames: 30, rate: { num: 24, den: 1 }, firstNumber: 0 });
  document.cast.push({ ...newSubject('s', 'Courier'), parts: [newPeel('peel', 'Peel')] }, newSubject('t', 'Trike'));
  document.tracks.push(newPointTrack({ id: 'track', name: 'Nose', frame: 3, lines: 50 }, 10, 20));
  return document;
};
let count = 0;
const newId = () => `new-${count++}`;
const keys = (...at: [number, number][]) => ({ keys: at.map(([frame, value]) => ({ frame, value, ease: 'linear' as const })) });

/** A title with everything: words, corners, a blend, a range, effects, a matte, and something it follows. */
function title(document: ShotDocument): Element {
  const made = newElement(document, 'title', 'behind', 's', 'title');
  const glow = newElementEffect('glow', 'glow', document.plate);
  glow.settings.radius = keys([12, 5], [20, 40]);
  return {
    ...made,
    words: 'By trike',
    blend: 'screen',
    lives: [{ first: 10, last: 25 }],
    corners: { constant: [0, 0, 9, 0, 9, 5, 0, 5] },
    mix: keys([10, 0], [14, 1]),
    matteOf: 't',
    follow: { track: 'track', frame: 3, takes: ['position'] },
    effects: [glow],
  };
}

describe('a preset of an element', () => {
  it('holds the whole of it, and is read back from what is stored', () => {
    const document = shot();
    const item = libraryItemSchema.parse(JSON.parse(JSON.stringify({ kind: 'element', name: 'Post title', content: elementContent(title(document)) })));
    const target = newElement(document, 'other', 'front', null, 'title');
    document.lanes.push({ ...target, effects: [newElementEffect('old', 'grade', document.plate)] });
    if (item.kind !== 'element') throw new Error('It is one.');
    const after = applyChange(document, lanePresetEdits(document, document.lanes[0], item.content, 2, newId)).document.lanes[0] as Element;
    expect(after).toMatchObject({
      ...{ id: 'other', lane: 'front', subject: null, name: target.name, words: 'By trike', blend: 'screen', matteOf: 't' },
      // Its first key was on 10, and comes to 2; ranges and effects go with it.
      lives: [{ first: 2, last: 17 }],
      mix: keys([2, 0], [6, 1]),
      corners: { constant: [0, 0, 9, 0, 9, 5, 0, 5] },
      follow: { track: 'track' },
    });
    expect(after.effects.map((e) => [e.effect, e.settings.radius])).toEqual([['glow', keys([4, 5], [12, 40])]]);
  });

  it('lets go of what is not in the shot where it is used, and one of an earlier version sets what it has', () => {
    const document = newDocument('Elsewhere', shot().plate);
    document.lanes.push(newElement(document, 'other', 'front', null, 'title'));
    const after = applyChange(document, lanePresetEdits(document, document.lanes[0], elementContent(title(shot())), 0, newId)).document.lanes[0];
    expect(after).toMatchObject({ words: 'By trike', matteOf: null, follow: null });
    const earlier = libraryItemSchema.parse({
      kind: 'element',
      name: 'Old',
      content: { element: 'title', mix: { constant: 0.5 }, settings: { size: { constant: 9 } } },
    });
    if (earlier.kind !== 'element') throw new Error('It is one.');
    const kept = applyChange(document, [
      { kind: 'assign', id: 'other', values: { words: 'Stays' } },
      ...lanePresetEdits(document, document.lanes[0], earlier.content, 0, newId),
    ]);
    expect(kept.document.lanes[0]).toMatchObject({ words: 'Stays', mix: { constant: 0.5 }, settings: { size: { constant: 9 } } });
  });

  it('is there of effects, Peels and tracks as well', () => {
    const document = shot();
    const blur = { ...newLaneEffect('blur', 'inside', 's', 'gaussian-blur'), blend: 'multiply' as const, leaves: true, matteOf: 't' };
    document.lanes.push(newLaneEffect('other', 'inside', 't', 'gaussian-blur'));
    const after = applyChange(document, lanePresetEdits(document, document.lanes[0], effectContent(blur), 0, newId)).document.lanes[0];
    expect(after).toMatchObject({ id: 'other', subject: 't', blend: 'multiply', leaves: true });
    const peel = { ...newPeel('p', 'P'), look: 22, quality: 'draft' as const };
    expect(libraryItemSchema.parse({ kind: 'peel', name: 'Wide', content: peelContent(peel) }).content).toMatchObject({ look: 22, quality: 'draft' });
    expect(applyChange(document, [{ kind: 'assign', id: 'peel', values: peelContent(peel) }]).document.cast[0].parts[0]).toMatchObject({ look: 22 });
    const track = { ...document.tracks[0], search: 99 };
    expect(applyChange(document, [{ kind: 'assign', id: 'track', values: trackContent(track) }]).document.tracks[0].search).toBe(99);
    expect(libraryItemSchema.safeParse({ kind: 'peel', name: 'Wrong', content: { look: 'far' } }).success).toBe(false);
  });
});

describe('copies of items', () => {
  it('lead to one another where the items did, and to nothing that is not there', () => {
    const document = shot();
    const lead = newElement(document, 'card', 'behind', 's', 'card');
    const led = { ...title(document), matteOf: 'card', follow: { track: 'card', frame: 0, takes: ['position' as const] }, pins: {} };
    const items = [lead, led].map((i) => ({ ...i, subject: 't' }));
    const copies = copiedItems(document, items, newId);
    const edits = copies.map((record, index) => ({ kind: 'insert' as const, parent: 'lanes', index, record }));
    const { lanes } = applyChange(document, edits).document;
    expect(new Set(lanes.map((l) => l.id)).size).toBe(2);
    expect(lanes.map((l) => l.subject)).toEqual(['t', 't']);
    expect([lanes[1].matteOf, lanes[1].follow?.track]).toEqual([lanes[0].id, lanes[0].id]);
    const elsewhere = { ...newDocument('Elsewhere', document.plate), cast: [newSubject('u', 'Courier')] };
    const [alone] = copiedItems(elsewhere, [{ ...title(document), subject: 'u' }], newId);
    expect(alone).toMatchObject({ matteOf: null, follow: null, words: 'By trike' });
    expect(() => applyChange(elsewhere, [{ kind: 'insert', parent: 'lanes', index: 0, record: alone }])).not.toThrow();
  });
});
