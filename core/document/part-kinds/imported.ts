/** A gray picture, or a sequence of them, as a mask. */
import { keysLater, numberAt } from '../../time/animated.ts';
import { changedFrames, EVERYWHERE } from '../changed-frames.ts';
import { newPart } from '../records.ts';
import type { ImportedPart } from '../schema.ts';
import type { PartKind } from './kind.ts';

export const newImported = (id: string, name: string, footage: string, length: number): ImportedPart => ({
  ...newPart(id, name),
  type: 'imported',
  footage,
  length,
  offset: { constant: 0 },
});

/** The frame of its footage at an instant; null where it has none then. */
export function frameOfImported({ length, offset }: ImportedPart, time: number): number | null {
  const frame = length === 1 ? 0 : Math.round(time) - Math.round(numberAt(offset, time));
  return frame >= 0 && frame < length ? frame : null;
}

export const IMPORTED: PartKind<ImportedPart> = {
  assignable: [],
  keyed: { offset: 'begins at' },
  masks: () => true,
  remark: () => null,
  mask: (_document, part, time) => ({ from: 'footage', footage: part.footage, frame: frameOfImported(part, time) }),
  changes: (before, after) => [before.footage === after.footage ? null : EVERYWHERE, changedFrames(before.offset, after.offset, 0)],
  workedOn: () => [],
  later: (part, by) => ({ ...part, offset: keysLater(part.offset, by) }),
};
