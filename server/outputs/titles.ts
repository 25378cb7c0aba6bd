/** The letters of titles, from the files of the typeface on this machine. */
import { readFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import { lettersFrom } from '../../titles/letters.ts';

const read = async (file: string): Promise<ArrayBuffer> => {
  const bytes = await readFile(fileURLToPath(import.meta.resolve(`@fontsource/hanken-grotesk/files/${file}`)));
  return new Uint8Array(bytes).buffer;
};

/** One for the whole process: the files are read once. */
export const letters = lettersFrom(read);
