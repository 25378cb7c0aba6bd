/** Points and a region to be tracked as a file, for the command line. */
import { z } from 'zod';
import { frameSchema } from '../time/animated.ts';

const place = z.number().min(-100_000).max(100_000);

const tracksFileSchema = z
  .strictObject({
    version: z.literal(1),
    /** Plate pixels from the outer corner of the top left pixel; frames from 0. */
    points: z
      .array(
        z.strictObject({
          id: z
            .string()
            .min(1)
            .max(64)
            .refine((id) => id !== 'region' && id !== '__proto__', { error: 'A point needs another id.' }),
          frame: frameSchema,
          x: place,
          y: place,
        }),
      )
      .max(5000)
      .default([]),
    region: z
      .strictObject({
        frame: frameSchema,
        polygon: z
          .array(z.tuple([place, place]))
          .min(3, { error: 'A region needs three points at least.' })
          .max(10_000),
      })
      .optional(),
  })
  .refine((f) => f.points.length > 0 || f.region, { error: 'There is neither a point nor a region in it.' })
  .refine((f) => new Set(f.points.map((p) => p.id)).size === f.points.length, { error: 'Two points have the same id.' });

export type TrackFile = z.infer<typeof tracksFileSchema>;

/** From the value of a file; throws ZodError. */
export const pointsFromFile = (value: unknown): TrackFile => tracksFileSchema.parse(value);
