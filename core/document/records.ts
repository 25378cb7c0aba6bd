/** New records with their starting values. Ids come from the caller, so that the same edit gives the same record everywhere. */
import type { Shape } from '../path/path.ts';
import type { Path, PlateInfo, ShotDocument, SplinePart, Subject } from './schema.ts';
import { DOCUMENT_FORMAT, DOCUMENT_VERSION } from './schema.ts';

export const newDocument = (name: string, plate: PlateInfo): ShotDocument => ({
  format: DOCUMENT_FORMAT,
  version: DOCUMENT_VERSION,
  name,
  plate,
  cast: [],
  lanes: [],
});

export const newSubject = (id: string, name: string): Subject => ({
  id,
  type: 'subject',
  name,
  parts: [],
  edge: { grow: { constant: 0 }, featherIn: { constant: 0 }, featherOut: { constant: 0 }, falloff: 'smooth' },
});

export const newSpline = (id: string, name: string, paths: Path[] = []): SplinePart => ({
  id,
  type: 'spline',
  name,
  enabled: true,
  operation: 'add',
  inverted: false,
  opacity: { constant: 1 },
  paths,
});

/** A path with one key at `frame`. */
export const newPath = (id: string, frame: number, shape: Shape, closed: boolean): Path => ({
  id,
  type: 'path',
  closed,
  shape: { keys: [{ frame, value: shape, ease: 'linear' }] },
});
