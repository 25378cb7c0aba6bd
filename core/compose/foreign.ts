/** What another version of Mottrel put into a document that this one does not know: it is kept, does nothing, and is told. */
import { pathsOf } from '../document/parts.ts';
import type { Remark } from '../document/remarks.ts';
import {
  documentSchema,
  type ElementEffect,
  edgeSchema,
  elementEffectSchema,
  elementSchema,
  type LaneItem,
  laneEffectSchema,
  markerSchema,
  noteSchema,
  PART_SCHEMAS,
  type Part,
  pathSchema,
  plateInfoSchema,
  SHOT,
  type ShotDocument,
  type Subject,
  strokeSchema,
  subjectSchema,
  trackSchema,
} from '../document/schema.ts';
import { descriptionsOf, isKnown } from './lane-items.ts';

const KNOWN = { ...PART_SCHEMAS, path: pathSchema, effect: laneEffectSchema, element: elementSchema, 'element-effect': elementEffectSchema };

const unknown = (record: object, known: object): string[] => Object.keys(record).filter((key) => !Object.hasOwn(known, key));

function ofPart(part: Part): string[] {
  if (part.type === 'foreign') return [];
  const paths = pathsOf(part).flatMap((path) => unknown(path, KNOWN.path.shape));
  const strokes = part.type === 'peel' ? part.strokes.flatMap((stroke) => unknown(stroke, strokeSchema.shape)) : [];
  return [...unknown(part, KNOWN[part.type].shape), ...paths, ...strokes];
}

const ofItem = (item: LaneItem | ElementEffect): string[] => [...unknown(item, KNOWN[item.type].shape), ...unknown(item.settings, descriptionsOf(item))];
const ofSubject = (subject: Subject): string[] => [...unknown(subject, subjectSchema.shape), ...unknown(subject.edge, edgeSchema.shape)];

const fieldWords = (fields: string[]): string =>
  `it has ${fields.length === 1 ? 'a setting' : 'settings'} of another version, kept and without effect here: ${[...new Set(fields)].join(', ')}`;

/** What there is to say of it, record by record. */
export function foreignRemarks(document: ShotDocument): Remark[] {
  const { cast, lanes, tracks, notes, markers, plate } = document;
  const fields = (id: string, list: string[]): Remark[] => (list.length > 0 ? [{ id, words: fieldWords(list) }] : []);
  return [
    ...fields(SHOT, [...unknown(document, documentSchema.shape), ...unknown(plate, plateInfoSchema.shape)]),
    ...tracks.flatMap((track) => fields(track.id, unknown(track, trackSchema.shape))),
    ...notes.flatMap((note) => fields(note.id, unknown(note, noteSchema.shape))),
    ...markers.flatMap((marker) => fields(marker.id, unknown(marker, markerSchema.shape))),
    ...cast.flatMap((subject) => [
      ...fields(subject.id, ofSubject(subject)),
      ...subject.parts.flatMap((part) =>
        part.type === 'foreign'
          ? [{ id: part.id, words: `from another version ("${part.raw.type}"): kept, and masks nothing here` }]
          : fields(part.id, ofPart(part)),
      ),
    ]),
    ...lanes.flatMap((item) => [
      ...(isKnown(item)
        ? fields(item.id, ofItem(item))
        : [{ id: item.id, words: `from another version ("${item.type === 'effect' ? item.effect : item.element}"): kept, and not seen here` }]),
      ...(item.type === 'element' ? item.effects : []).flatMap((own) =>
        isKnown(own)
          ? fields(item.id, ofItem(own))
          : [{ id: item.id, words: `it has an effect of another version ("${own.effect}"): kept, and not seen here` }],
      ),
    ]),
  ];
}
