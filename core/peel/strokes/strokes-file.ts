/** Strokes as a file, for the command line. */
import { z } from 'zod';
import { frameSchema } from '../../time/animated.ts';
import type { FrameStroke } from './strokes.ts';

const place = z.number().min(-100_000).max(100_000);

const strokesFileSchema = z.strictObject({
  version: z.literal(1),
  /** Of the footage that the strokes were painted on. */
  width: z.number().int().min(1).max(16384),
  height: z.number().int().min(1).max(16384),
  frames: z.number().int().min(1).max(10_000_000),
  /** Plate pixels from the outer corner of the top left pixel; frames from 0. */
  strokes: z
    .array(
      z.strictObject({
        frame: frameSchema,
        /** What is painted: the subject, what is not it, or an edge that is soft (hair, fur, blur). */
        mode: z.enum(['keep', 'drop', 'soft']),
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

export interface StrokesFile {
  width: number;
  height: number;
  frames: number;
  strokes: FrameStroke[];
}

/** Strokes from the value of a file; throws ZodError. */
export function strokesFromFile(value: unknown): StrokesFile {
  const { strokes, width, height, frames } = strokesFileSchema.parse(value);
  return { width, height, frames, strokes: strokes.map(({ mode, frame, radius, points }) => ({ frame, kind: mode, radius, points: points.flat() })) };
}
