/**
 * Edits: the only way a shot document changes. Each is a small typed command; applying one gives the new document and the
 * edit that takes it back. The page and the server use this same function.
 */
import { z } from 'zod';
import { shapeSchema } from '../path/path.ts';
import { type Animated, frameSchema, hasKeys, type Key, withKeys } from '../time/animated.ts';
import { easeSchema } from '../time/ease.ts';
import { withRange } from '../time/ranges.ts';
import { approvedConflict } from './approval.ts';
import { EDGE_NAMES } from './edge-settings.ts';
import { pinsOf } from './follow.ts';
import { strayFollower, strayMatte } from './leaders.ts';
import { PART_KINDS } from './part-kinds/index.ts';
import type { PartKind } from './part-kinds/kind.ts';
import { circleOfSubjects, joinedIn } from './parts.ts';
import {
  type DocumentRecord,
  documentSchema,
  elementEffectSchema,
  elementSchema,
  followSchema,
  frozenResultSchema,
  idSchema,
  laneEffectSchema,
  markerSchema,
  noteSchema,
  ofSubject,
  PART_SCHEMA_LIST,
  PART_SCHEMAS,
  type Part,
  type PeelPart,
  pathSchema,
  rangeSchema,
  SHOT,
  type ShotDocument,
  type SplinePart,
  type Subject,
  shownFootageSchema,
  strokeSchema,
  subjectSchema,
  type Track,
  timingSchema,
  trackSchema,
} from './schema.ts';
import { newestDocument, newestEdit } from './versions.ts';

const recordSchema = z.discriminatedUnion('type', [
  subjectSchema,
  ...PART_SCHEMA_LIST,
  pathSchema,
  strokeSchema,
  laneEffectSchema,
  elementSchema,
  elementEffectSchema,
  noteSchema,
  markerSchema,
  trackSchema,
]);
const KEYED_OF_PARTS = Object.values(PART_KINDS).flatMap(({ keyed }) => Object.keys(keyed));
const settingPath = z
  .string()
  .regex(
    new RegExp(
      `^(shape|opacity|mix|followAmount|${KEYED_OF_PARTS.join('|')}|motion|corners|edge\\.(${EDGE_NAMES.join('|')})|rim\\.(inner|outer|softness)|timing\\.speed|settings\\.[A-Za-z][A-Za-z0-9]{0,59})$`,
    ),
    {
      error: 'No such setting.',
    },
  );
const fieldValue = z.union([
  z.string().max(2000),
  z.boolean(),
  z.number(),
  z.null(),
  rangeSchema,
  z.array(rangeSchema).max(1000),
  followSchema,
  shownFootageSchema,
  z.record(z.string().max(60), followSchema),
  z.array(shapeSchema).max(500),
  timingSchema,
]);

const newestEditSchema = z.discriminatedUnion('kind', [
  /** Puts a record into `parent` ("cast", "lanes", a subject or a spline) at `index`. */
  z.strictObject({ kind: z.literal('insert'), parent: idSchema, index: z.number().int().min(0), record: recordSchema }),
  z.strictObject({ kind: z.literal('remove'), id: idSchema }),
  /** Gives a record another place among its siblings. */
  z.strictObject({ kind: z.literal('move'), id: idSchema, index: z.number().int().min(0) }),
  /** Sets plain fields, those of {@link ASSIGNABLE}. */
  z.strictObject({ kind: z.literal('assign'), id: idSchema, values: z.record(z.string().max(40), fieldValue) }),
  /** Replaces an animated setting whole; null takes one of an effect or an element away, which is as it starts then. */
  z.strictObject({ kind: z.literal('animate'), id: idSchema, setting: settingPath, value: z.unknown() }),
  /** Sets and clears keys of an animated setting. Taking the last key away leaves its value as a constant. */
  z.strictObject({
    kind: z.literal('keys'),
    id: idSchema,
    setting: settingPath,
    set: z.array(z.strictObject({ frame: frameSchema, value: z.unknown(), ease: easeSchema })).max(100_000),
    clear: z.array(frameSchema).max(100_000),
  }),
  /** Approves frames of a subject, or releases them. */
  z.strictObject({ kind: z.literal('approve'), id: idSchema, range: rangeSchema, approved: z.boolean() }),
  /** Sets all approved frames of a subject: what takes an approval back. */
  z.strictObject({ kind: z.literal('approvals'), id: idSchema, ranges: z.array(rangeSchema).max(100_000) }),
  /** Holds the results of a Peel on frames, or lets go of them. */
  z.strictObject({ kind: z.literal('hold'), id: idSchema, set: z.array(frozenResultSchema).max(100_000), clear: z.array(frameSchema).max(100_000) }),
  /** Sets the frames on which the subject of a Peel is out of sight. */
  z.strictObject({ kind: z.literal('hide'), id: idSchema, ranges: z.array(rangeSchema).max(10_000) }),
]);
export type Edit = z.infer<typeof newestEditSchema>;
/** Edits of earlier versions are read in the newest form. */
export const editSchema = z.preprocess(newestEdit, newestEditSchema);

