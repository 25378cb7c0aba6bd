/** What the program finds from strokes, as a mask. */
import { CONTROLS, peelKeys, startsSomewhere } from '../../peel/results/inputs.ts';
import { startsFrom } from '../../peel/strokes/strokes.ts';
import { type FrameRange, rangesOfFrames } from '../../time/ranges.ts';
import type { PeelTask } from '../fence.ts';
import { newPart } from '../records.ts';
import type { PeelPart, Stroke } from '../schema.ts';
import type { PartKind } from './kind.ts';

export const newPeel = (id: string, name: string, strokes: Stroke[] = []): PeelPart => ({
  ...newPart(id, name),
  type: 'peel',
  strokes,
  look: 10,
  smoothness: 1,
  separatePieces: false,
  quality: 'fine',
  specks: 60,
  holes: 60,
  hidden: [],
  held: [],
  fence: null,
});

/** Those of the asked frames of a Peel that are found anew for what changed in it. */
function changedByPeel(before: PeelTask, after: PeelTask, asked: readonly FrameRange[]): FrameRange[] {
  const same = [...CONTROLS, 'strokes', 'hidden', 'held', 'fencing'] as const;
  if (same.every((field) => before[field] === after[field])) return [];
  const [was, is] = [peelKeys(before), peelKeys(after)];
  const holding = new Set(after.held.map((h) => h.frame));
  // What is painted on a frame that is held would count for nothing, which nobody means who paints there.
  const paintedOn = (part: PeelTask, frame: number) => JSON.stringify(part.strokes.filter((s) => s.frame === frame));
  const repainted = (frame: number) => holding.has(frame) && paintedOn(before, frame) !== paintedOn(after, frame);
  const changed: number[] = [];
  for (const { first, last } of asked) for (let frame = first; frame <= last; frame++) if (was(frame) !== is(frame) || repainted(frame)) changed.push(frame);
  return rangesOfFrames(changed);
}

export const PEEL: PartKind<PeelPart> = {
  assignable: ['fence', ...CONTROLS],
  holds: { field: 'strokes', takes: ['stroke'] },
  keyed: {},
  masks: startsSomewhere,
  remark: (part) => (part.strokes.some((s) => s.enabled && startsFrom(s)) ? null : 'nothing is kept: paint a keep stroke on the subject'),
  mask: (_document, part) => ({ from: 'peel', peel: part }),
  changes: (before, after, { was, is, asked, task }) => changedByPeel(task(was, before), task(is, after), asked),
  workedOn: (part) => part.strokes.map((s) => s.frame),
  later(part, by) {
    const to = (frame: number) => Math.max(0, frame + by);
    return {
      ...part,
      strokes: part.strokes.map((s) => ({ ...s, frame: to(s.frame) })),
      hidden: part.hidden.map((r) => ({ first: to(r.first), last: to(r.last) })),
    };
  },
};
