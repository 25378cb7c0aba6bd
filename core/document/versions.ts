/**
 * Versions of the document. What an earlier version wrote is brought to the newest form here, and nowhere else; what a later one may have
 * put into it, which this one does not know, is kept aside as it is and written back unchanged.
 */
import { DOCUMENT_VERSION, type DocumentRecord, type ForeignPart, PART_SCHEMAS, type ShotDocument } from './schema.ts';

type Raw = Record<string, unknown>;
const isRaw = (value: unknown): value is Raw => typeof value === 'object' && value !== null && !Array.isArray(value);
const eachOf = (value: unknown, change: (each: unknown) => unknown): unknown => (Array.isArray(value) ? value.map(change) : value);

/** Settings of version 1 that could not be keyed were bare values. */
const animated = (value: unknown): unknown => (value === undefined || (isRaw(value) && ('constant' in value || 'keys' in value)) ? value : { constant: value });
const ONCE_BARE = { edge: ['falloff', 'shutterSamples'], imported: ['offset'] } as const;

function withAnimated(record: Raw, fields: readonly string[]): Raw {
  const bare = fields.filter((field) => animated(record[field]) !== record[field]);
  return bare.length === 0 ? record : { ...record, ...Object.fromEntries(bare.map((field) => [field, animated(record[field])])) };
}

/** An edge, of a subject or of a preset, in the newest form. */
export const newestEdge = (edge: unknown): unknown => (isRaw(edge) ? withAnimated(edge, ONCE_BARE.edge) : edge);

/** A part of a kind that this version does not know, as a part that it knows to leave alone. */
function foreignPart(raw: Raw): ForeignPart {
  return {
    id: String(raw.id),
    type: 'foreign',
    name: typeof raw.name === 'string' && raw.name.trim() !== '' ? raw.name.slice(0, 120) : String(raw.type).slice(0, 120),
    enabled: false,
    operation: 'add',
    inverted: false,
    opacity: { constant: 1 },
    range: null,
    locked: true,
    colour: 'slate',
    raw,
  };
}

const isKnownPart = (type: unknown): boolean => typeof type === 'string' && type !== 'foreign' && Object.hasOwn(PART_SCHEMAS, type);

function newestPart(part: unknown): unknown {
  if (!isRaw(part)) return part;
  // What was kept aside may be known by now.
  const given = part.type === 'foreign' && isRaw(part.raw) && isKnownPart(part.raw.type) ? part.raw : part;
  if (given.type === 'imported') return withAnimated(given, ONCE_BARE.imported);
  return typeof given.type === 'string' && given.type !== 'foreign' && !isKnownPart(given.type) ? foreignPart(given) : given;
}

/** Kinds of records that are neither subjects nor parts. */
const OTHERS: readonly unknown[] = ['path', 'stroke', 'effect', 'element', 'element-effect', 'note', 'marker', 'track'] satisfies DocumentRecord['type'][];

/** Any record of a document, with those in it, in the newest form. */
function newestRecord(record: unknown): unknown {
  if (!isRaw(record)) return record;
  if (record.type !== 'subject') return OTHERS.includes(record.type) ? record : newestPart(record);
  return { ...record, edge: newestEdge(record.edge), parts: eachOf(record.parts, newestPart) };
}

/** An edit that an earlier version logged, or that a page of one sent, in the newest form. */
export function newestEdit(edit: unknown): unknown {
  if (!isRaw(edit)) return edit;
  if (edit.kind === 'insert') return { ...edit, record: newestRecord(edit.record) };
  const bare = [...ONCE_BARE.edge.map((field) => `edge.${field}`), ...ONCE_BARE.imported] as unknown[];
  return edit.kind === 'animate' && bare.includes(edit.setting) ? { ...edit, value: animated(edit.value) } : edit;
}

/** From each version to the next. Records are brought up by {@link newestRecord}, since those in single edits say no version. */
const MIGRATIONS: Record<number, (document: Raw) => Raw> = {
  1: (document) => ({ ...document, version: 2 }),
};

/** @throws RangeError where a later version wrote it, which may mean something else by the same words */
export function newestDocument(value: unknown): unknown {
  if (!isRaw(value) || typeof value.version !== 'number') return value;
  if (value.version > DOCUMENT_VERSION)
    throw new RangeError(
      `it was written by a later version of Mottrel (document version ${value.version}; this one reads up to ${DOCUMENT_VERSION}). Bring Mottrel up to date to open it`,
    );
  let document = value;
  while (typeof document.version === 'number' && MIGRATIONS[document.version]) document = MIGRATIONS[document.version](document);
  return { ...document, cast: eachOf(document.cast, newestRecord) };
}

/** The document as it goes out, with what was kept aside as it came. */
export const writtenDocument = (document: ShotDocument): unknown => ({
  ...document,
  cast: document.cast.map((subject) => ({ ...subject, parts: subject.parts.map((part) => (part.type === 'foreign' ? { ...part.raw, id: part.id } : part)) })),
});