export const changeSchema = z.strictObject({
  id: idSchema,
  /** What the artist did, in words, for undo and history. */
  label: z.string().min(1).max(120),
  edits: z.array(editSchema).min(1).max(2000),
});
/** One step of work and of undo: edits that go together. */
export type Change = z.infer<typeof changeSchema>;

/** An edit that does not fit the document, in words for the artist. */
export class EditError extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'EditError';
  }
}

/** Fields of every part that an edit may set. */
const OF_PARTS = ['name', 'enabled', 'operation', 'inverted', 'range', 'locked', 'colour'];
const eachPartKind = <T>(what: (kind: Pick<PartKind<Part>, 'assignable' | 'holds'>) => T): Record<Part['type'], T> =>
  Object.fromEntries(Object.entries(PART_KINDS).map(([type, kind]) => [type, what(kind)])) as Record<Part['type'], T>;

/** Fields of the shot itself that an edit may set. */
const OF_SHOT = documentSchema.pick({ light: true, timing: true });

const ASSIGNABLE: Record<DocumentRecord['type'], readonly string[]> = {
  subject: ['name', 'clean'],
  ...eachPartKind(({ assignable }) => [...OF_PARTS, ...assignable]),
  path: ['closed', 'between'],
  stroke: ['enabled', 'kind', 'frame', 'radius', 'mends'],
  effect: ['enabled', 'lane', 'subject', 'lives', 'follow', 'leaves', 'blend', 'matteOf', 'matteFootage'],
  element: ['name', 'enabled', 'lane', 'subject', 'lives', 'follow', 'blend', 'words', 'of', 'footage', 'drawn', 'matteOf', 'matteFootage', 'pins'],
  'element-effect': ['enabled', 'blend', 'matteOf', 'matteFootage'],
  // What is kept for another version is not changed.
  foreign: [],
  note: ['frame', 'text'],
  marker: ['name', 'range'],
  track: ['name', 'model', 'look', 'pattern', 'search', 'lost', 'ignore'],
};
const SCHEMAS = {
  subject: subjectSchema,
  ...PART_SCHEMAS,
  path: pathSchema,
  stroke: strokeSchema,
  effect: laneEffectSchema,
  element: elementSchema,
  'element-effect': elementEffectSchema,
  note: noteSchema,
  marker: markerSchema,
  track: trackSchema,
} as const;

/** The lists of a document, and what they hold. */
const LISTS = { cast: ['subject'], lanes: ['effect', 'element'], notes: ['note'], markers: ['marker'], tracks: ['track'] } as const;
type ListName = keyof typeof LISTS;
const LIST_NAMES = Object.keys(LISTS) as ListName[];

type List = readonly DocumentRecord[];

/** Records that hold others: in which field, and of which kinds. */
const HOLDERS: Partial<Record<DocumentRecord['type'], { field: string; takes: readonly DocumentRecord['type'][] }>> = {
  subject: { field: 'parts', takes: Object.keys(PART_SCHEMAS) as Part['type'][] },
  ...eachPartKind(({ holds }) => holds),
  element: { field: 'effects', takes: ['element-effect'] },
};

