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

const place = { spec: outputSpecSchema, directory: z.string() };

export const outputTaskSchema = z.strictObject({
  ...material,
  footage: material.footage.optional(),
  others: material.others.optional(),
  peel: material.peel.optional(),
  shots: z.record(z.string(), z.strictObject(material)).optional(),
  ...place,
  also: z.array(z.strictObject(place)).optional(),
  threads: z.number().int().min(1).optional(),
});
