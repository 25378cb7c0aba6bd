import { describe, expect, it } from 'vitest';
import { foreignRemarks } from '../compose/foreign.ts';
import { renderPicture } from '../compose/render-picture.ts';
import { newLaneEffect } from '../effects/lane-effect.ts';
import { newElement } from '../elements/index.ts';
import { newRgba } from '../image/picture.ts';
import { renderMatte } from '../matte/render-matte.ts';
import { NO_IMPORTS } from '../matte/sources.ts';
import { corner } from '../path/path.ts';
import { applyChange, editSchema, parseDocument } from './edits.ts';
import { libraryItemSchema } from './library.ts';
import { newSpline } from './part-kinds/spline.ts';
import { newDocument, newPath, newPointTrack, newSubject } from './records.ts';
import { SHOT, type ShotDocument } from './schema.ts';
import { writtenDocument } from './versions.ts';

const SIZE = { width: 40, height: 24 };
const SQUARE = [corner(4, 4), corner(24, 4), corner(24, 20), corner(4, 20)];

/** As version 1 wrote it in its first days: without what was added since, and with bare values where nothing could be keyed. */
const VERSION_1 = {
  format: 'mottrel-shot',
  version: 1,
  name: 'Quay',
  plate: { ...SIZE, frames: 10, rate: { num: 24, den: 1 }, firstNumber: 1001 },
  cast: [
    {
      id: 's',
      type: 'subject',
      name: 'Courier',
      parts: [
        {
          ...{ id: 'p', type: 'spline', name: 'Body', enabled: true, operation: 'add', inverted: false, opacity: { constant: 1 } },
          paths: [{ id: 'q', type: 'path', closed: true, shape: { constant: SQUARE } }],
        },
        {
          ...{ id: 'i', type: 'imported', name: 'Mask', enabled: false, operation: 'add', inverted: false, opacity: { constant: 1 } },
          ...{ footage: 'f', length: 3, offset: 4 },
        },
      ],
      edge: { grow: { constant: 0 }, featherIn: { constant: 2 }, featherOut: { constant: 3 }, falloff: 'gaussian', shutterSamples: 12 },
    },
  ],
  lanes: [
    {
      ...{ id: 'e', type: 'effect', effect: 'solid', lane: 'inside', subject: 's', enabled: true, mix: { constant: 1 } },
      settings: { colour: { constant: [1, 0, 0] } },
    },
  ],
};

const text = (value: unknown): string => JSON.stringify(value);
const copy = <T>(value: T): T => JSON.parse(text(value));
// biome-ignore lint/suspicious/noExplicitAny: what another version wrote has any form
const raw = (document: ShotDocument): any => copy(document);

function example(): ShotDocument {
  const document = newDocument('Example', { ...SIZE, frames: 10, rate: { num: 24, den: 1 }, firstNumber: 0 });
  const subject = newSubject('s', 'Courier');
  subject.parts.push(newSpline('p', 'Body', [newPath('q', 0, SQUARE, true)]));
  document.cast.push(subject);
  document.lanes.push(newLaneEffect('e', 'inside', 's', 'monochrome'), newElement(document, 't', 'behind', 's', 'card'));
  return document;
}
const sources = {
  ...NO_IMPORTS,
  plate: async () => {
    const plate = newRgba(SIZE.width, SIZE.height);
    for (let i = 0; i < plate.data.length; i += 4) plate.data.set([(i % 97) / 97, 0.4, 0.7, 1], i);
    return plate;
  },
};
const picture = async (document: ShotDocument) => (await renderPicture(document, 0, sources, SIZE)).data;
const matte = async (document: ShotDocument) => (await renderMatte(document, 's', 0, sources, SIZE)).data;

describe('a document of version 1', () => {
  it('is read in the form of version 2: what was bare can be keyed, what was not there yet is as it was then', () => {
    const document = parseDocument(copy(VERSION_1));
    expect(document.version).toBe(2);
    const [{ parts, edge, approved }] = document.cast;
    expect(edge).toMatchObject({ falloff: { constant: 'gaussian' }, shutterSamples: { constant: 12 }, roundness: { constant: 0 }, shutter: { constant: 0 } });
    expect(parts[1]).toMatchObject({ offset: { constant: 4 }, range: null, locked: false });
    expect([approved, document.tracks, document.notes]).toEqual([[], [], []]);
    // Written again, it is read as the same.
    expect(parseDocument(copy(writtenDocument(document)))).toEqual(document);
  });

  it('gives the matte that it gave: the square, softened by 2 px inward and 3 px outward', async () => {
    const data = await matte(parseDocument(copy(VERSION_1)));
    const row = [...data.subarray(12 * SIZE.width, 13 * SIZE.width)];
    expect(row[14]).toBe(1);
    expect(row[24 + 4]).toBe(0);
    expect(row[23]).toBeGreaterThan(row[24]);
    expect(row[24]).toBeGreaterThan(row[25]);
  });

  it('of which single edits and presets were kept has those read as well', () => {
    const [{ parts, edge }] = VERSION_1.cast;
    const edits = [
      { kind: 'insert', parent: 's', index: 0, record: parts[1] },
      { kind: 'insert', parent: 'cast', index: 0, record: VERSION_1.cast[0] },
      { kind: 'animate', id: 's', setting: 'edge.falloff', value: 'smooth' },
      { kind: 'animate', id: 'i', setting: 'offset', value: 7 },
    ].map((edit) => editSchema.parse(copy(edit)));
    expect(edits[0]).toMatchObject({ record: { offset: { constant: 4 } } });
    expect(edits[1]).toMatchObject({ record: { edge: { falloff: { constant: 'gaussian' } }, parts: [{}, { offset: { constant: 4 } }] } });
    expect([edits[2], edits[3]]).toMatchObject([{ value: { constant: 'smooth' } }, { value: { constant: 7 } }]);
    expect(libraryItemSchema.parse(copy({ kind: 'edge', name: 'Soft', content: edge }))).toMatchObject({ content: { falloff: { constant: 'gaussian' } } });
  });
});