const childrenOf = (record: DocumentRecord): List | null => {
  const holder = HOLDERS[record.type];
  return holder ? ((record as unknown as Record<string, List>)[holder.field] ?? null) : null;
};
const withChildren = (record: DocumentRecord, list: List): DocumentRecord =>
  ({ ...record, [(HOLDERS[record.type] as { field: string }).field]: list }) as DocumentRecord;

/** Rebuilds the list that holds record `id`, or returns null where it is not below `list`. */
function editList(list: List, id: string, change: (list: List, index: number) => List): List | null {
  const index = list.findIndex((r) => r.id === id);
  if (index >= 0) return change(list, index);
  for (let i = 0; i < list.length; i++) {
    const children = childrenOf(list[i]);
    const changed = children && editList(children, id, change);
    if (changed) return list.map((r, k) => (k === i ? withChildren(r, changed) : r));
  }
  return null;
}

function editHolder(document: ShotDocument, id: string, change: (list: List, index: number) => List): ShotDocument {
  for (const field of LIST_NAMES) {
    const changed = editList(document[field], id, change);
    if (changed) return { ...document, [field]: changed } as ShotDocument;
  }
  throw new EditError('What this edit changes is no longer in the shot.');
}

const editRecord = (document: ShotDocument, id: string, change: (record: DocumentRecord) => DocumentRecord): ShotDocument =>
  editHolder(document, id, (list, index) => list.map((r, i) => (i === index ? change(r) : r)));

/** The record with `id` anywhere in the document. */
export function findRecord(document: ShotDocument, id: string): DocumentRecord | undefined {
  const search = (list: List): DocumentRecord | undefined => {
    for (const record of list) {
      const found = record.id === id ? record : search(childrenOf(record) ?? []);
      if (found) return found;
    }
    return undefined;
  };
  for (const name of LIST_NAMES) {
    const found = search(document[name]);
    if (found) return found;
  }
  return undefined;
}

const isListName = (parent: string): parent is ListName => Object.hasOwn(LISTS, parent);

const parentList = (document: ShotDocument, parent: string): { list: List; takes: readonly DocumentRecord['type'][] } => {
  if (isListName(parent)) return { list: document[parent], takes: LISTS[parent] };
  const record = findRecord(document, parent);
  const list = record && childrenOf(record);
  if (!record || !list) throw new EditError('The place for this is no longer in the shot.');
  return { list, takes: HOLDERS[record.type]?.takes ?? [] };
};

/** What of the shot itself has settings that change over time. */
type OfShot = Pick<ShotDocument, 'timing'>;
const ofShotSchema = documentSchema.pick({ timing: true });

/** Changes settings of a record, or of the shot itself. */
const editSettings = (document: ShotDocument, id: string, change: <R extends DocumentRecord | OfShot>(record: R) => R): ShotDocument =>
  id === SHOT ? { ...document, ...change({ timing: document.timing } as OfShot) } : editRecord(document, id, change);

const holderName = (record: DocumentRecord | OfShot): string => ('type' in record ? `A ${record.type}` : 'The shot as it is');

function checked<T extends DocumentRecord | OfShot>(record: T): T {
  const result = ('type' in record ? SCHEMAS[record.type] : ofShotSchema).safeParse(record);
  if (!result.success) throw new EditError(`${result.error.issues[0].message} (${result.error.issues[0].path.join('.')})`);
  return result.data as T;
}

const readField = (record: object, path: string): unknown => path.split('.').reduce<unknown>((o, k) => (o as Record<string, unknown> | undefined)?.[k], record);

function writeField<T extends object>(record: T, path: string, value: unknown): T {
  const [head, ...rest] = path.split('.');
  const inner = rest.length === 0 ? value : writeField((record as Record<string, object>)[head] ?? {}, rest.join('.'), value);
  return { ...record, [head]: inner };
}

function collectIds(record: DocumentRecord, into: string[] = []): string[] {
  into.push(record.id);
  for (const child of childrenOf(record) ?? []) collectIds(child, into);
  return into;
}

