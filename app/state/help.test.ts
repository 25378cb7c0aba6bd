import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { newImported } from '~/core/document/part-kinds/imported.ts';
import { newPeel } from '~/core/document/part-kinds/peel.ts';
import { newDocument, newPointTrack, newSubject } from '~/core/document/records.ts';
import { EFFECTS } from '~/core/effects/index.ts';
import { newLaneEffect } from '~/core/effects/lane-effect.ts';
import { ELEMENTS, newElement } from '~/core/elements/index.ts';
import { BENCHES } from './benches.ts';
import { helpPage } from './help.ts';

/** The headings of a page of the help, as links to them name them. */
const anchorsOf = (page: string): string[] =>
  [...readFileSync(`docs/${page}.md`, 'utf8').matchAll(/^#{1,4} (.+)$/gm)].map(([, heading]) =>
    heading
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, ''),
  );

function isThere(address: string): boolean {
  const [page, anchor] = address.split('#');
  return anchor === undefined ? anchorsOf(page).length > 0 : anchorsOf(page).includes(anchor);
}

const document = newDocument('Test', { width: 96, height: 54, frames: 10, rate: { num: 24, den: 1 }, firstNumber: 0 });
document.cast.push({ ...newSubject('s', 'S'), parts: [newPeel('peel', 'Peel'), newImported('matte', 'Matte', 'f', 10)] });
document.tracks.push(newPointTrack({ id: 'track', name: 'T', frame: 0, lines: 54 }, 5, 5));
document.lanes.push(
  ...EFFECTS.map((e) => newLaneEffect(e.id, 'front', null, e.id)),
  ...ELEMENTS.map((e) => newElement(document, `e-${e.id}`, 'front', null, e.id)),
);

describe('the help on what is selected or in hand', () => {
  it('is there for every tool of every bench', () => {
    for (const { id: bench, tools } of BENCHES)
      for (const tool of tools) {
        const address = helpPage({ document, selected: null }, { bench, tool });
        expect([address, isThere(address)]).toEqual([address, true]);
      }
  });

  it('is there for every effect and every element, each in its own place', () => {
    const addresses = document.lanes.map((l) => helpPage({ document, selected: l.id }, { bench: 'compose', tool: 'place' }));
    for (const address of addresses) expect([address, isThere(address)]).toEqual([address, true]);
    expect(new Set(addresses).size).toBe(document.lanes.length);
  });

  it('goes by the part or the track that is selected', () => {
    const pages = ['peel', 'matte', 'track'].map((selected) => helpPage({ document, selected }, { bench: 'isolate', tool: 'edit' }));
    expect(pages).toEqual(['by-strokes#carrying', 'by-hand#mattes-from-elsewhere', 'by-hand#tracking']);
    for (const address of pages) expect(isThere(address)).toBe(true);
  });
});