describe('what a later version put into a document', () => {
  it('of effects and elements is kept, not seen, told, and written back as it came', async () => {
    const plain = example();
    const later = raw(plain);
    later.lanes.push({ ...later.lanes[0], id: 'haze', effect: 'haze', settings: { spread: { constant: 4 } } });
    later.lanes.push({ ...later.lanes[1], id: 'fog', element: 'fog', name: 'Fog 1' });
    const document = parseDocument(copy(later));
    expect(await picture(document)).toEqual(await picture(plain));
    expect(writtenDocument(document)).toEqual(later);
    const told = foreignRemarks(document);
    expect(told.map((r) => r.id)).toEqual(['haze', 'fog']);
    expect(told[0].words).toContain('from another version ("haze")');
  });

  it('of parts is kept, masks nothing, is told, outlives edits and undo, and is written back as it came', async () => {
    const plain = example();
    const later = raw(plain);
    const cloud = { id: 'c', type: 'cloud', name: 'Wisps', density: { constant: 0.4 }, seeds: [1, 2, 3] };
    later.cast[0].parts.unshift(cloud);
    const document = parseDocument(copy(later));
    expect(await matte(document)).toEqual(await matte(plain));
    expect(document.cast[0].parts[0]).toMatchObject({ type: 'foreign', name: 'Wisps', enabled: false });
    expect(foreignRemarks(document)).toEqual([{ id: 'c', words: expect.stringContaining('from another version ("cloud")') }]);
    expect(writtenDocument(document)).toEqual(later);
    const gone = applyChange(document, [{ kind: 'remove', id: 'c' }]);
    const back = applyChange(
      gone.document,
      gone.inverse.map((edit) => editSchema.parse(copy(edit))),
    );
    expect(writtenDocument(back.document)).toEqual(later);
    // As an edit that a page of the later version sends.
    const sent = applyChange(plain, [editSchema.parse({ kind: 'insert', parent: 's', index: 0, record: cloud })]);
    expect(writtenDocument(sent.document)).toEqual(later);
    expect(() => applyChange(document, [{ kind: 'assign', id: 'c', values: { enabled: true } }])).toThrow('no field "enabled"');
  });

  it('of fields is kept at every level through edits, told, and written back', () => {
    const later = raw(example());
    later.mood = 'dusk';
    later.plate.lens = { focal: 35 };
    later.cast[0].weight = 3;
    later.cast[0].edge.erosion = { constant: 2 };
    later.cast[0].parts[0].texture = 'rough';
    later.cast[0].parts[0].paths[0].tension = 0.5;
    later.lanes[0].settings.halo = { constant: 1 };
    later.lanes[1].depth = 4;
    later.tracks.push({ ...newPointTrack({ id: 'k', name: 'Buckle', frame: 0, lines: 60 }, 4, 5), lens: 1 });
    later.notes.push({ id: 'n', type: 'note', frame: 1, text: 'Look', author: 'Ada' });
    later.markers.push({ id: 'm', type: 'marker', name: 'Turn', range: { first: 0, last: 1 }, shade: 'red' });
    const document = parseDocument(copy(later));
    expect(writtenDocument(document)).toEqual(later);
    const { document: edited } = applyChange(document, [
      { kind: 'assign', id: 's', values: { name: 'Rider' } },
      { kind: 'assign', id: 'p', values: { inverted: true } },
      { kind: 'animate', id: 's', setting: 'edge.grow', value: { constant: 1 } },
      { kind: 'animate', id: 'e', setting: 'mix', value: { constant: 0.5 } },
    ]);
    const wanted = copy(later);
    wanted.cast[0].name = 'Rider';
    wanted.cast[0].parts[0].inverted = true;
    wanted.cast[0].edge.grow = { constant: 1 };
    wanted.lanes[0].mix = { constant: 0.5 };
    expect(writtenDocument(edited)).toEqual(wanted);
    const words = foreignRemarks(document).map((r) => `${r.id}: ${r.words}`);
    for (const [id, field] of [
      ['s', 'weight, erosion'],
      ['p', 'texture, tension'],
      ['e', 'halo'],
      ['t', 'depth'],
      ['k', 'lens'],
      ['n', 'author'],
      ['m', 'shade'],
      [SHOT, 'mood, lens'],
    ])
      expect(words.find((w) => w.startsWith(`${id}: `))).toContain(field);
  });

  it('is taken up by the version that knows it', () => {
    const document = parseDocument(copy(example()));
    const [{ parts }] = document.cast;
    const aside = { ...parts[0], type: 'foreign', paths: undefined, follow: undefined, raw: parts[0] };
    const kept = { ...document, cast: [{ ...document.cast[0], parts: [aside] }] };
    expect(parseDocument(copy(kept))).toEqual(document);
  });
});
