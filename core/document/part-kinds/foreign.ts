/** A part of a kind that this version does not know: it is kept, and masks nothing. */
import type { ForeignPart } from '../schema.ts';
import type { PartKind } from './kind.ts';

export const FOREIGN: PartKind<ForeignPart> = {
  assignable: [],
  keyed: {},
  masks: () => false,
  remark: () => null,
  mask: () => null,
  changes: () => [],
  workedOn: () => [],
  later: (part) => part,
};