function applyInsert(document: ShotDocument, edit: Extract<Edit, { kind: 'insert' }>): { document: ShotDocument; inverse: Edit } {
  const { list, takes } = parentList(document, edit.parent);
  if (!takes.includes(edit.record.type)) throw new EditError(`A ${edit.record.type} cannot be put there.`);
  const record = checked(edit.record);
  const ids = collectIds(record);
  if (new Set(ids).size !== ids.length || ids.some((id) => findRecord(document, id))) throw new EditError('This is in the shot already.');
  const next = [...list];
  next.splice(Math.min(edit.index, list.length), 0, record);
  const changed = isListName(edit.parent)
    ? ({ ...document, [edit.parent]: next } as ShotDocument)
    : editRecord(document, edit.parent, (parent) => withChildren(parent, next));
  return { document: changed, inverse: { kind: 'remove', id: record.id } };
}

function applyRemove(document: ShotDocument, id: string): { document: ShotDocument; inverse: Edit } {
  let inverse: Edit | undefined;
  const removedFrom = (parent: string, list: List) => {
    const index = list.findIndex((r) => r.id === id);
    if (index >= 0) inverse = { kind: 'insert', parent, index, record: list[index] };
    else for (const r of list) removedFrom(r.id, childrenOf(r) ?? []);
  };
  for (const name of LIST_NAMES) removedFrom(name, document[name]);
  if (document.lanes.some((e) => e.subject === id && e.id !== id))
    throw new EditError('Effects or elements are in the lanes of this subject: take them out first.');
  const changed = editHolder(document, id, (list, index) => list.filter((_, i) => i !== index));
  return { document: changed, inverse: inverse as Edit };
}

/**
 * Applies one edit. Throws EditError where it does not fit; the given document is never changed. With `draft`, values of settings
 * are taken as they are: for edits in progress, which are checked when they are made for good.
 */
