/** Tracks of shots, run as jobs: they go on when the page is closed, and what they find is one step of the shot's history. */
import { isDeepStrictEqual } from 'node:util';
import { Op } from 'sequelize';
import { z } from 'zod';
import { placedOf } from '../../core/document/follow.ts';
import { idSchema, LOOKS, type ShotDocument, type Track } from '../../core/document/schema.ts';
import { placesEdit, runOf } from '../../core/document/tracks.ts';
import { frameSchema } from '../../core/time/animated.ts';
import type { FrameRange } from '../../core/time/ranges.ts';
import { framesOf, type RunFrame } from '../../core/track/run.ts';
import type { Changes } from '../changes.ts';
import { Job } from '../db/models.ts';
import type { JobKind, JobQueue } from '../jobs/queue.ts';
import { Problem } from '../problem.ts';
import type { Shots } from '../shots.ts';
import type { TracksFound, TrackTask } from './follow-tracks.ts';

const askedSchema = z
  .strictObject({ tracks: z.array(idSchema).min(1).max(2000), first: frameSchema, last: frameSchema })
  .refine((r) => r.first <= r.last, { error: 'A range ends where it begins or later.' });

/** Tracks that look at frames of one size, and the frames that are wanted. */
type Asked = z.infer<typeof askedSchema>;
/** And, once the work was paused or shut down, which frames of each track were found by then. */
type TrackPayload = Asked & { found?: Record<string, FrameRange> };

const PAGE = 'server';

function runsOf(document: ShotDocument, { tracks, first, last, found }: TrackPayload) {
  return document.tracks.flatMap((track) => {
    const run = tracks.includes(track.id) ? runOf(document, track, { first, last }) : null;
    return run ? [{ track, run: { ...run, found: found?.[track.id] } }] : [];
  });
}

export class Tracks {
  private readonly changes: Changes;
  constructor(changes: Changes) {
    this.changes = changes;
  }

  /** Queues the run of tracks of a shot; those that look at proxies are a work of their own. Asked for twice, it is the same work. */
  async run(queue: JobQueue, shotId: string, input: unknown): Promise<string[]> {
    const asked = askedSchema.parse(input);
    const { document } = await this.changes.load(shotId);
    if (asked.last >= document.plate.frames)
      throw new Problem('out-of-range', `This shot ends at frame ${document.plate.frames - 1 + document.plate.firstNumber}.`, 422);
    const runs = runsOf(document, asked);
    if (runs.length === 0) throw new Problem('no-track', 'That track is no longer in the shot, or has no place to start from.', 404);
    const works = LOOKS.map((look) => runs.filter((r) => r.track.look === look)).filter((these) => framesOf(these.map((r) => r.run)) > 0);
    if (works.length === 0) throw new Problem('nothing-to-track', 'There is no frame left to track in this direction.', 422);
    const open = await Job.findAll({ where: { shotId, kind: 'track', state: { [Op.in]: ['queued', 'running', 'paused'] } } });
    return Promise.all(
      works.map((these) => {
        const payload: TrackPayload = { ...asked, tracks: these.map((r) => r.track.id) };
        const going = open.find((job) => isDeepStrictEqual({ ...JSON.parse(job.payload), found: undefined }, { ...payload, found: undefined }));
        return (
          going?.id ??
          queue.add('track', shotId, payload, framesOf(these.map((r) => r.run)), {
            label: `${these.length === 1 ? these[0].track.name : `${these.length} tracks`}, ${document.name}`,
          })
        );
      }),
    );
  }

  /** Keeps what was found, as one step; tracks that are gone by now are left out. */
  async keep(shotId: string, jobId: string, ids: readonly string[], found: readonly RunFrame[]): Promise<void> {
    const { document } = await this.changes.load(shotId);
    const edits = document.tracks.flatMap((track: Track) => {
      // A frame between two anchors is told twice; what is told last counts.
      const places = new Map(found.filter((f) => ids[f.track] === track.id).map((f) => [f.frame, placedOf(f)]));
      return places.size > 0
        ? [
            placesEdit(
              track,
              [...places].map(([frame, value]) => ({ frame, value })),
            ),
          ]
        : [];
    });
    if (edits.length === 0) throw new Problem('nothing-found', 'Too little of the picture is outlined to be tracked: outline more of it.', 422);
    await this.changes.apply(shotId, { role: 'do', page: PAGE, change: { id: jobId, label: 'Track', edits } });
  }
}

export const trackJob = (shots: Shots, changes: Changes, tracks: Tracks): JobKind => ({
  async prepare(job): Promise<TrackTask> {
    const payload = JSON.parse(job.payload) as TrackPayload;
    const { plate } = await shots.shot(job.shotId);
    const { document } = await changes.load(job.shotId);
    const runs = runsOf(document, payload);
    if (runs.length === 0) throw new Problem('no-track', 'That track is no longer in the shot, or has no place to start from.', 404);
    if (payload.found) {
      // What is left counts from here on.
      job.total = framesOf(runs.map((r) => r.run));
      job.done = 0;
    }
    const { width, height } = document.plate;
    return {
      storeDir: shots.frameStore(plate.id),
      look: runs[0].track.look,
      plate: { width, height },
      ids: runs.map((r) => r.track.id),
      runs: runs.map((r) => r.run),
    };
  },
  async finish(job, result) {
    const { ids, told } = result as TracksFound;
    // After a pause nothing may be left to be found.
    if (told.length > 0 || !(JSON.parse(job.payload) as TrackPayload).found) await tracks.keep(job.shotId, job.id, ids, told);
  },
  async pause(job, result) {
    const { ids, told } = result as TracksFound;
    if (told.length === 0) return;
    const payload = JSON.parse(job.payload) as TrackPayload;
    const found = { ...payload.found };
    for (const { track, frame } of told) {
      const { first, last } = found[ids[track]] ?? { first: frame, last: frame };
      found[ids[track]] = { first: Math.min(first, frame), last: Math.max(last, frame) };
    }
    // A name of its own: a job may be paused several times, and each is a step that can be taken back.
    await tracks.keep(job.shotId, `${job.id}-${told.length}-${Date.now()}`, ids, told);
    await job.update({ payload: JSON.stringify({ ...payload, found }) });
  },
  async abandon() {},
});
