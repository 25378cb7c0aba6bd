import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newElementEffect, newLaneEffect } from '../effects/lane-effect.ts';
import { newElement } from '../elements/index.ts';
import { corner } from '../path/path.ts';
import { applyChange, applyEdit, type Edit, EditError, editSchema, findRecord, parseDocument } from './edits.ts';
import { documentJsonSchema } from './json-schema.ts';
import { newPeel } from './part-kinds/peel.ts';
import { newSpline } from './part-kinds/spline.ts';
import { newDocument, newPath, newPointTrack, newStroke, newSubject } from './records.ts';
import type { ShotDocument } from './schema.ts';

const triangle = (x: number) => [corner(x, 0), corner(x + 10, 0), corner(x, 10)];

function example(): ShotDocument {
  const document = newDocument('Example', { width: 100, height: 50, frames: 30, rate: { num: 24, den: 1 }, firstNumber: 1001 });
  const path = { ...newPath('path', 3, triangle(0), true) };
  path.shape = { keys: [3, 9, 20].map((frame) => ({ frame, value: triangle(frame), ease: 'linear' as const })) };
  const subject = newSubject('subject', 'Courier');
  const stroke = (id: string, kind: 'keep' | 'drop', frame: number) => newStroke(id, frame, kind, [1, 2, 3, 4], 4);
  const peel = newPeel('peel', 'Crate', [stroke('kept', 'keep', 3), stroke('dropped', 'drop', 3)]);
  subject.parts.push(newSpline('part', 'Body', [path]), newSpline('part2', 'Arm'), peel);
  document.cast.push(subject, newSubject('other', 'Kite'));
  document.lanes.push(newLaneEffect('blur', 'behind', 'subject', 'gaussian-blur'), newLaneEffect('solid', 'inside', 'other', 'solid'));
  const own = (id: string, effect: string) => newElementEffect(id, effect, document.plate);
  document.lanes.push({ ...newElement(document, 'title', 'behind', 'subject', 'title'), effects: [own('soft', 'gaussian-blur'), own('grey', 'monochrome')] });
  return document;
}

/** Every kind of edit, with places that exist. */
const EDITS: Edit[] = [
  { kind: 'insert', parent: 'cast', index: 1, record: newSubject('new', 'New') },
  { kind: 'insert', parent: 'subject', index: 0, record: newSpline('new-part', 'New') },
  { kind: 'insert', parent: 'part', index: 1, record: newPath('new-path', 0, triangle(2), false) },
  { kind: 'insert', parent: 'lanes', index: 0, record: newLaneEffect('new-effect', 'inside', 'subject', 'monochrome') },
  { kind: 'insert', parent: 'lanes', index: 1, record: newElement(example(), 'new-element', 'front', null, 'card') },
  { kind: 'assign', id: 'title', values: { words: 'Low tide', blend: 'screen', lives: [{ first: 2, last: 9 }] } },
  { kind: 'assign', id: 'title', values: { lane: 'backdrop', subject: null } },
  { kind: 'assign', id: 'title', values: { footage: { id: 'p', width: 4, height: 2, frames: 3, alpha: true } } },
  { kind: 'animate', id: 'title', setting: 'corners', value: { constant: [0, 0, 9, 1, 9, 8, 1, 9] } },
  { kind: 'animate', id: 'title', setting: 'settings.align', value: { constant: 'left' } },
  { kind: 'insert', parent: 'title', index: 1, record: newElementEffect('own', 'grade', example().plate) },
  { kind: 'move', id: 'soft', index: 1 },
  { kind: 'remove', id: 'grey' },
  { kind: 'assign', id: 'soft', values: { enabled: false } },
  { kind: 'keys', id: 'soft', setting: 'settings.x', set: [{ frame: 2, value: 4, ease: 'linear' }], clear: [] },
  { kind: 'insert', parent: 'subject', index: 1, record: newPeel('new-peel', 'New') },
  {
    kind: 'insert',
    parent: 'peel',
    index: 1,
    record: newStroke('more', 9, 'drop', [5, 5], 2, true),
  },
  { kind: 'remove', id: 'kept' },
  { kind: 'assign', id: 'dropped', values: { enabled: false } },
  { kind: 'assign', id: 'kept', values: { mends: true } },
  { kind: 'assign', id: 'peel', values: { look: 20, separatePieces: true } },
  { kind: 'remove', id: 'path' },
  { kind: 'remove', id: 'part' },
  { kind: 'remove', id: 'blur' },
  { kind: 'move', id: 'subject', index: 1 },
  { kind: 'move', id: 'part2', index: 0 },
  { kind: 'assign', id: 'part', values: { name: 'Torso', inverted: true, operation: 'subtract' } },
  { kind: 'keys', id: 'subject', setting: 'edge.falloff', set: [{ frame: 4, value: 'linear', ease: 'hold' }], clear: [] },
  { kind: 'assign', id: 'blur', values: { lane: 'inside', subject: 'other' } },
  { kind: 'animate', id: 'part', setting: 'opacity', value: { constant: 0.5 } },
  { kind: 'animate', id: 'blur', setting: 'settings.x', value: { keys: [{ frame: 2, value: 4, ease: 'hold' }] } },
  { kind: 'keys', id: 'path', setting: 'shape', set: [{ frame: 5, value: triangle(50), ease: 'linear' }], clear: [9] },
  { kind: 'keys', id: 'path', setting: 'shape', set: [], clear: [3, 9, 20] },
  { kind: 'animate', id: 'blur', setting: 'settings.matteBlack', value: { constant: 20 } },
  { kind: 'keys', id: 'solid', setting: 'settings.matteWhite', set: [{ frame: 3, value: 40, ease: 'linear' }], clear: [] },
  { kind: 'assign', id: 'blur', values: { matteOf: 'title', blend: 'hue' } },
  { kind: 'assign', id: 'title', values: { pins: { fromX: { track: 'part', frame: 2, takes: ['position'] } } } },
  { kind: 'animate', id: 'subject', setting: 'rim.inner', value: { constant: 12 } },
  { kind: 'keys', id: 'subject', setting: 'edge.grow', set: [{ frame: 0, value: 1, ease: 'linear' }], clear: [] },
];