export function applyEdit(document: ShotDocument, edit: Edit, draft = false): { document: ShotDocument; inverse: Edit } {
  switch (edit.kind) {
    case 'insert':
      return applyInsert(document, edit);
    case 'remove':
      return applyRemove(document, edit.id);
    case 'move': {
      let old = 0;
      const changed = editHolder(document, edit.id, (list, index) => {
        old = index;
        const next = list.filter((_, i) => i !== index);
        next.splice(Math.min(edit.index, next.length), 0, list[index]);
        return next;
      });
      return { document: changed, inverse: { kind: 'move', id: edit.id, index: old } };
    }
    case 'assign': {
      const before: Record<string, string | boolean> = {};
      if (edit.id === SHOT) {
        for (const field of Object.keys(edit.values)) {
          if (!Object.hasOwn(OF_SHOT.shape, field)) throw new EditError(`A shot has no field "${field}".`);
          before[field] = readField(document, field) as (typeof before)[string];
        }
        const result = OF_SHOT.safeParse({ light: document.light, timing: document.timing, ...edit.values });
        if (!result.success) throw new EditError(result.error.issues[0].message);
        return { document: { ...document, ...result.data }, inverse: { kind: 'assign', id: SHOT, values: before } };
      }
      const changed = editRecord(document, edit.id, (record) => {
        let next = record;
        for (const [field, value] of Object.entries(edit.values)) {
          if (!ASSIGNABLE[record.type].includes(field)) throw new EditError(`What is of type "${record.type}" has no field "${field}".`);
          before[field] = readField(record, field) as (typeof before)[string];
          next = writeField(next, field, value);
        }
        return checked(next);
      });
      return { document: changed, inverse: { kind: 'assign', id: edit.id, values: before } };
    }
    case 'approve':
    case 'approvals': {
      let before: Subject['approved'] = [];
      const changed = editRecord(document, edit.id, (record) => {
        if (record.type !== 'subject') throw new EditError('Only frames of a subject can be approved.');
        before = record.approved;
        return checked({ ...record, approved: edit.kind === 'approvals' ? edit.ranges : withRange(before, edit.range, edit.approved) });
      });
      return { document: changed, inverse: { kind: 'approvals', id: edit.id, ranges: before } };
    }
    case 'hold': {
      let inverse: Edit | undefined;
      const changed = editRecord(document, edit.id, (record) => {
        if (record.type !== 'peel') throw new EditError('Only results of a Peel can be held.');
        const held = new Map(record.held.map((h) => [h.frame, h.key]));
        const touched = [...edit.set.map((h) => h.frame), ...edit.clear];
        const was = touched.flatMap((frame) => (held.has(frame) ? [{ frame, key: held.get(frame) as string }] : []));
        inverse = { kind: 'hold', id: edit.id, set: was, clear: touched.filter((frame) => !held.has(frame)) };
        for (const frame of edit.clear) held.delete(frame);
        for (const { frame, key } of edit.set) held.set(frame, key);
        const next = [...held].map(([frame, key]) => ({ frame, key })).sort((a, b) => a.frame - b.frame);
        return { ...record, held: next };
      });
      return { document: changed, inverse: inverse as Edit };
    }
    case 'hide': {
      let before: PeelPart['hidden'] = [];
      const changed = editRecord(document, edit.id, (record) => {
        if (record.type !== 'peel') throw new EditError('Only the subject of a Peel can be out of sight.');
        before = record.hidden;
        return checked({ ...record, hidden: edit.ranges });
      });
      return { document: changed, inverse: { kind: 'hide', id: edit.id, ranges: before } };
    }
    case 'animate': {
      let before: unknown;
      const changed = editSettings(document, edit.id, (record) => {
        before = readField(record, edit.setting);
        const own = ownSetting(record, edit.setting);
        if (before === undefined && !own) throw new EditError(`${holderName(record)} has no setting "${edit.setting}".`);
        const next = own && edit.value === null ? withoutSetting(record, own) : writeField(record, edit.setting, edit.value);
        return draft ? next : checked(next);
      });
      return { document: changed, inverse: { kind: 'animate', id: edit.id, setting: edit.setting, value: before ?? null } };
    }
    case 'keys': {
      let inverse: Edit | undefined;
      const changed = editSettings(document, edit.id, (record) => {
        const before = (readField(record, edit.setting) ?? null) as Animated<unknown> | null;
        if (before === null && !(ownSetting(record, edit.setting) && edit.set.length > 0))
          throw new EditError(`${holderName(record)} has no setting "${edit.setting}".`);
        // Only what is new needs checking: keys that stay were checked when they came.
        const given = edit.set as Key<unknown>[];
        const set = draft || given.length === 0 ? given : checkedKeys(record, edit.setting, given);
        const { after, back } = editKeys(before ?? { constant: null }, set, edit.clear);
        inverse =
          back.kind === 'keys' ? { ...back, id: edit.id, setting: edit.setting } : { kind: 'animate', id: edit.id, setting: edit.setting, value: before };
        return writeField(record, edit.setting, after);
      });
      return { document: changed, inverse: inverse as Edit };
    }
  }
}

/** The name of a setting that the kind of an effect or an element describes: a record has it once it was set. */
const ownSetting = (record: object, setting: string): string | null => ('settings' in record && setting.startsWith('settings.') ? setting.slice(9) : null);

function withoutSetting<T extends object>(record: T, name: string): T {
  const { [name]: _gone, ...settings } = (record as { settings: Record<string, unknown> }).settings;
  return { ...record, settings };
}

/** Keys that a setting of the record is to get, checked as the record itself would be. */
function checkedKeys(record: DocumentRecord | OfShot, setting: string, keys: Key<unknown>[]): Key<unknown>[] {
  const rising = [...keys].sort((a, b) => a.frame - b.frame);
  if (!('type' in record)) return (readField(checked(writeField(record, setting, { keys: rising })), setting) as { keys: Key<unknown>[] }).keys;
  const bare = HOLDERS[record.type] ? withChildren(record, []) : record;
  const alone = bare.type === 'subject' ? { ...bare, approved: [] } : bare.type === 'track' ? { ...bare, outlines: [] } : bare;
  const result = checked(writeField(alone as DocumentRecord, setting, { keys: rising }));
  return (readField(result, setting) as { keys: Key<unknown>[] }).keys;
}

