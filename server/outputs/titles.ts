/** The letters of titles, from the files of the typeface on this machine. */
import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { typefaceFrom } from '../../titles/letters.ts';

const { resolve } = createRequire(import.meta.url);

const read = async (file: string): Promise<ArrayBuffer> => {
  const bytes = await readFile(resolve(`@fontsource/hanken-grotesk/files/${file}`));
  return new Uint8Array(bytes).buffer;
};

/** One for the whole process: the files are read once. */
export const { letters } = typefaceFrom(read);
