/** Options of the command line, and what a wrong call is. */
import { readFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { z } from 'zod';

const OPTIONS = {
  production: { type: 'string' },
  name: { type: 'string' },
  rate: { type: 'string', default: '24' },
  shot: { type: 'string' },
  document: { type: 'string' },
  footage: { type: 'string' },
  subject: { type: 'string' },
  strokes: { type: 'string', multiple: true },
  points: { type: 'string' },
  model: { type: 'string' },
  quality: { type: 'string', default: 'fine' },
  frames: { type: 'string' },
  out: { type: 'string' },
  bits: { type: 'string', default: '16' },
  kind: { type: 'string' },
  alpha: { type: 'string', default: 'premultiplied' },
  'no-sound': { type: 'boolean', default: false },
  data: { type: 'string' },
} as const;

export type CliOptions = ReturnType<typeof readOptions>['values'];

export const readOptions = (args: string[]) => parseArgs({ args, options: OPTIONS, allowPositionals: true });

/** A call that cannot be carried out as it is written. */
export class WrongCall extends Error {}

/** Frames "A-B" of those from `first` to `last`; all where nothing is said. */
export function framesWithin(text: string | undefined, first: number, last: number): [number, number] {
  if (!text) return [first, last];
  const match = /^(\d+)(?:-(\d+))?$/.exec(text);
  const a = Number(match?.[1]);
  const b = Number(match?.[2] ?? match?.[1]);
  if (!match || a > b || a < first || b > last) throw new WrongCall(`--frames takes A-B within ${first}-${last}, not "${text}".`);
  return [a, b];
}

export function bitsOf({ bits }: CliOptions): 8 | 16 {
  if (bits !== '8' && bits !== '16') throw new WrongCall(`--bits takes 8 or 16, not "${bits}".`);
  return bits === '8' ? 8 : 16;
}

/** What a JSON file holds, read by a Zod schema; `holds` names that, for messages. */
export async function readParsed<T>(file: string, holds: string, parse: (value: unknown) => T): Promise<T> {
  try {
    return parse(await readJson(file, `file of ${holds}`));
  } catch (error) {
    if (!(error instanceof z.ZodError)) throw error;
    const { path: where, message } = error.issues[0];
    throw new WrongCall(`${file} does not hold ${holds}: ${message}${where.length > 0 ? ` (at ${where.join('.')})` : ''}`);
  }
}

/** The value of a JSON file; `what` says what it should hold. */
export async function readJson(file: string, what: string): Promise<unknown> {
  const text = await readFile(file, 'utf8').catch(() => {
    throw new WrongCall(`There is no ${what} ${file}.`);
  });
  try {
    return JSON.parse(text);
  } catch {
    throw new WrongCall(`${file} is not a JSON file.`);
  }
}
