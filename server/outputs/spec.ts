/** What an output is: a described result that can be written again. */
import { z } from 'zod';
import { followSchema, idSchema } from '../../core/document/schema.ts';
import { frameSchema } from '../../core/time/animated.ts';

/** Held still: what a track follows stays where it is on a frame, as far as its motion is taken. */
const hold = followSchema.optional();

export const outputSpecSchema = z
  .discriminatedUnion('kind', [
    z.strictObject({
      kind: z.literal('matte-png'),
      subject: idSchema,
      bits: z.union([z.literal(8), z.literal(16)]),
      first: frameSchema,
      last: frameSchema,
      hold,
    }),
    z.strictObject({
      kind: z.literal('cutout-prores'),
      subject: idSchema,
      alpha: z.enum(['premultiplied', 'straight']),
      first: frameSchema,
      last: frameSchema,
      hold,
    }),
    z.strictObject({ kind: z.literal('composed-mp4'), sound: z.boolean(), first: frameSchema, last: frameSchema, hold }),
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
