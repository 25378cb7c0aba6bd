/** New records with their starting values. Ids come from the caller, so that the same edit gives the same record everywhere. */
import type { MotionModel } from '../math/homography.ts';
import { extentOf, type Shape } from '../path/path.ts';
import { PATTERN, searchOn } from '../track/settings.ts';
import {
  DOCUMENT_FORMAT,
  DOCUMENT_VERSION,
  edgeSchema,
  type Path,
  type PlateInfo,
  RIM,
  type ShotDocument,
  type Stroke,
  type Subject,
  type Track,
} from './schema.ts';

export const newDocument = (name: string, plate: PlateInfo): ShotDocument => ({
  format: DOCUMENT_FORMAT,
  version: DOCUMENT_VERSION,
  name,
  plate,
  light: 'plate',
  timing: null,
  cast: [],
  lanes: [],
  notes: [],
  markers: [],
  tracks: [],
});

export const newSubject = (id: string, name: string): Subject => ({
  id,
  type: 'subject',
  name,
  parts: [],
  edge: edgeSchema.parse({}),
  approved: [],
  rim: RIM,
  clean: null,
});

/** What every part has at first. */
export const newPart = (id: string, name: string) => ({
  id,
  name,
  enabled: true,
  operation: 'add' as const,
  inverted: false,
  opacity: { constant: 1 },
  range: null,
  locked: false,
  colour: 'white' as const,
});

/** A path with one key at `frame`. */
export const newPath = (id: string, frame: number, shape: Shape, closed: boolean): Path => ({
  id,
  type: 'path',
  closed,
  shape: { keys: [{ frame, value: shape, ease: 'linear' }] },
  between: 'straight',
});

type TrackStart = { id: string; name: string; frame: number; lines: number };

function newTrack({ id, name, frame, lines }: TrackStart, pivot: [number, number]) {
  return {
    id,
    type: 'track' as const,
    name,
    look: 'full' as const,
    start: frame,
    pivot,
    pattern: PATTERN,
    search: Math.round(searchOn(lines)),
    lost: 'look' as const,
    ignore: null,
    motion: { keys: [{ frame, value: { at: [...pivot], quality: 1, anchor: true as const }, ease: 'linear' as const }] },
  };
}

/** A point to be tracked, set at a place on a frame of a plate of so many lines. */
export const newPointTrack = (start: TrackStart, x: number, y: number): Track => ({ ...newTrack(start, [x, y]), kind: 'point', model: 'move', outlines: [] });

/** A region to be tracked, by its closed curves on a frame. */
export function newRegionTrack(start: TrackStart, outlines: Shape[], model: MotionModel): Track {
  const [left, top, right, bottom] = extentOf(outlines);
  const middle = (a: number, b: number) => Math.round((a + b) * 500) / 1000;
  return { ...newTrack(start, [middle(left, right), middle(top, bottom)]), kind: 'region', model, outlines };
}

/** A stroke of the brush, or a loop (whose radius tells nothing), on a frame. */
export const newStroke = (id: string, frame: number, kind: Stroke['kind'], points: number[], radius = 1, mends = false): Stroke => ({
  id,
  type: 'stroke',
  frame,
  kind,
  radius,
  points,
  enabled: true,
  mends,
});

/** A copy of a record, and of all in it, under new ids. */
export function copyOf<T extends { id: string }>(record: T, newId: () => string): T {
  const copy = { ...record, id: newId() } as T & {
    parts?: { id: string }[];
    paths?: { id: string }[];
    strokes?: { id: string }[];
    effects?: { id: string }[];
    approved?: unknown;
    held?: unknown;
  };
  if (copy.parts) copy.parts = copy.parts.map((p) => copyOf(p, newId));
  if (copy.paths) copy.paths = copy.paths.map((p) => copyOf(p, newId));
  if (copy.strokes) copy.strokes = copy.strokes.map((s) => copyOf(s, newId));
  if (copy.effects) copy.effects = copy.effects.map((e) => copyOf(e, newId));
  // What was approved is the other one.
  if (copy.approved) copy.approved = [];
  if (copy.held) copy.held = [];
  return copy;
}
