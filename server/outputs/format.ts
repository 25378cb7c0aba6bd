/** What an output format is: described options and one function that writes it. The schema, the panel and the command line follow the description. */
import { z } from 'zod';
import { type Delivery, deliverySchema } from '../../core/document/delivery.ts';
import { followSchema, idSchema, type ShotDocument } from '../../core/document/schema.ts';
import { frameSchema } from '../../core/time/animated.ts';
import type { FrameRange } from '../../core/time/ranges.ts';
import type { ReadBack } from './encoding.ts';
import type { FrameWriter } from './frame-writer.ts';
import type { Originals } from './originals.ts';
import type { OutputTask } from './task.ts';

/** Frames that are written as one piece: ranges that are written at a time begin where pieces do. */
export const SEGMENT = 24;

export interface OutputControl {
  /** Frames finished so far. */
  onProgress(done: number): void;
  signal?: AbortSignal;
}

/** One of several values, or yes and no. */
export type OptionDescription =
  | { kind: 'choice'; label: string; options: readonly { value: string | number; label: string }[]; start: string | number }
  | { kind: 'switch'; label: string; says: string; start: boolean };

type ValueOf<D extends OptionDescription> = D extends { kind: 'choice'; options: readonly { value: infer V }[] } ? V : boolean;
type ValuesOf<O extends Record<string, OptionDescription>> = { [K in keyof O]: ValueOf<O[K]> };

/** What pages are told of a format. */
export interface FormatDescription {
  id: string;
  label: string;
  /** One word for the command line and names of files. */
  name: string;
  /** Whether it is of one subject, or of the whole picture. */
  of: 'subject' | 'picture';
  /** Whether it is one file, or one for each frame. */
  single: boolean;
  /** What is in it, in a word of the names of files. */
  what: string;
  /** Of its files: their extension, and their name where none is asked for. */
  extension: string;
  pattern: string;
  /** Whether what a frame is can be written into it. */
  takesNote: boolean;
  options: Record<string, OptionDescription>;
}

export interface OutputFormat extends FormatDescription {
  /** Whether it shows the plate, and so needs its footage. */
  showsPlate: boolean;
  /** What those who read the files have to know of their values. */
  colour: string;
  /** What is against writing it of a document, in words. */
  refuses?(document: ShotDocument): string | null;
  /** Of its specs. */
  schema: z.ZodObject;
  /** What writes a range of frames, as far as it is not there; several ranges may be written at a time. */
  open(task: OutputTask, range: FrameRange): FrameWriter;
  /** Makes the files of what was written; gives their names. */
  finish(task: OutputTask): Promise<string[]>;
  /** How frames are read back, and the bytes that they should be then. */
  readBack(task: OutputTask): ReadBack;
  expected(task: OutputTask, frame: number, sources: Originals): Promise<Buffer>;
}

/** What an output is: a described result that can be written again. */
export interface OutputSpec {
  kind: string;
  /** Of formats that are of one. */
  subject?: string;
  /** Frames, both in it. */
  first: number;
  last: number;
  /** Held still: what a track follows stays where it is on a frame, as far as its motion is taken. */
  hold?: z.infer<typeof followSchema>;
  /** Plain where nothing is said. */
  delivery?: Delivery;
  /** Values of the format's own options. */
  [option: string]: unknown;
}

/** What an earlier version asked for has no word of options that came later. */
const optionSchema = (option: OptionDescription) =>
  option.kind === 'switch' ? z.boolean().default(option.start) : z.literal(option.options.map((o) => o.value)).default(option.start);

/** A format from its description; what writes gets the values of its options with their types. */
export function defineFormat<const O extends Record<string, OptionDescription>>(
  format: Omit<OutputFormat, 'schema' | 'open' | 'finish' | 'options' | 'readBack' | 'expected'> & {
    options: O;
    open(task: OutputTask, options: ValuesOf<O>, range: FrameRange): FrameWriter;
    finish(task: OutputTask, options: ValuesOf<O>): Promise<string[]>;
    readBack(options: ValuesOf<O>, task: OutputTask): ReadBack;
    expected(task: OutputTask, options: ValuesOf<O>, frame: number, sources: Originals): Promise<Buffer>;
  },
): OutputFormat {
  const options = z.object(Object.fromEntries(Object.entries(format.options).map(([id, option]) => [id, optionSchema(option)])));
  const schema = z.strictObject({
    kind: z.literal(format.id),
    ...(format.of === 'subject' ? { subject: idSchema } : {}),
    ...options.shape,
    first: frameSchema,
    last: frameSchema,
    hold: followSchema.optional(),
    delivery: deliverySchema.optional(),
  });
  return {
    ...format,
    schema,
    open: (task, range) => format.open(task, options.parse(task.spec) as ValuesOf<O>, range),
    finish: (task) => format.finish(task, options.parse(task.spec) as ValuesOf<O>),
    readBack: (task) => format.readBack(options.parse(task.spec) as ValuesOf<O>, task),
    expected: (task, frame, sources) => format.expected(task, options.parse(task.spec) as ValuesOf<O>, frame, sources),
  };
}