describe('edits', () => {
  it.each(EDITS.map((e) => [`${e.kind} ${'id' in e ? e.id : e.parent}`, e] as const))(
    '%s is taken back exactly by its inverse, and never changes the document given',
    (_name, edit) => {
      const before = example();
      const frozen = JSON.stringify(before);
      const { document, inverse } = applyEdit(before, edit);
      expect(JSON.stringify(before)).toBe(frozen);
      expect(document).not.toEqual(before);
      expect(applyEdit(document, editSchema.parse(inverse)).document).toEqual(before);
    },
  );

  it('of any sequence are taken back in one go', () => {
    fc.assert(
      fc.property(fc.shuffledSubarray(EDITS), (edits) => {
        let current = example();
        const back: Edit[] = [];
        for (const edit of edits) {
          try {
            const step = applyChange(current, [edit]);
            current = step.document;
            back.unshift(...step.inverse);
          } catch (error) {
            expect(error).toBeInstanceOf(EditError);
          }
        }
        expect(back.length > 0 ? applyChange(current, back).document : current).toEqual(example());
      }),
      { numRuns: 150, seed: 3 },
    );
  });

  it('that take a note, a marker or a track away are taken back as well', () => {
    const document = {
      ...example(),
      notes: [{ id: 'note', type: 'note' as const, frame: 4, text: 'Look here' }],
      markers: [{ id: 'marker', type: 'marker' as const, name: 'Gust', range: { first: 2, last: 6 } }],
      tracks: [newPointTrack({ id: 'track', name: 'Nose', frame: 3, lines: 50 }, 10, 20)],
    };
    for (const id of ['note', 'marker', 'track']) {
      const { document: after, inverse } = applyChange(document, [{ kind: 'remove', id }]);
      expect(findRecord(after, id)).toBeUndefined();
      expect(applyChange(after, inverse).document).toEqual(document);
    }
  });

  it('give an effect a setting that its record did not have, and take it back', () => {
    const { document, inverse } = applyChange(example(), [{ kind: 'animate', id: 'blur', setting: 'settings.matteBlack', value: { constant: 20 } }]);
    expect(findRecord(document, 'blur')).toMatchObject({ settings: { matteBlack: { constant: 20 } } });
    expect(applyChange(document, inverse).document).toEqual(example());
    expect(() => applyChange(example(), [{ kind: 'keys', id: 'blur', setting: 'settings.matteBlack', set: [], clear: [2] }])).toThrow('has no setting');
  });

  it('keep the value of the last key as a constant', () => {
    const { document } = applyEdit(example(), { kind: 'keys', id: 'path', setting: 'shape', set: [], clear: [3, 9, 20] });
    expect(findRecord(document, 'path')).toMatchObject({ shape: { constant: triangle(3) } });
  });

  it.each<[string, unknown, RegExp]>([
    ['a record that is gone', { kind: 'remove', id: 'nowhere' }, /no longer in the shot/],
    ['an id that is there already', { kind: 'insert', parent: 'cast', index: 0, record: newSubject('part', 'Twin') }, /in the shot already/],
    ['a record in the wrong place', { kind: 'insert', parent: 'lanes', index: 0, record: newSubject('x', 'X') }, /cannot be put there/],
    [
      'a stroke in a spline',
      {
        kind: 'insert',
        parent: 'part',
        index: 0,
        record: { id: 'x', type: 'stroke', kind: 'drop', frame: 0, radius: 2, points: [5, 5], enabled: true, mends: true },
      },
      /cannot be put there/,
    ],
    ['a field that does not exist', { kind: 'assign', id: 'part', values: { weight: 'heavy' } }, /has no field "weight"/],
    ['a choice that there is not', { kind: 'animate', id: 'subject', setting: 'edge.falloff', value: { constant: 'steep' } }, /./],
    ['a value out of range', { kind: 'animate', id: 'part', setting: 'opacity', value: { constant: 7 } }, /./],
    ['an effect for a subject that is not there', { kind: 'assign', id: 'blur', values: { subject: 'nobody' } }, /needs a subject of this shot/],
    ['an element in front that is of a subject', { kind: 'assign', id: 'title', values: { lane: 'front' } }, /in front or in the backdrop is of no subject/],
    [
      'an element that follows a track that is not there',
      { kind: 'assign', id: 'title', values: { follow: { track: 'nowhere', frame: 0, takes: ['position'] } } },
      /Title 1 follows something that is not in this shot/,
    ],
    ['corners that are not four', { kind: 'animate', id: 'title', setting: 'corners', value: { constant: [1, 2, 3] } }, /./],
    ['a subject that effects still use', { kind: 'remove', id: 'subject' }, /in the lanes of this subject: take them out first/],
    ['keys of a setting that is not there', { kind: 'keys', id: 'part', setting: 'mix', set: [], clear: [] }, /has no setting "mix"/],
  ])('refuse %s', (_name, edit, message) => {
    expect(() => applyChange(example(), [editSchema.parse(edit)])).toThrow(message);
  });

  it('are refused where they would write outside the document', () => {
    for (const setting of ['__proto__.x', 'settings.__proto__', 'parts', 'edge.nothing'])
      expect(editSchema.safeParse({ kind: 'animate', id: 'part', setting, value: { constant: 1 } }).success && setting !== 'settings.__proto__').toBe(false);
  });
});

