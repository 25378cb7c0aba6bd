/** The matte of another subject of the shot, edge and all, as a mask: subjects joined, or one less another. */
import { EVERYWHERE } from '../changed-frames.ts';
import { newPart } from '../records.ts';
import type { JoinedPart } from '../schema.ts';
import type { PartKind } from './kind.ts';

export const newJoined = (id: string, name: string, subject: string): JoinedPart => ({ ...newPart(id, name), type: 'joined', subject });

export const JOINED: PartKind<JoinedPart> = {
  assignable: ['subject'],
  keyed: {},
  masks: () => true,
  remark: () => null,
  mask: (_document, part) => ({ from: 'subject', subject: part.subject }),
  // What changes of that subject is looked for in it, see core/document/approval.ts.
  changes: (before, after) => [before.subject === after.subject ? null : EVERYWHERE],
  workedOn: () => [],
  later: (part) => part,
};
