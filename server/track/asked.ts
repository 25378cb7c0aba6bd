/** What is asked of tracks: which, and on which frames. */
import { z } from 'zod';
import { idSchema, rangeSchema, type ShotDocument } from '../../core/document/schema.ts';
import { runOf } from '../../core/document/tracks.ts';
import { frameSchema } from '../../core/time/animated.ts';
import type { TrackRun } from '../../core/track/run.ts';

/** Tracks that look at frames of one size, and the frames that are wanted. */
export const askedSchema = z
  .strictObject({ tracks: z.array(idSchema).min(1).max(2000), first: frameSchema, last: frameSchema })
  .refine((r) => r.first <= r.last, { error: 'A range ends where it begins or later.' });

/** And, once the work was paused or shut down, which frames of each track were found by then. */
export const trackPayloadSchema = askedSchema.safeExtend({ found: z.record(z.string(), rangeSchema).optional() });
type Payload = z.infer<typeof trackPayloadSchema>;

/** The runs that are asked for, each with the id of its track. */
export function runsOf(document: ShotDocument, { tracks, first, last, found }: Payload) {
  return document.tracks.flatMap((track) => {
    const run = tracks.includes(track.id) ? runOf(document, track, { first, last }) : null;
    return run ? [{ track, run: { ...run, found: found?.[track.id] } as TrackRun }] : [];
  });
}
