/** Ingest as a job: from a waiting plate to a shot that can be worked on. */
import { rm } from 'node:fs/promises';
import { z } from 'zod';
import { ingest, ingestResultSchema, ingestTaskSchema } from '../footage/ingest.ts';
import { defineKind } from './kind.ts';

export const ingestKind = defineKind({
  doing: 'Bringing in',
  payload: z.strictObject({}),
  task: ingestTaskSchema,
  result: ingestResultSchema,
  work: ingest,
  async prepare(job, { shots, config }) {
    const { plate } = await shots.shot(job.shotId);
    await shots.setPlateState(plate.id, 'ingesting');
    return { probe: shots.probeOf(plate), originals: shots.originals(plate.id), storeDir: shots.frameStore(plate.id), maxFrames: config.limits.frames };
  },
  finish: (job, result, { shots }) => shots.plateReady(job.shotId, result),
  async abandon(job, { shots }) {
    const { plate } = await shots.shot(job.shotId);
    await shots.setPlateState(plate.id, 'failed');
    await rm(`${shots.frameStore(plate.id)}.making`, { recursive: true, force: true });
  },
});
