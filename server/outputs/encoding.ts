/** What a kind of file is: what it can carry, its options, how it is written, and how it is read back to be held to what it should be. */
import type { FrameRange } from '../../core/time/ranges.ts';
import { defineFormat, type OptionDescription, type OutputFormat } from './format.ts';
import type { FrameWriter } from './frame-writer.ts';
import type { Originals } from './originals.ts';
import type { Pixels } from './pixels.ts';
import type { AnySource, Carried, OutputSource } from './source.ts';
import type { OutputTask } from './task.ts';

/** Values of all options that encodings have. */
export interface Chosen {
  bits: 8 | 16;
  alpha: 'premultiplied' | 'straight';
  numbers: 'half' | 'float';
  light: 'linear' | 'plate';
  sound: boolean;
  timed: boolean;
}

/** How what was written is read: the form of its pixels, arguments before it is opened, and filters. */
export interface ReadBack {
  pixels: Pixels;
  open?: string[];
  filters?: string[];
  /** Names of layers that are read one after the other, where a picture has several. */
  layers?: string[];
  /** How far a frame may be off on the mean, as a share of white. */
  within: number;
}

/** @typeParam C what it may have to carry; `S` what is written */
export interface EncodingOf<C extends AnySource['carries'], S extends AnySource> {
  id: string;
  label: string;
  /** Whether it is one file, or one for each frame. */
  single: boolean;
  /** Of a file for each frame, or of the movie. */
  extension: string;
  carries: readonly C[];
  options(carries: C): Record<string, OptionDescription>;
  /** What those who read the files have to know of their values. */
  colour(carries: C): string;
  open(task: OutputTask, source: S, chosen: Chosen, range: FrameRange): FrameWriter;
  finish(task: OutputTask, source: S, chosen: Chosen): Promise<string[]>;
  readBack(carries: C, chosen: Chosen, task: OutputTask): ReadBack;
  /** The bytes that a frame should be, in the form in which it is read back. */
  expected(task: OutputTask, source: S, chosen: Chosen, frame: number, sources: Originals): Promise<Buffer>;
}

export type Encoding = EncodingOf<Carried, OutputSource>;

/** How colours of what is half there are written. */
export const ALPHA = {
  kind: 'choice',
  label: 'Alpha',
  options: [
    { value: 'premultiplied', label: 'Premultiplied' },
    { value: 'straight', label: 'Straight' },
  ],
  start: 'premultiplied',
} as const;

/** Of movies of the finished picture. */
const PLAYED = {
  sound: { kind: 'switch', label: 'Sound', says: "the plate's own, where it has any", start: true },
  timed: { kind: 'switch', label: 'Timing', says: 'at the speed that is set on Compose', start: true },
} as const;

/** Short names that the command line has for some. */
const NAMES: Record<string, string> = { 'matte-png': 'matte', 'cutout-prores': 'cutout', 'composed-mp4': 'composed', 'elements-prores': 'elements' };

/** The format that writes this as that. */
export function formatFrom<C extends AnySource['carries'], S extends AnySource & { carries: C }>(source: S, encoding: EncodingOf<C, S>): OutputFormat {
  const id = `${source.id}-${encoding.id}`;
  const { carries } = source;
  const played = carries === 'opaque' && encoding.single ? PLAYED : {};
  const options: Record<string, OptionDescription> = { ...encoding.options(carries), ...played };
  return defineFormat({
    id,
    label: `${source.label}, ${encoding.label}`,
    name: NAMES[id] ?? id,
    of: source.of,
    what: source.id,
    single: encoding.single,
    showsPlate: source.showsPlate,
    extension: encoding.extension,
    pattern: source.pattern,
    takesNote: carries === 'opaque',
    colour: encoding.colour(carries),
    options,
    // The values are those of the options that were parsed just before.
    open: (task, chosen, range) => encoding.open(task, source, chosen as unknown as Chosen, range),
    finish: (task, chosen) => encoding.finish(task, source, chosen as unknown as Chosen),
    refuses: source.refuses,
    readBack: (chosen, task) => encoding.readBack(carries, chosen as unknown as Chosen, task),
    expected: (task, chosen, frame, sources) => encoding.expected(task, source, chosen as unknown as Chosen, frame, sources),
  });
}
