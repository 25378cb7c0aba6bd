/** How an output is handed over: how large, which frames round what is asked for, and the names of its files. */
import { z } from 'zod';
import type { FrameRange } from '../time/ranges.ts';

/** Of a picture, in pixels. */
interface Size {
  width: number;
  height: number;
}

/** What stands for something in the name of a file. */
export const NAME_WORDS = {
  shot: 'the name of the shot',
  subject: 'the name of the subject',
  what: 'what it is: matte, mattes, cutout, elements, composed',
  size: 'width and height',
  first: 'the first frame',
  last: 'the last frame',
  frame: 'the number of each picture',
} as const;
export type NameWord = keyof typeof NAME_WORDS;

const WORD = /\{([^{}]*)\}/g;
const listed = Object.keys(NAME_WORDS)
  .map((word) => `{${word}}`)
  .join(' ');

/** A name of files with words in braces; empty: each kind of output has its own. */
const patternSchema = z
  .string()
  .max(160)
  .refine((name) => /^([\w][\w. {}-]*)?$/.test(name.replace(WORD, 'w')), {
    error: 'A name of files has letters, digits, dots, dashes and words in braces. It names no folder, and begins with no dot.',
  })
  .refine((name) => [...name.matchAll(WORD)].every(([, word]) => word in NAME_WORDS), { error: `Only these words stand for something: ${listed}.` });

/** What numbers can be asked for: widths in pixels, frames, numbers of pictures and their digits. */
export const BOUNDS = {
  width: { least: 16, most: 16_384 },
  handles: { least: 0, most: 10_000 },
  start: { least: 0, most: 99_999_999 },
  digits: { least: 1, most: 9 },
} as const;
const EVERY = { handles: 0, size: 'full', name: '', start: null, digits: 4, note: false } as const;

/** A whole number within bounds, refused in words. */
const whole = (what: string, { least, most }: { least: number; most: number }) => {
  const error = `${what}: a whole number from ${least} to ${most}.`;
  return z.number({ error }).int({ error }).min(least, { error }).max(most, { error });
};
/** Sizes by what they are of the plate's. */
export const SHARES = ['full', 'half', 'quarter'] as const;
const width = whole('Width', BOUNDS.width);

export const deliverySchema = z.strictObject({
  /** Frames more at both ends, as far as the shot has them. */
  handles: whole('Handles', BOUNDS.handles).default(EVERY.handles),
  /** Of the plate, or a width of its own in pixels; the height goes along. */
  size: z.union([z.enum(SHARES), width], { error: ({ input }) => width.safeParse(input).error?.issues[0].message }).default(EVERY.size),
  name: patternSchema.default(EVERY.name),
  /** Number of the first picture; null: as the plate numbers its frames. */
  start: whole('First number', BOUNDS.start).nullable().default(EVERY.start),
  /** Digits of the numbers of pictures, at least. */
  digits: whole('Digits', BOUNDS.digits).default(EVERY.digits),
  /** Whether the name of the shot, the number of the frame and its time are written into the finished picture. */
  note: z.boolean().default(EVERY.note),
});
export type Delivery = z.infer<typeof deliverySchema>;
/** As everything is handed over that says nothing of it. */
export const PLAIN_DELIVERY: Delivery = EVERY;

/** Nearest even number: encoders of colours by half want even sides. */
const even = (n: number): number => Math.max(2, 2 * Math.round(n / 2));

/** The size of pictures that are written of a plate. */
export function deliveredSize({ size }: Pick<Delivery, 'size'>, { width, height }: Size): Size {
  if (size === 'full') return { width, height };
  if (size === 'half' || size === 'quarter') {
    const share = size === 'half' ? 2 : 4;
    return { width: even(width / share), height: even(height / share) };
  }
  return { width: size, height: even((size * height) / width) };
}

/** A range of frames with its handles, as far as the shot has them. */
export const withHandles = ({ first, last }: FrameRange, handles: number, frames: number): FrameRange => ({
  first: Math.max(0, first - handles),
  last: Math.min(frames - 1, last + handles),
});

/** The number of a written picture. @param frame counted from the first one that is written; `plateFirst` what the plate calls that one */
export const deliveredNumber = ({ start }: Pick<Delivery, 'start'>, frame: number, plateFirst: number): number => (start ?? plateFirst) + frame;

/** Letters that every file system takes. */
const safe = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/[^\w.-]+/g, '-')
    .replace(/^[-.]+|-+$/g, '') || 'output';

/** A pattern with its words put in. @param number of the picture, where there is a file for each */
export function deliveredName(
  pattern: string,
  { digits }: Pick<Delivery, 'digits'>,
  words: Record<Exclude<NameWord, 'frame'>, string>,
  number?: number,
): string {
  const numbered = number === undefined ? '' : String(number).padStart(digits, '0');
  // A movie has no number, nor what stands before it.
  const whole = number === undefined ? pattern.replace(/[._ -]*\{frame\}/g, '') : pattern.includes('{frame}') ? pattern : `${pattern}.{frame}`;
  return safe(whole.replace(WORD, (_, word: NameWord) => (word === 'frame' ? numbered : words[word])));
}

/** What the files of an output are of. */
export interface Delivered {
  shot: string;
  subject: string | undefined;
  plate: Size & { firstNumber: number };
  /** Frames with their handles. */
  range: FrameRange;
}

/** The name of a file. @param kind what it is in a word, its extension, and the pattern where the delivery has none; `number` of the picture, where there is a file for each */
export function deliveredFile(
  kind: { what: string; pattern: string; extension: string },
  delivery: Delivery,
  { shot, subject, plate, range }: Delivered,
  number?: number,
): string {
  const { width, height } = deliveredSize(delivery, plate);
  const words = {
    ...{ shot, subject: subject ?? 'all', what: kind.what, size: `${width}x${height}` },
    ...{ first: String(range.first + plate.firstNumber), last: String(range.last + plate.firstNumber) },
  };
  // Names that nobody chose are in small letters.
  const name =
    delivery.name === '' ? deliveredName(kind.pattern, delivery, words, number).toLowerCase() : deliveredName(delivery.name, delivery, words, number);
  return `${name}.${kind.extension}`;
}
