/** A name for all of a document that decides what its pictures and mattes are. */
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import type { ShotDocument, Subject } from './schema.ts';

const nameOf = (text: string): string => bytesToHex(sha256(utf8ToBytes(text))).slice(0, 40);

/** A record that was just made and one that was read have their fields in different orders. */
const inOrder = (_key: string, value: unknown): unknown =>
  typeof value === 'object' && value !== null && !Array.isArray(value) ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1))) : value;

const nameOfValue = (value: unknown): string => nameOf(JSON.stringify(value, inOrder));

/** Records do not change: an edit makes new ones of those that it touches, so that all others are named once. */
const known = new WeakMap<object, string>();

function named<T extends object>(record: T, name: (record: T) => string): string {
  const before = known.get(record);
  if (before) return before;
  const made = name(record);
  known.set(record, made);
  return made;
}

/** A subject by its parts, since strokes are many and an edit changes those of one part. */
const nameOfSubject = ({ parts, ...rest }: Subject): string => `${nameOfValue(rest)}(${namesOf(parts)})`;
const namesOf = (records: readonly object[]): string => records.map((record) => named(record, nameOfValue)).join();

/** The same name for the same subjects with the same parts and edges, and the tracks that they follow. */
export const castName = ({ cast, tracks }: ShotDocument): string =>
  nameOf([cast.map((subject) => named(subject, nameOfSubject)).join(), namesOf(tracks)].join('|'));

/**
 * The same name for the same plate, light, cast, lanes and tracks, in the same order; what is only told of a shot (its name, notes, markers)
 * does not count.
 */
export const pictureName = (document: ShotDocument): string =>
  named(document, ({ plate, light, cast, lanes, tracks }) =>
    nameOf([nameOfValue([plate, light]), cast.map((subject) => named(subject, nameOfSubject)).join(), namesOf(lanes), namesOf(tracks)].join('|')),
  );
