/** What a thread is handed of an output. */
import { z } from 'zod';
import { documentSchema } from '../documents.ts';
import { peelPlaceSchema } from '../peel/carry-peel.ts';
import { outputSpecSchema } from './formats/index.ts';
import { originalSchema } from './task.ts';

export const outputTaskSchema = z.strictObject({
  document: documentSchema,
  spec: outputSpecSchema,
  directory: z.string(),
  footage: originalSchema.optional(),
  others: z.record(z.string(), originalSchema).optional(),
  peel: peelPlaceSchema.optional(),
  threads: z.number().int().min(1).optional(),
});