function editKeys(
  before: Animated<unknown>,
  set: Key<unknown>[],
  clear: number[],
): { after: Animated<unknown>; back: { kind: 'keys'; set: Key<unknown>[]; clear: number[] } | { kind: 'whole' } } {
  if (!hasKeys(before)) return { after: set.length > 0 ? { keys: withKeys([], set, []) } : before, back: { kind: 'whole' } };
  const keys = withKeys(before.keys, set, clear);
  if (keys.length === 0) return { after: { constant: before.keys[0].value }, back: { kind: 'whole' } };
  const old = new Map(before.keys.map((k) => [k.frame, k]));
  const touched = [...set.map((k) => k.frame), ...clear];
  return {
    after: { keys },
    back: { kind: 'keys', set: touched.flatMap((f) => old.get(f) ?? []), clear: touched.filter((f) => !old.has(f)) },
  };
}

/** What is wrong with what subjects are joined of, in words; null where nothing is. */
function strayJoined({ cast }: ShotDocument): string | null {
  for (const subject of cast)
    for (const id of joinedIn(subject)) {
      const other = cast.find((s) => s.id === id);
      if (!other) return `${subject.name} is joined of a subject that is not in this shot. Take that part out first, or choose another subject for it.`;
      if (circleOfSubjects({ cast }, subject.id, id)) return `${subject.name} cannot be joined of ${other.name}: it would be joined of itself.`;
    }
  return null;
}

/** What is wrong with what parts, effects and elements follow, and what subjects are joined of, in words; null where nothing is. */
function strayed(document: ShotDocument): string | null {
  const { cast, tracks } = document;
  const there = new Set(tracks.map((t: Track) => t.id));
  const used = (part: SplinePart) => [...(part.follow ? [part.follow.track] : []), ...part.paths.flatMap(pinsOf)];
  for (const subject of cast)
    for (const part of subject.parts)
      if (part.type === 'spline' && used(part).some((id) => !there.has(id)))
        return `${part.name} follows a track that is not in this shot. Let it go first, or write its motion as keys.`;
  return strayJoined(document) ?? strayFollower(document) ?? strayMatte(document);
}

/** What is wrong with the lane of an effect or an element; null where nothing is. */
function astray({ cast, lanes }: ShotDocument): string | null {
  const there = new Set(cast.map((s) => s.id));
  for (const { type, lane, subject } of lanes) {
    if (ofSubject(lane) ? subject === null || !there.has(subject) : subject !== null)
      return `An ${type} ${ofSubject(lane) ? 'of a rim, inside or behind needs a subject of this shot' : 'in front or in the backdrop is of no subject'}.`;
  }
  return null;
}

/** Applies all edits of a change in order, or none. The inverse edits are in the order to apply them. `draft` as in applyEdit. */
export function applyChange(document: ShotDocument, edits: readonly Edit[], draft = false): { document: ShotDocument; inverse: Edit[] } {
  let current = document;
  const inverse: Edit[] = [];
  for (const edit of edits) {
    const step = applyEdit(current, edit, draft);
    current = step.document;
    inverse.unshift(step.inverse);
  }
  const adrift = astray(current);
  if (adrift) throw new EditError(adrift);
  const alone = strayed(current);
  if (alone) throw new EditError(alone);
  const conflict = approvedConflict(document, current);
  if (conflict) throw new EditError(conflict);
  return { document: current, inverse };
}

/** Reads a document from outside; throws EditError that names the first fault. */
export function parseDocument(value: unknown): ShotDocument {
  let newest: unknown;
  try {
    newest = newestDocument(value);
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw new EditError(`This document cannot be read: ${error.message}.`);
  }
  const result = documentSchema.safeParse(newest);
  if (!result.success) {
    const { path, message } = result.error.issues[0];
    throw new EditError(`This is not a shot document: ${message}${path.length > 0 ? ` (at ${path.join('.')})` : ''}`);
  }
  const ids = LIST_NAMES.flatMap((name) => (result.data[name] as List).flatMap((r) => collectIds(r)));
  if (new Set(ids).size !== ids.length) throw new EditError('This is not a shot document: two records have the same id.');
  const adrift = astray(result.data);
  if (adrift) throw new EditError(`This is not a shot document: ${adrift}`);
  const alone = strayed(result.data);
  if (alone) throw new EditError(`This is not a shot document: ${alone}`);
  return result.data;
}
