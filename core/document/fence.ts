/** The fence of a Peel: another part of the shot, outside of which nothing belongs to the subject. */
import type { PeelInputs } from '../peel/inputs.ts';
import { type PlacedSpline, placedSpline } from './follow.ts';
import type { ImportedPart, Part, PeelPart, ShotDocument, SplinePart } from './schema.ts';

export type FencePart = PlacedSpline | ImportedPart;
/** A Peel with all that decides what it finds. */
export type PeelTask = PeelPart & PeelInputs;

export const canFence = (part: Part): part is SplinePart | ImportedPart => part.type !== 'peel';

/** The part that fences a Peel in; null where there is none, or none any more. */
export function fenceOf(document: ShotDocument, { fence }: PeelPart): FencePart | null {
  if (!fence) return null;
  for (const subject of document.cast)
    for (const part of subject.parts) if (part.id === fence) return part.type === 'spline' ? placedSpline(document, part) : canFence(part) ? part : null;
  return null;
}

/** All that says where a fence is; its name, its looks and what it does to its own subject's matte do not. */
function fencingOf(part: FencePart): string {
  const own =
    part.type === 'spline'
      ? part.paths.filter((p) => p.closed).map((p) => (p.carried || p.pins ? [p.shape, p.between, p.carried, p.pins] : [p.shape, p.between]))
      : [part.footage, part.length, part.offset];
  return JSON.stringify([part.type, part.inverted, part.range, own]);
}

const tasks = new WeakMap<PeelPart, { fence: FencePart | null; task: PeelTask }>();

/** A Peel as carrying takes it; the same for the same records. */
export function taskOf(part: PeelPart, fence: FencePart | null): PeelTask {
  const known = tasks.get(part);
  if (known?.fence === fence) return known.task;
  const task: PeelTask = { ...part, fencing: fence && fencingOf(fence) };
  tasks.set(part, { fence, task });
  return task;
}

export const peelTask = (document: ShotDocument, part: PeelPart): PeelTask => taskOf(part, fenceOf(document, part));
