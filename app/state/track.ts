/** Tracking the curves of a part: the worker finds their motion, and keys are made of it. */
import { proxy, wrap } from 'comlink';
import type { Edit } from '~/core/document/edits.ts';
import type { SplinePart } from '~/core/document/schema.ts';
import { flatten, roundedShape } from '~/core/path/path.ts';
import { warpedShape } from '~/core/path/warped.ts';
import { type Reason, TRUSTED } from '~/core/track/quality.ts';
import { shapeAt } from '../viewer/path-edits.ts';
import type { Tracked, TrackWish, TrackWorker } from '../workers/track-worker.ts';
import { withWorker } from './one-call-worker.ts';

/** The closed outlines of a part on a frame, in plate pixels. */
export const outlinesOf = (part: SplinePart, frame: number): Float64Array[] =>
  part.paths.flatMap((path) => {
    const shape = path.closed ? shapeAt(path, frame) : [];
    return shape.length > 1 ? [flatten(shape, 1, 1)] : [];
  });

/**
 * Follows a region from its start to its end, telling each frame. Ends early, without an error, where the signal asks for it;
 * throws an Error in words for the artist.
 */
export async function trackRegion(wish: TrackWish, onFrame: (tracked: Tracked) => void, signal: AbortSignal): Promise<void> {
  if (wish.start === wish.end || signal.aborted) return;
  const worker = new Worker(new URL('../workers/track-worker.ts', import.meta.url), { type: 'module' });
  try {
    const enough = await withWorker(worker, signal, 'The curves could not be tracked.', (w) => wrap<TrackWorker>(w).track(wish, proxy(onFrame)));
    if (!enough) throw new Error('The curves hold too little of the picture to be tracked: outline more of it.');
  } catch (error) {
    if (!signal.aborted) throw error;
  }
}

/** Frames whose place is trusted. */
export const trusted = (tracked: readonly Tracked[]): Tracked[] => tracked.filter((t) => t.quality >= TRUSTED);

/** Edits that give all curves of a part a key on each frame that is trusted, and one where it began. */
export function trackEdits(part: SplinePart, start: number, tracked: readonly Tracked[]): Edit[] {
  const sure = trusted(tracked);
  return part.paths.flatMap((path) => {
    const shape = shapeAt(path, start);
    if (shape.length === 0 || sure.length === 0) return [];
    const keys = sure.map(({ frame, motion }) => ({ frame, value: roundedShape(warpedShape(shape, motion)), ease: 'linear' as const }));
    const set = [...keys, { frame: start, value: shape, ease: 'linear' as const }].sort((a, b) => a.frame - b.frame);
    return [{ kind: 'keys' as const, id: path.id, setting: 'shape', set, clear: [] }];
  });
}

export interface Gap {
  first: number;
  last: number;
  /** What was said most often on it. */
  reason: Reason;
}

/** Stretches of frames that are not trusted, rising. */
export function gapsOf(tracked: readonly Tracked[]): Gap[] {
  const gaps: (Gap & { said: Map<Reason, number> })[] = [];
  for (const { frame, quality, reason } of [...tracked].sort((a, b) => a.frame - b.frame)) {
    if (quality >= TRUSTED || !reason) continue;
    const open = gaps.at(-1);
    const gap = open?.last === frame - 1 ? open : { first: frame, last: frame, reason, said: new Map<Reason, number>() };
    if (gap !== open) gaps.push(gap);
    gap.last = frame;
    gap.said.set(reason, (gap.said.get(reason) ?? 0) + 1);
    gap.reason = [...gap.said].reduce((a, b) => (b[1] > a[1] ? b : a))[0];
  }
  return gaps.map(({ first, last, reason }) => ({ first, last, reason }));
}
