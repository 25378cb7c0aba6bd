/** What an output is: a described result that can be written again. */
import { z } from 'zod';
import { idSchema } from '../../core/document/schema.ts';
import { frameSchema } from '../../core/time/animated.ts';

export const outputSpecSchema = z
  .discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('matte-png'), subject: idSchema, bits: z.union([z.literal(8), z.literal(16)]), first: frameSchema, last: frameSchema }),
    z.strictObject({
      kind: z.literal('cutout-prores'),
      subject: idSchema,
      alpha: z.enum(['premultiplied', 'straight']),
      first: frameSchema,
      last: frameSchema,
    }),
    z.strictObject({ kind: z.literal('composed-mp4'), sound: z.boolean(), first: frameSchema, last: frameSchema }),
  ])
  .refine((s) => s.first <= s.last, { error: 'The last frame comes before the first.' });
export type OutputSpec = z.infer<typeof outputSpecSchema>;

/** File name stem for a number of things: letters, digits and dashes only. */
export const fileStem = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .toLowerCase() || 'shot';
