/** Writing an output as a job. The document is kept as it was when the output was asked for. */
import { rm } from 'node:fs/promises';
import { z } from 'zod';
import { footageOf, matteFootageOf } from '../../core/document/parts.ts';
import { documentSchema } from '../documents.ts';
import { outputSpecSchema } from '../outputs/formats/index.ts';
import { outputTaskSchema } from '../outputs/task-schema.ts';
import { writeOutput } from '../outputs/write-output.ts';
import { defineKind } from './kind.ts';

export const outputKind = defineKind({
  doing: 'Writing',
  payload: z.strictObject({ spec: outputSpecSchema, document: documentSchema }),
  // A job has all of it; threads are for the machine to say.
  task: outputTaskSchema.omit({ threads: true }).required(),
  result: z.array(z.string()),
  work: writeOutput,
  async prepare(job, { shots, outputs, peels }) {
    const { spec, document } = job.payload;
    const { plate } = await shots.shot(job.shotId);
    const others = await shots.originalsOf(footageOf(document));
    const footage = { probe: shots.probeOf(plate), originals: shots.originals(plate.id) };
    return { document, spec, others, directory: outputs.directory(job.id), footage, peel: peels.placeOf(plate.id, matteFootageOf(document)) };
  },
  async abandon(job, { outputs }) {
    await rm(outputs.directory(job.id), { recursive: true, force: true });
  },
});
