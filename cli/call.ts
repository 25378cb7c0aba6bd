/** What the commands of the command line share: wrong calls, frames, and files of JSON. */
import { readFile } from 'node:fs/promises';
import { z } from 'zod';

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
