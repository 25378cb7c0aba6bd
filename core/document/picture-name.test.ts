import { expect, it } from 'vitest';
import { newElement } from '../elements/index.ts';
import { applyChange, type Edit } from './edits.ts';
import { pictureName } from './picture-name.ts';
import { newDocument, newSubject } from './records.ts';
import type { ShotDocument } from './schema.ts';

function example(): ShotDocument {
  const document = newDocument('Shot', { width: 64, height: 36, frames: 10, rate: { num: 24, den: 1 }, firstNumber: 0 });
  document.cast.push(newSubject('s', 'Subject'), newSubject('t', 'Other'));
  document.lanes.push(newElement(document, 'e', 'front', null, 'card'), newElement(document, 'f', 'front', null, 'card'));
  return document;
}
const changed = (document: ShotDocument, edit: Edit) => applyChange(document, [edit]).document;
const copied = (document: ShotDocument): ShotDocument => structuredClone(document);

it('is that of a copy of a document, and of one that was changed and changed back', () => {
  const document = example();
  expect(pictureName(copied(document))).toBe(pictureName(document));
  const there = changed(document, { kind: 'assign', id: 'e', values: { enabled: false } });
  const back = changed(there, { kind: 'assign', id: 'e', values: { enabled: true } });
  expect(pictureName(there)).not.toBe(pictureName(document));
  expect(pictureName(back)).toBe(pictureName(document));
});

it('changes with whatever changes a picture, named before or not, and with nothing else', () => {
  const document = example();
  const before = pictureName(document);
  const edits: Edit[] = [
    { kind: 'assign', id: 'shot', values: { light: 'linear' } },
    { kind: 'animate', id: 's', setting: 'edge.grow', value: { constant: 2 } },
    { kind: 'assign', id: 'f', values: { blend: 'screen' } },
  ];
  const names = edits.map((edit) => pictureName(changed(document, edit)));
  expect(new Set([before, ...names]).size).toBe(edits.length + 1);
  for (const edit of edits) expect(pictureName(copied(changed(document, edit)))).toBe(pictureName(changed(document, edit)));
  const turned = { ...document, lanes: [...document.lanes].reverse() };
  expect(pictureName(turned)).not.toBe(before);
  expect(pictureName({ ...document, name: 'Another', markers: [], notes: [] })).toBe(before);
});
