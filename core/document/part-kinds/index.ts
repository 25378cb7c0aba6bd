/** The kinds of parts; one more is a file here, its schema and a line in either list. */
import type { Part } from '../schema.ts';
import { FOREIGN } from './foreign.ts';
import { IMPORTED } from './imported.ts';
import { JOINED } from './joined.ts';
import type { PartKind } from './kind.ts';
import { PEEL } from './peel.ts';
import { SPLINE } from './spline.ts';

export const PART_KINDS: { [T in Part['type']]: PartKind<Extract<Part, { type: T }>> } = {
  spline: SPLINE,
  imported: IMPORTED,
  peel: PEEL,
  joined: JOINED,
  foreign: FOREIGN,
};

/** The kind of a part. */
export const kindOfPart = (part: Part): PartKind<Part> => PART_KINDS[part.type] as unknown as PartKind<Part>;
