/** The shot document: a tree of small records with ids. Zod schemas are the one source of its types and its JSON Schema. */
import { z } from 'zod';
import { BLENDS } from '../math/blend.ts';
import { MOTION_MODELS } from '../math/homography.ts';
import { ASPECTS } from '../math/motion.ts';
import { BETWEENS } from '../path/between.ts';
import { shapeSchema } from '../path/path.ts';
import { QUALITIES } from '../peel/settings.ts';
import { STROKE_KINDS } from '../peel/strokes/strokes.ts';
import { animatedSchema, frameSchema } from '../time/animated.ts';
import { rateSchema } from '../time/rate.ts';
import { REASONS, type Reason } from '../track/quality.ts';
import { EDGE_SHAPE, type Edge, type Falloff } from './edge-settings.ts';

export const DOCUMENT_FORMAT = 'mottrel-shot';
export const DOCUMENT_VERSION = 2;

/** How a part joins what is above it: the operations of the CSS Masking standard. */
export const OPERATIONS = ['add', 'subtract', 'intersect', 'exclude'] as const;
export type Operation = (typeof OPERATIONS)[number];

export const idSchema = z.string().regex(/^[A-Za-z0-9_-]{1,64}$/, { error: 'An id is 1 to 64 letters, digits, - or _.' });
export const nameSchema = z.string().trim().min(1, { error: 'A name is needed.' }).max(120);
/** A coordinate of the plate, pixels. */
const place = z.number().min(-100_000).max(100_000);
const share = animatedSchema(z.number().min(0).max(1));
const none = { constant: 0 };

export const rangeSchema = z
  .strictObject({ first: frameSchema, last: frameSchema })
  .refine((r) => r.first <= r.last, { error: 'A range ends where it begins or later.' });

/** Colours of outlines: light, of even strength, told apart on any footage by their dark rim. */
export const OUTLINE_COLOURS = ['white', 'sky', 'lime', 'sand', 'coral', 'orchid', 'mint', 'slate'] as const;
export type OutlineColour = (typeof OUTLINE_COLOURS)[number];

/**
 * A record of the document. Fields that this version does not know are kept as they are: a later one may have put them there. The type is
 * that of the fields that are known.
 */
const record = <S extends z.ZodRawShape>(fields: S) => z.looseObject(fields) as unknown as z.ZodObject<S, z.core.$strict>;

const partFields = {
  id: idSchema,
  name: nameSchema,
  enabled: z.boolean(),
  operation: z.enum(OPERATIONS),
  inverted: z.boolean(),
  opacity: share,
  /** Frames it lives on; all where null. */
  range: rangeSchema.nullable().default(null),
  /** Guarded against being changed by hand. */
  locked: z.boolean().default(false),
  colour: z.enum(OUTLINE_COLOURS).default('white'),
};

export const pathSchema = record({
  id: idSchema,
  type: z.literal('path'),
  closed: z.boolean(),
  shape: animatedSchema(shapeSchema),
  /** How it goes from key to key. */
  between: z.enum(BETWEENS).default('straight'),
});
export type Path = z.infer<typeof pathSchema>;

/** Moves with a track: what is drawn is told as on `frame`, and carried from there by what is taken of the track's motion. */
export const followSchema = z.strictObject({
  track: idSchema,
  frame: frameSchema,
  takes: z.array(z.enum(ASPECTS)).min(1, { error: 'Something of the motion has to be taken.' }).max(ASPECTS.length),
});
export type Follow = z.infer<typeof followSchema>;

const splineSchema = record({
  ...partFields,
  type: z.literal('spline'),
  paths: z.array(pathSchema).max(2000),
  follow: followSchema.nullable().default(null),
});
export type SplinePart = z.infer<typeof splineSchema>;

/** A gray picture, or a sequence of them, taken as it is. */
const importedSchema = record({
  ...partFields,
  type: z.literal('imported'),
  /** The footage whose luma is the matte. */
  footage: idSchema,
  /** Frames of it; a single one stands on all frames of the shot. */
  length: z.number().int().min(1).max(10_000_000),
  /** Frame of the shot on which its first frame lies; rounded where keys make it a fraction. */
  offset: animatedSchema(z.number().min(-10_000_000).max(10_000_000)).default(none),
});
export type ImportedPart = z.infer<typeof importedSchema>;

/** A line of the brush on one frame of a Peel. */
export const strokeSchema = record({
  id: idSchema,
  type: z.literal('stroke'),
  frame: frameSchema,
  kind: z.enum(STROKE_KINDS),
  /** Of the brush, plate pixels. */
  radius: z.number().min(0.5).max(2000),
  /** x0,y0,x1,y1,… in plate pixels; one point is a dot. */
  points: z
    .array(place)
    .min(2)
    .max(20_000)
    .refine((p) => p.length % 2 === 0, { error: 'Points are pairs of numbers.' }),
  enabled: z.boolean().default(true),
  /** Pressure of the pen at each point: the share of the radius there; full where nothing is said. */
  pressures: z.array(z.number().min(0).max(1)).max(10_000).optional(),
  /** Whether it was painted onto what had been carried to its frame, which it mends. */
  mends: z.boolean().default(false),
});
export type Stroke = z.infer<typeof strokeSchema>;

