/** Curves on their own, as a file: keyed shapes of one part, to be taken to another shot or program. */
import { z } from 'zod';
import { BETWEENS } from '../path/between.ts';
import { shapeSchema } from '../path/path.ts';
import { animatedSchema } from '../time/animated.ts';
import type { Path } from './schema.ts';

const CURVES_FORMAT = 'mottrel-curves';

export const curvesFileSchema = z.strictObject({
  format: z.literal(CURVES_FORMAT),
  version: z.literal(1),
  name: z.string().trim().min(1).max(120),
  /** Size of the plate they were drawn on, pixels. */
  width: z.number().int().min(1).max(16384),
  height: z.number().int().min(1).max(16384),
  curves: z.array(z.strictObject({ closed: z.boolean(), between: z.enum(BETWEENS), shape: animatedSchema(shapeSchema) })).max(200),
});
export type CurvesFile = z.infer<typeof curvesFileSchema>;

export const curvesFile = (name: string, size: { width: number; height: number }, paths: readonly Path[]): CurvesFile => ({
  format: CURVES_FORMAT,
  version: 1,
  name,
  width: size.width,
  height: size.height,
  curves: paths.map(({ closed, between, shape }) => ({ closed, between, shape })),
});

export const curvesJsonSchema = (): unknown => ({
  ...z.toJSONSchema(curvesFileSchema),
  title: 'Mottrel curves',
  description: 'Keyed bezier curves. Positions in plate pixels from the outer corner of the top left pixel, x right, y down; frames from 0.',
});
