/** Ingest as a job: from a waiting plate to a shot that can be worked on. */
import { rm } from 'node:fs/promises';
import type { Config } from '../config.ts';
import type { IngestResult, IngestTask } from '../footage/ingest.ts';
import type { Shots } from '../shots.ts';
import type { JobKind } from './queue.ts';

export const ingestJob = (shots: Shots, config: Config): JobKind => ({
  async prepare(job): Promise<IngestTask> {
    const { plate } = await shots.shot(job.shotId);
    await shots.setPlateState(plate.id, 'ingesting');
    return { probe: shots.probeOf(plate), originals: shots.originals(plate.id), storeDir: shots.frameStore(plate.id), maxFrames: config.limits.frames };
  },
  finish: (job, result) => shots.plateReady(job.shotId, result as IngestResult),
  async abandon(job) {
    const { plate } = await shots.shot(job.shotId);
    await shots.setPlateState(plate.id, 'failed');
    await rm(`${shots.frameStore(plate.id)}.making`, { recursive: true, force: true });
  },
});
