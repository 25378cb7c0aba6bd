/** Tracks of shots, run as jobs: they go on when the page is closed, and what they find is one step of the shot's history. */
import { isDeepStrictEqual } from 'node:util';
import { placedOf } from '../../core/document/follow.ts';
import { LOOKS, type Track } from '../../core/document/schema.ts';
import { placesEdit } from '../../core/document/tracks.ts';
import { framesOf, type RunFrame } from '../../core/track/run.ts';
import type { Changes } from '../changes.ts';
import type { JobQueue } from '../jobs/queue.ts';
import { Problem } from '../problem.ts';
import { askedSchema, runsOf } from './asked.ts';

const PAGE = 'server';

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
    const open = await queue.openOnes(shotId, 'track');
    return Promise.all(
      works.map((these) => {
        const payload = { ...asked, tracks: these.map((r) => r.track.id) };
        const going = open.find((job) => isDeepStrictEqual(askedSchema.strip().safeParse(job.payload).data, payload));
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
