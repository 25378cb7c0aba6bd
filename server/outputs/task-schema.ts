/** What a thread is handed of an output. */
import { z } from 'zod';
import { documentSchema } from '../documents.ts';
import { peelPlaceSchema } from '../peel/carry-peel.ts';
import { outputSpecSchema } from './formats/index.ts';
import { originalSchema } from './task.ts';

const material = {
  document: documentSchema,
  footage: originalSchema,
  others: z.record(z.string(), originalSchema),
  peel: peelPlaceSchema,
};

export const outputTaskSchema = z.strictObject({
  ...material,
  footage: material.footage.optional(),
  others: material.others.optional(),
  peel: material.peel.optional(),
  shots: z.record(z.string(), z.strictObject(material)).optional(),
  spec: outputSpecSchema,
  directory: z.string(),
  threads: z.number().int().min(1).optional(),
});