export const frozenResultSchema = z.strictObject({ frame: frameSchema, key: z.string().regex(/^[0-9a-f]{32}$/) });

/** What the program finds from keep and drop strokes and carries through the frames. */
export const peelSchema = record({
  ...partFields,
  type: z.literal('peel'),
  strokes: z.array(strokeSchema).max(5000),
  /** Pixels from the expected edge within which a carried edge is looked for. */
  look: z.number().min(2).max(60).default(10),
  /** How much the edge keeps to what the picture shows as an edge and to being short: 1 is usual. */
  smoothness: z.number().min(0.1).max(10).default(1),
  /** Pieces that hold no keep stroke may stay. */
  separatePieces: z.boolean().default(false),
  /** A draft looks at pictures of half the size of the proxy, and is not made finer at the size of the plate. */
  quality: z.enum(QUALITIES).default('fine'),
  /** Pieces, and holes, of fewer pixels of the proxy are left out of what is carried. */
  specks: z.number().min(0).max(100_000).default(60),
  holes: z.number().min(0).max(100_000).default(60),
  /** Frames on which the subject is out of sight: nothing is kept, and after them it is looked for. Rising, apart. */
  hidden: z.array(rangeSchema).max(10_000).default([]),
  /** Frames whose result stays as it was when they were approved, by the name it is kept under. Rising. */
  held: z.array(frozenResultSchema).max(100_000).default([]),
  /** A Spline, an imported matte or a tracked region of the shot, outside of which nothing belongs to the subject; switched off it holds too. */
  fence: idSchema.nullable().default(null),
});
export type PeelPart = z.infer<typeof peelSchema>;

/** Another subject, whose matte is the mask. */
const joinedSchema = record({ ...partFields, type: z.literal('joined'), subject: idSchema });
export type JoinedPart = z.infer<typeof joinedSchema>;

/** A part of a kind that this version does not know, see core/document/versions.ts: it is kept, and masks nothing. */
const foreignPartSchema = z.strictObject({ ...partFields, type: z.literal('foreign'), raw: z.record(z.string(), z.unknown()) });
export type ForeignPart = z.infer<typeof foreignPartSchema>;

/** All kinds of parts; what else there is to say of them is in core/document/part-kinds. */
export const PART_SCHEMAS = { spline: splineSchema, imported: importedSchema, peel: peelSchema, joined: joinedSchema, foreign: foreignPartSchema };
type PartSchema = (typeof PART_SCHEMAS)[keyof typeof PART_SCHEMAS];
export const PART_SCHEMA_LIST = Object.values(PART_SCHEMAS) as [PartSchema, ...PartSchema[]];
export type Part = z.infer<PartSchema>;
export type KnownPart = Exclude<Part, ForeignPart>;

/** Each setting of edges is described in core/document/edge-settings.ts. */
export const edgeSchema = record(EDGE_SHAPE);
export type { Edge, Falloff };

/** What is made of footage in its own shot: the cut-out of a subject, or the finished picture (null). */
const madeSchema = z.strictObject({ shot: idSchema, subject: idSchema.nullable() });
export type Made = z.infer<typeof madeSchema>;

/** Footage that is shown, as it was when it was put there. */
export const shownFootageSchema = z.strictObject({
  /** Of the plate. */
  id: idSchema,
  width: z.number().int().min(1).max(16384),
  height: z.number().int().min(1).max(16384),
  frames: z.number().int().min(1).max(10_000_000),
  /** Whether it has alpha. */
  alpha: z.boolean().default(false),
  /** Where it is not the plate itself that shows, but what is made of it in a shot, as that is now. */
  made: madeSchema.optional(),
});
export type ShownFootage = z.infer<typeof shownFootageSchema>;

const rimWidth = animatedSchema(z.number().min(0).max(2000));
const rimSchema = record({ inner: rimWidth, outer: rimWidth, softness: rimWidth });
/** The rim of a new subject, plate pixels. */
export const RIM: z.infer<typeof rimSchema> = { inner: { constant: 8 }, outer: { constant: 8 }, softness: { constant: 4 } };

