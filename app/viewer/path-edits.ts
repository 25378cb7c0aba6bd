/** From what the artist does on the canvas to edits of the document. */
import type { Edit } from '~/core/document/edits.ts';
import { newPath, newSpline, newSubject } from '~/core/document/records.ts';
import type { Path, ShotDocument, SplinePart, Subject } from '~/core/document/schema.ts';
import { mixShapes, SHAPES, type Shape } from '~/core/path/path.ts';
import { hasKeys, valueAt } from '~/core/time/animated.ts';
import { keysForReach, type Reach } from '~/core/time/reach.ts';

export const shapeAt = (path: Path, frame: number): Shape => valueAt(path.shape, frame, mixShapes);

/** Where a path is in the document. */
export function placeOf(document: ShotDocument, pathId: string): { subject: Subject; part: SplinePart; path: Path } | null {
  for (const subject of document.cast)
    for (const part of subject.parts) {
      const path = part.paths.find((p) => p.id === pathId);
      if (path) return { subject, part, path };
    }
  return null;
}

/** Paths that can be edited while `selected` is selected: those of a part, or of all parts of a subject. */
export function editablePaths(document: ShotDocument, selected: string | null, fallback: Subject | null): Path[] {
  for (const subject of document.cast) {
    const part = subject.parts.find((p) => p.id === selected || p.paths.some((q) => q.id === selected));
    if (part) return part.paths;
    if (subject.id === selected) return subject.parts.flatMap((p) => p.paths);
  }
  return fallback?.parts.flatMap((p) => p.paths) ?? [];
}

/** Edits that give `path` the shape at `frame`, within `reach`. */
export function shapeEdits(path: Path, frame: number, shape: Shape, reach: Reach, frames: number): Edit[] {
  const keys = keysForReach(path.shape, frame, shape, reach, frames, SHAPES);
  if (!keys) return [{ kind: 'animate', id: path.id, setting: 'shape', value: { constant: shape } }];
  return [{ kind: 'keys', id: path.id, setting: 'shape', set: keys, clear: [] }];
}

/** Edits that change the shape on every key alike, for what must hold on all frames: how many points there are. */
export function everyKeyEdits(path: Path, change: (shape: Shape) => Shape): Edit[] {
  const { shape } = path;
  const value = hasKeys(shape) ? { keys: shape.keys.map((k) => ({ ...k, value: change(k.value) })) } : { constant: change(shape.constant) };
  return [{ kind: 'animate', id: path.id, setting: 'shape', value }];
}

/** Edits that begin a new open path, with a subject and a part to hold it where there are none. */
export function beginPath(
  document: ShotDocument,
  selected: string | null,
  frame: number,
  shape: Shape,
  newId: () => string,
): { edits: Edit[]; pathId: string; partId: string } {
  const pathId = newId();
  const path = newPath(pathId, frame, shape, false);
  for (const subject of document.cast) {
    const part = subject.parts.find((p) => p.id === selected || p.paths.some((q) => q.id === selected));
    if (part) return { edits: [{ kind: 'insert', parent: part.id, index: part.paths.length, record: path }], pathId, partId: part.id };
  }
  const subject = document.cast.find((s) => s.id === selected) ?? document.cast[0];
  const partId = newId();
  const part = newSpline(partId, `Spline ${(subject?.parts.length ?? 0) + 1}`, [path]);
  if (subject) return { edits: [{ kind: 'insert', parent: subject.id, index: subject.parts.length, record: part }], pathId, partId };
  const made = { ...newSubject(newId(), 'Subject 1'), parts: [part] };
  return { edits: [{ kind: 'insert', parent: 'cast', index: 0, record: made }], pathId, partId };
}
