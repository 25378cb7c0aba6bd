/** From what the artist does on the canvas to edits of the document. */
import type { Edit } from '~/core/document/edits.ts';
import { carriedIn, drawnFor, heldWhereTrusted, type PlacedPath, placedPathsOf } from '~/core/document/follow.ts';
import { newSpline } from '~/core/document/part-kinds/spline.ts';
import { livesOn, partWith } from '~/core/document/parts.ts';
import { newPath, newSubject } from '~/core/document/records.ts';
import type { Part, Path, ShotDocument, Subject } from '~/core/document/schema.ts';
import { shapesOf } from '~/core/path/between.ts';
import type { Shape } from '~/core/path/path.ts';
import { type Animated, hasKeys, type Key, withKeySplit } from '~/core/time/animated.ts';
import { keyDifference, keysForReach, type Reach, type ReachContext, type ValueChange, type ValueKind } from '~/core/time/reach.ts';

export const kindOf = (path: Path): ValueKind<Shape> => shapesOf(path.between, path.closed);

export interface Editable {
  path: PlacedPath;
  part: Part;
}

/**
 * Curves that can be edited while `selected` is selected: those of a part, or of all parts of a subject, but for what is
 * locked or does not live on this frame.
 */
export function editablePaths(document: ShotDocument, selected: string | null, fallback: Subject | null, frame: number): Editable[] {
  const of = (parts: readonly Part[]): Editable[] =>
    parts.filter((part) => !part.locked && livesOn(part, frame)).flatMap((part) => placedPathsOf(document, part).map((path) => ({ path, part })));
  for (const subject of document.cast) {
    const part = partWith(subject, selected);
    if (part) return of([part]);
    if (subject.id === selected) return of(subject.parts);
  }
  return of(fallback?.parts ?? []);
}

/** Edit that gives an animated setting the value at `frame`, within `reach`. */
export function valueEdit<T>(record: string, setting: string, before: Animated<T>, change: ValueChange<T>, kind: ValueKind<T>): Edit {
  const keys = keysForReach(before, change, kind);
  return keys && hasKeys(before) ? keysEdit(record, setting, before.keys, keys) : { kind: 'animate', id: record, setting, value: { constant: change.value } };
}

/** Edit from some keys to others. */
export function keysEdit<T>(record: string, setting: string, before: readonly Key<T>[], after: readonly Key<T>[]): Edit {
  return { kind: 'keys', id: record, setting, ...keyDifference(before, after) };
}

/** Edits by which `path` is seen with that shape at `frame`, within `reach`. */
export function shapeEdits(path: PlacedPath, frame: number, shape: Shape, reach: Reach, context: ReachContext): Edit[] {
  const held = reach === 'between-keys' ? heldWhereTrusted(path, frame, kindOf(path)) : path.shape;
  const drawn = drawnFor(path, frame, shape);
  const keys = keysForReach(held, { frame, value: drawn, reach, context }, kindOf(path));
  return [
    keys && hasKeys(path.shape)
      ? keysEdit(path.id, 'shape', path.shape.keys, keys)
      : { kind: 'animate', id: path.id, setting: 'shape', value: { constant: drawn } },
  ];
}

/** Edits that change the shape on every key alike, for what must hold on all frames: how many points there are. */
export function everyKeyEdits(path: Path, change: (shape: Shape) => Shape): Edit[] {
  const { shape } = path;
  const value = hasKeys(shape) ? { keys: shape.keys.map((k) => ({ ...k, value: change(k.value) })) } : { constant: change(shape.constant) };
  return [{ kind: 'animate', id: path.id, setting: 'shape', value }];
}

/** Edits that begin a new curve, with a subject and a part to hold it where there are none. */
export function beginPath(
  document: ShotDocument,
  selected: string | null,
  frame: number,
  shape: Shape,
  newId: () => string,
  closed = false,
  name?: string,
): { edits: Edit[]; pathId: string; partId: string } {
  const pathId = newId();
  const path = newPath(pathId, frame, shape, closed);
  for (const subject of document.cast) {
    const part = partWith(subject, selected);
    if (part?.type === 'spline' && !part.locked) {
      const drawn = drawnFor({ ...path, carried: carriedIn(document, part), pins: null }, frame, shape);
      const record = newPath(pathId, frame, drawn, closed);
      return { edits: [{ kind: 'insert', parent: part.id, index: part.paths.length, record }], pathId, partId: part.id };
    }
  }
  const subject = document.cast.find((s) => s.id === selected || s.parts.some((p) => p.id === selected)) ?? document.cast[0];
  const partId = newId();
  const part = newSpline(partId, name ?? `Spline ${(subject?.parts.length ?? 0) + 1}`, [path]);
  if (subject) return { edits: [{ kind: 'insert', parent: subject.id, index: subject.parts.length, record: part }], pathId, partId };
  const made = { ...newSubject(newId(), 'Subject 1'), parts: [part] };
  return { edits: [{ kind: 'insert', parent: 'cast', index: 0, record: made }], pathId, partId };
}

/** Edit that puts a key at `frame` that holds what is there: no frame changes. */
export function keyHereEdit<T>(record: string, setting: string, value: Animated<T>, frame: number, now: T): Edit {
  if (hasKeys(value)) return keysEdit(record, setting, value.keys, withKeySplit(value.keys, frame, now));
  return { kind: 'keys', id: record, setting, set: [{ frame, value: now, ease: 'linear' }], clear: [] };
}