export const subjectSchema = record({
  id: idSchema,
  type: z.literal('subject'),
  name: nameSchema,
  parts: z.array(z.discriminatedUnion('type', PART_SCHEMA_LIST)).max(200),
  edge: edgeSchema,
  /** Frames that the artist has called right; nothing changes their mattes until they are released. Rising, apart. */
  approved: z.array(rangeSchema).max(100_000).default([]),
  /** The band along its edge: how far it goes inwards and outwards, and over how much it fades; plate pixels. */
  rim: rimSchema.default(RIM),
  /** The same view without it; computed from what lies round it where there is none. */
  clean: shownFootageSchema.nullable().default(null),
});
export type Subject = z.infer<typeof subjectSchema>;

/** Near to far: before everything, along the edge of a subject, on a subject, farther than a subject, farther than all of them. */
const LANES = ['front', 'rim', 'inside', 'behind', 'backdrop'] as const;
export type Lane = (typeof LANES)[number];
/** Whether a lane is relative to one subject. */
export const ofSubject = (lane: Lane): lane is 'rim' | 'inside' | 'behind' => lane === 'rim' || lane === 'inside' || lane === 'behind';

const settingSchema = animatedSchema(z.union([z.number().min(-1e6).max(1e6), z.array(z.number().min(-1e6).max(1e6)).max(200), z.string().min(1).max(40)]));
export type Setting = z.infer<typeof settingSchema>;

/** What says where, or how strongly, something is seen. */
const matteFields = {
  /** An element or a subject of this shot, the picture or the matte of which it is. */
  matteOf: idSchema.nullable().default(null),
  /** Or footage that fills the plate. What of it counts is in its settings, see core/effects/matte-settings.ts. */
  matteFootage: shownFootageSchema.nullable().default(null),
};

const laneFields = {
  id: idSchema,
  /** Where it is confined; see core/compose/lanes.ts. */
  lane: z.enum(LANES),
  /** Of the lanes that are relative to one. */
  subject: idSchema.nullable(),
  enabled: z.boolean(),
  /** Strength over time. */
  mix: share,
  /** Frames on which it is there, rising, apart; all where none are said. */
  lives: z.array(rangeSchema).max(1000).default([]),
  /** What moves it, where it has a place: here `track` names a track, a Spline or another element. */
  follow: followSchema.nullable().default(null),
  /** How far it goes along with that, over time. */
  followAmount: share.default({ constant: 1 }),
  blend: z.enum(BLENDS).default('normal'),
  ...matteFields,
  settings: z.record(z.string().min(1).max(60), settingSchema),
};

/** A change of what is in its lane. */
export const laneEffectSchema = record({
  ...laneFields,
  type: z.literal('effect'),
  effect: z.string().min(1).max(60),
  /** Inside a subject, of an effect that reaches beyond what it is given: whether it may take the subject out of its outline. */
  leaves: z.boolean().default(false),
});
export type LaneEffect = z.infer<typeof laneEffectSchema>;

/** An effect of one element, which changes that alone. */
export const elementEffectSchema = record({
  id: idSchema,
  type: z.literal('element-effect'),
  effect: z.string().min(1).max(60),
  enabled: z.boolean(),
  mix: share,
  blend: z.enum(BLENDS).default('normal'),
  ...matteFields,
  settings: z.record(z.string().min(1).max(60), settingSchema),
});
export type ElementEffect = z.infer<typeof elementEffectSchema>;

/** Something placed into a lane: a title, a card, another shot, what is made from an outline. */
export const elementSchema = record({
  ...laneFields,
  type: z.literal('element'),
  /** Which kind; see core/elements. */
  element: z.string().min(1).max(60),
  name: nameSchema,
  /** Where its corners lie on the plate, from the left top one clockwise, x0,y0,…,y3; null: placed by position, scale and turn. */
  corners: animatedSchema(z.array(place).length(8)).nullable().default(null),
  /** Of a title. */
  words: z.string().max(500).default(''),
  /** The subject, or the Spline, that it is made from; null: the subject of its lane. */
  of: idSchema.nullable().default(null),
  footage: shownFootageSchema.nullable().default(null),
  /** Lines of its own, drawn on the plate, which it is made from where it is made from nothing else; each open. */
  drawn: z.array(shapeSchema).max(500).default([]),
  /** Ends of it (by the setting that says where they are, across) that are fixed to something of their own. */
  pins: z.record(z.string().max(60), followSchema).default({}),
  /** In the order in which they change it. */
  effects: z.array(elementEffectSchema).max(50).default([]),
});
export type Element = z.infer<typeof elementSchema>;
export type LaneItem = LaneEffect | Element;

/** Something to remember about a frame. */
export const noteSchema = record({
  id: idSchema,
  type: z.literal('note'),
  frame: frameSchema,
  text: z.string().trim().min(1, { error: 'A note needs words.' }).max(2000),
});
type Note = z.infer<typeof noteSchema>;

/** A named frame or range of frames. */
export const markerSchema = record({ id: idSchema, type: z.literal('marker'), name: nameSchema, range: rangeSchema });
type Marker = z.infer<typeof markerSchema>;

