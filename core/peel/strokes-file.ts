/** Strokes as a file, for the command line. */
import { z } from 'zod';
import { frameSchema } from '../time/animated.ts';
import type { FrameStroke } from './peel-shot.ts';

const place = z.number().min(-100_000).max(100_000);

export const strokesFileSchema = z.strictObject({
  version: z.literal(1),
  /** Plate pixels from the outer corner of the top left pixel; frames from 0. */
  strokes: z
    .array(
      z.strictObject({
        frame: frameSchema,
        kind: z.enum(['keep', 'drop']),
        radius: z.number().positive().max(10_000),
        points: z
          .array(z.tuple([place, place]))
          .min(1)
          .max(100_000),
      }),
    )
    .min(1, { error: 'There are no strokes in it.' })
    .max(10_000),
});

/** Strokes from the value of a file; throws ZodError. */
export const strokesFromFile = (value: unknown): FrameStroke[] => strokesFileSchema.parse(value).strokes.map((s) => ({ ...s, points: s.points.flat() }));
