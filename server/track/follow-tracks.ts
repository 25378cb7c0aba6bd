/** Running tracks through the stored frames of a plate: the work of a job. */

import { LRUCache } from 'lru-cache';
import { z } from 'zod';
import type { Gray, Size } from '../../core/image/picture.ts';
import { memoisedPromise } from '../../core/math/memo.ts';
import { REASONS, type Reason } from '../../core/track/quality.ts';
import { type RunFrame, runTracks, type TrackRun } from '../../core/track/run.ts';
import { Stopped } from '../problem.ts';
import { storedLuma } from './stored-luma.ts';

export interface TrackTask {
  storeDir: string;
  look: 'full' | 'proxy';
  plate: Size;
  /** The id of the track of each run. */
  ids: string[];
  runs: TrackRun[];
}

/** What was found, of which tracks. */
export const tracksFoundSchema = z.strictObject({
  ids: z.array(z.string()),
  told: z.array(
    z.strictObject({
      track: z.number().int(),
      frame: z.number().int(),
      at: z.array(z.number()),
      quality: z.number(),
      reason: z.enum(Object.keys(REASONS) as [Reason, ...Reason[]]).nullable(),
      leftOut: z.string().optional(),
    }),
  ),
});
export type TracksFound = z.infer<typeof tracksFoundSchema>;

interface TrackControl {
  /** Frames told so far. */
  onProgress(done: number): void;
  signal?: AbortSignal;
}

/** Pictures kept: where a way begins, two are wanted again and again. */
const KEPT = 3;

/** All that was found. Throws a Problem with code "stopped" where the signal asked it to stop, with what was found by then. */
export async function followTracks({ storeDir, look, plate, ids, runs }: TrackTask, { onProgress, signal }: TrackControl): Promise<TracksFound> {
  const kept = new LRUCache<number, Promise<Gray>>({ max: KEPT });
  const told: RunFrame[] = [];
  const found: TracksFound = { ids, told };
  const luma = async (frame: number) => {
    if (signal?.aborted) throw new Stopped(found);
    return memoisedPromise(kept, frame, () => storedLuma(storeDir, frame, look));
  };
  for await (const frame of runTracks(luma, plate, runs, look === 'proxy')) {
    told.push(frame);
    onProgress(told.length);
  }
  return found;
}
