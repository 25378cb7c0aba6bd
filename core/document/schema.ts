/** The shot document: a tree of small records with ids. Zod schemas are the one source of its types and its JSON Schema. */
import { z } from 'zod';
import { shapeSchema } from '../path/path.ts';
import { animatedSchema, frameSchema } from '../time/animated.ts';
import { rateSchema } from '../time/rate.ts';

export const DOCUMENT_FORMAT = 'mottrel-shot';
export const DOCUMENT_VERSION = 1;

/** How a part joins what is above it: the operations of the CSS Masking standard. */
export const OPERATIONS = ['add', 'subtract', 'intersect', 'exclude'] as const;
export type Operation = (typeof OPERATIONS)[number];

/** How alpha falls over the soft band of an edge. */
export const FALLOFFS = ['linear', 'smooth'] as const;
export type Falloff = (typeof FALLOFFS)[number];

export const idSchema = z.string().regex(/^[A-Za-z0-9_-]{1,64}$/, { error: 'An id is 1 to 64 letters, digits, - or _.' });
const nameSchema = z.string().trim().min(1, { error: 'A name is needed.' }).max(120);
const pixels = (least: number, most: number) => animatedSchema(z.number().min(least).max(most));
const share = animatedSchema(z.number().min(0).max(1));

export const pathSchema = z.strictObject({
  id: idSchema,
  type: z.literal('path'),
  closed: z.boolean(),
  shape: animatedSchema(shapeSchema),
});
export type Path = z.infer<typeof pathSchema>;

export const splineSchema = z.strictObject({
  id: idSchema,
  type: z.literal('spline'),
  name: nameSchema,
  enabled: z.boolean(),
  operation: z.enum(OPERATIONS),
  inverted: z.boolean(),
  opacity: share,
  paths: z.array(pathSchema).max(200),
});
export type SplinePart = z.infer<typeof splineSchema>;

export const edgeSchema = z.strictObject({
  grow: pixels(-500, 500),
  featherIn: pixels(0, 500),
  featherOut: pixels(0, 500),
  falloff: z.enum(FALLOFFS),
});
export type Edge = z.infer<typeof edgeSchema>;

export const subjectSchema = z.strictObject({
  id: idSchema,
  type: z.literal('subject'),
  name: nameSchema,
  parts: z.array(splineSchema).max(200),
  edge: edgeSchema,
});
export type Subject = z.infer<typeof subjectSchema>;

export const LANES = ['inside', 'behind'] as const;
export type Lane = (typeof LANES)[number];

const settingSchema = animatedSchema(z.union([z.number().min(-1e6).max(1e6), z.array(z.number().min(-1e6).max(1e6)).max(16)]));
export type Setting = z.infer<typeof settingSchema>;

export const laneEffectSchema = z.strictObject({
  id: idSchema,
  type: z.literal('effect'),
  /** Confined to the inside of the subject's matte, or behind it (everything that the matte does not cover). */
  lane: z.enum(LANES),
  subject: idSchema,
  effect: z.string().min(1).max(60),
  enabled: z.boolean(),
  mix: share,
  settings: z.record(z.string().min(1).max(60), settingSchema),
});
export type LaneEffect = z.infer<typeof laneEffectSchema>;

export const plateInfoSchema = z.strictObject({
  width: z.number().int().min(1).max(16384),
  height: z.number().int().min(1).max(16384),
  frames: z.number().int().min(1).max(10_000_000),
  rate: rateSchema,
  /** The number shown for frame 0. */
  firstNumber: frameSchema,
});
export type PlateInfo = z.infer<typeof plateInfoSchema>;

export const documentSchema = z.strictObject({
  format: z.literal(DOCUMENT_FORMAT),
  version: z.literal(DOCUMENT_VERSION),
  name: nameSchema,
  plate: plateInfoSchema,
  /** Near to far. */
  cast: z.array(subjectSchema).max(200),
  /** Effects in the order they are applied within their lane. */
  lanes: z.array(laneEffectSchema).max(500),
});
export type ShotDocument = z.infer<typeof documentSchema>;

export type DocumentRecord = Subject | SplinePart | Path | LaneEffect;
