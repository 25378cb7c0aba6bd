/** Ingest as a job: from a waiting plate to a shot that can be worked on. */
import { rm } from 'node:fs/promises';
import { z } from 'zod';
import { ingest, ingestResultSchema, ingestTaskSchema } from '../footage/ingest.ts';
import type { Probe } from '../footage/probe.ts';
import { defineKind } from './kind.ts';

/** What is asked by a problem that a decision mends. */
const ASKS: Record<string, Probe['asks']> = { 'damaged-pictures': 'filling', 'footage-short': 'short' };

export const ingestKind = defineKind({
  doing: 'Bringing in',
  payload: z.strictObject({}),
  task: ingestTaskSchema,
  result: ingestResultSchema,
  work: ingest,
  async prepare(job, { shots, config }) {
    const { plate } = await shots.shot(job.shotId);
    await shots.setPlateState(plate.id, 'ingesting');
    return {
      probe: shots.probeOf(plate),
      originals: shots.originals(plate.id),
      storeDir: shots.frameStore(plate.id),
      firstNumber: plate.firstNumber,
      maxFrames: config.limits.frames,
      maxHoldSeconds: config.limits.holdSeconds,
    };
  },
  finish: (job, result, { shots }) => shots.plateReady(job.shotId, result),
  async abandon(job, { shots }, problem) {
    const { plate } = await shots.shot(job.shotId);
    await shots.plateFailed(plate.id, problem ? ASKS[problem.code] : undefined);
    await rm(`${shots.frameStore(plate.id)}.making`, { recursive: true, force: true });
  },
});
