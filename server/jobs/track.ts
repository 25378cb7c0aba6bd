/** Running tracks as a job: what they find is one step of the shot's history. */
import { z } from 'zod';
import { LOOKS } from '../../core/document/schema.ts';
import { framesOf } from '../../core/track/run.ts';
import { documentSchema } from '../documents.ts';
import { Problem } from '../problem.ts';
import { runsOf, trackPayloadSchema } from '../track/asked.ts';
import { followTracks, tracksFoundSchema } from '../track/follow-tracks.ts';
import { defineKind } from './kind.ts';

export const trackKind = defineKind({
  doing: 'Tracking',
  payload: trackPayloadSchema,
  task: z.strictObject({
    document: documentSchema,
    asked: trackPayloadSchema,
    storeDir: z.string(),
    look: z.enum(LOOKS),
  }),
  result: tracksFoundSchema,
  work({ document, asked, storeDir, look }, control) {
    const runs = runsOf(document, asked);
    return followTracks({ storeDir, look, plate: document.plate, ids: runs.map((r) => r.track.id), runs: runs.map((r) => r.run) }, control);
  },
  async prepare(job, { shots, changes }) {
    const { plate } = await shots.shot(job.shotId);
    const { document } = await changes.load(job.shotId);
    const runs = runsOf(document, job.payload);
    if (runs.length === 0) throw new Problem('no-track', 'That track is no longer in the shot, or has no place to start from.', 404);
    if (job.payload.found) job.restart(framesOf(runs.map((r) => r.run)));
    // Of the lanes nothing is looked at.
    return { document: { ...document, lanes: [] }, asked: job.payload, storeDir: shots.frameStore(plate.id), look: runs[0].track.look };
  },
  async finish(job, { ids, told }, { tracks }) {
    // After a pause nothing may be left to be found.
    if (told.length > 0 || !job.payload.found) await tracks.keep(job.shotId, job.id, ids, told);
  },
  async pause(job, { ids, told }, { tracks }) {
    if (told.length === 0) return;
    const found = { ...job.payload.found };
    for (const { track, frame } of told) {
      const { first, last } = found[ids[track]] ?? { first: frame, last: frame };
      found[ids[track]] = { first: Math.min(first, frame), last: Math.max(last, frame) };
    }
    // A name of its own: a job may be paused several times, and each is a step that can be taken back.
    await tracks.keep(job.shotId, `${job.id}-${told.length}-${Date.now()}`, ids, told);
    await job.setPayload({ ...job.payload, found });
  },
});