/** Where a tracked thing is on a frame. */
const trackedSchema = z.strictObject({
  /** See core/math/motion.ts. */
  at: z.array(place).refine((at) => [2, 6, 8].includes(at.length), { error: 'A place of a track has 2, 6 or 8 numbers.' }),
  quality: z.number().min(0).max(1),
  /** Why it is not to be trusted. */
  reason: z.enum(Object.keys(REASONS) as [Reason, ...Reason[]]).optional(),
  /** Put there by hand: tracking starts from it and passes through it. */
  anchor: z.literal(true).optional(),
  /** Of a region: the cells that were left out, see core/track/run.ts. */
  leftOut: z
    .string()
    .regex(/^[0-9a-f]{16}$/)
    .optional(),
  /** Of an anchor: how far from it lies what is followed from here on, x and y in plate pixels. */
  aside: z.tuple([place, place]).optional(),
});
export type Placed = z.infer<typeof trackedSchema>;

const TRACK_KINDS = ['point', 'region'] as const;
const WHEN_LOST = ['look', 'stop'] as const;
export const LOOKS = ['full', 'proxy'] as const;

/** A point or a region and its motion through the frames. */
export const trackSchema = record({
  id: idSchema,
  type: z.literal('track'),
  name: nameSchema,
  kind: z.enum(TRACK_KINDS),
  model: z.enum(MOTION_MODELS),
  /** Whether full frames are looked at, or proxies of them. */
  look: z.enum(LOOKS).default('full'),
  /** Frame on which it was set; its middle there, plate pixels. */
  start: frameSchema,
  pivot: z.tuple([place, place]),
  /** Of a region: its closed curves on that frame. */
  outlines: z.array(shapeSchema).max(2000).default([]),
  /** Of a point: half of its pattern's side, plate pixels. */
  pattern: z.number().min(3).max(200).default(10),
  /** Plate pixels round where it is expected within which it is looked for. */
  search: z.number().min(4).max(2000),
  /** Whether it is looked for again once it is lost, or tracking ends there. */
  lost: z.enum(WHEN_LOST).default('look'),
  /** A Spline inside of which nothing is looked at where the track is set by hand: what lies in front. */
  ignore: idSchema.nullable().default(null),
  motion: animatedSchema(trackedSchema),
});
export type Track = z.infer<typeof trackSchema>;

export const plateInfoSchema = record({
  width: z.number().int().min(1).max(16384),
  height: z.number().int().min(1).max(16384),
  frames: z.number().int().min(1).max(10_000_000),
  rate: rateSchema,
  /** The number shown for frame 0. */
  firstNumber: frameSchema,
});
export type PlateInfo = z.infer<typeof plateInfoSchema>;

/** The speed of the finished picture, all told in frames of the shot. */
export const timingSchema = record({
  /** Per cent, by the frame of the shot that is shown. */
  speed: animatedSchema(z.number().min(1).max(10_000)).default({ constant: 100 }),
  plays: z.enum(['forwards', 'backwards', 'to-and-fro']).default('forwards'),
  times: z.number().int().min(1).max(1000).default(1),
  /** Frames that stay, and for how many frames more. */
  holds: z
    .array(z.strictObject({ frame: frameSchema, frames: z.number().int().min(1).max(1_000_000) }))
    .max(1000)
    .default([]),
  /** What is shown at a time between two frames. */
  between: z.enum(['nearest', 'mixed', 'flow']).default('nearest'),
  /** Whether the sound goes along, quicker and slower with the picture. */
  sound: z.boolean().default(true),
});
export type Timing = z.infer<typeof timingSchema>;

const LIGHTS = ['plate', 'linear'] as const;
/** In place of a record's id: the shot itself. */
export const SHOT = 'shot';

export const documentSchema = record({
  format: z.literal(DOCUMENT_FORMAT),
  version: z.literal(DOCUMENT_VERSION),
  name: nameSchema,
  plate: plateInfoSchema,
  /** In what pictures are mixed and blurred: the plate's own values, or linear light. */
  light: z.enum(LIGHTS).default('plate'),
  /** Null: frame for frame. */
  timing: timingSchema.nullable().default(null),
  /** Near to far. */
  cast: z.array(subjectSchema).max(200),
  /** Effects and elements in the order in which they are put into their lane. */
  lanes: z.array(z.discriminatedUnion('type', [laneEffectSchema, elementSchema])).max(500),
  notes: z.array(noteSchema).max(10_000).default([]),
  markers: z.array(markerSchema).max(2000).default([]),
  tracks: z.array(trackSchema).max(2000).default([]),
});
export type ShotDocument = z.infer<typeof documentSchema>;

export type DocumentRecord = Subject | Part | Path | Stroke | LaneItem | ElementEffect | Note | Marker | Track;
