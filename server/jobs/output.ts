/** Writing an output as a job. The document is kept as it was when the output was asked for, and so are those of other shots that it shows. */
import { rm } from 'node:fs/promises';
import { z } from 'zod';
import { documentSchema } from '../documents.ts';
import { outputSpecSchema } from '../outputs/formats/index.ts';
import { materialWith } from '../outputs/shown-shots.ts';
import { outputTaskSchema } from '../outputs/task-schema.ts';
import { writeOutput, writtenSchema } from '../outputs/write-output.ts';
import { defineKind } from './kind.ts';

export const outputKind = defineKind({
  doing: 'Writing',
  // What was asked for by an earlier version shows no other shots.
  payload: z.strictObject({
    spec: outputSpecSchema,
    also: z.array(outputSpecSchema).default([]),
    document: documentSchema,
    shown: z.record(z.string(), documentSchema).default({}),
  }),
  // A job has all of it; threads are for the machine to say.
  task: outputTaskSchema.omit({ threads: true }).required(),
  result: writtenSchema,
  work: writeOutput,
  async prepare(job, services) {
    const { spec, also, document, shown } = job.payload;
    const [first, ...others] = services.outputs.places(job.id, [spec, ...also]);
    return { ...(await materialWith(job.shotId, document, shown, services)), ...first, also: others };
  },
  async abandon(job, { outputs }) {
    await rm(outputs.directory(job.id), { recursive: true, force: true });
  },
});
