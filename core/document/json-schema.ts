/** The published form of the document: JSON Schema (draft 2020-12), made from the Zod schemas. */
import { z } from 'zod';
import { documentSchema } from './schema.ts';

export const documentJsonSchema = (): unknown => ({
  ...z.toJSONSchema(documentSchema, { io: 'input' }),
  title: 'Mottrel shot document',
  description: 'Everything drawn and set on one shot. Positions in plate pixels from the outer corner of the top left pixel, x right, y down; frames from 0.',
});