describe('parseDocument', () => {
  it('gives back what was written', () => {
    expect(parseDocument(JSON.parse(JSON.stringify(example())))).toEqual(example());
  });

  it.each<[string, (d: ShotDocument) => unknown, RegExp]>([
    ['something else', () => ({ hello: 'world' }), /not a shot document/],
    ['a stroke of half a point', (d) => JSON.parse(JSON.stringify(d).replace('[1,2,3,4]', '[1,2,3]')), /pairs of numbers/],
    ['a newer version', (d) => ({ ...d, version: 99 }), /later version of Mottrel \(document version 99; this one reads up to 2\)/],
    ['two records of one id', (d) => ({ ...d, cast: [d.cast[0], d.cast[0]] }), /two records have the same id/],
    ['an effect of a missing subject', (d) => ({ ...d, cast: [d.cast[0]] }), /needs a subject of this shot/],
    ['a number that is none', (d) => JSON.parse(JSON.stringify(d).replace('"width":100', '"width":"wide"')), /plate\.width/],
  ])('refuses %s and says what is wrong', (_name, change, message) => {
    expect(() => parseDocument(change(example()))).toThrow(message);
  });

  it('has a published JSON Schema that names every field', () => {
    const text = JSON.stringify(documentJsonSchema());
    for (const field of ['featherIn', 'operation', 'firstNumber', 'inverted', 'lanes']) expect(text).toContain(`"${field}"`);
  });
});
