/** The library of all productions, as panels of one use it. */
import { LIBRARY_FORMAT, type LibraryItem, libraryFileSchema } from '~/core/document/library.ts';
import type { LibraryEntry } from '~/server/library.ts';
import { saveFile } from './save-file.ts';
import { send } from './send.ts';

export const listLibrary = (productionId: string) => send<LibraryEntry[]>(`/productions/${productionId}/library`);

export const keepInLibrary = (productionId: string, item: LibraryItem) => send<LibraryEntry>(`/productions/${productionId}/library`, { body: item });

export const takeFromLibrary = (productionId: string, id: string) => send(`/productions/${productionId}/library/${id}`, { method: 'DELETE' });

const itemOf = ({ kind, name, content }: LibraryEntry) => ({ kind, name, content }) as LibraryItem;

/** Hands all that is kept out as a file. */
export async function writeLibrary(productionId: string): Promise<void> {
  const items = (await listLibrary(productionId)).map(itemOf);
  saveFile({ name: 'library.mottrel.json', content: JSON.stringify({ format: LIBRARY_FORMAT, version: 1, items }, null, 2) });
}

/** Keeps what a file holds and is not kept yet; gives how many that were. @throws Error in words where it is no such file */
export async function bringInLibrary(productionId: string, file: File): Promise<number> {
  let value: unknown;
  try {
    value = JSON.parse(await file.text());
  } catch {
    throw new Error(`"${file.name}" is not a JSON file.`);
  }
  const read = libraryFileSchema.safeParse(value);
  if (!read.success) throw new Error(`"${file.name}" is not a library of Mottrel: ${read.error.issues[0].message}`);
  const known = new Set((await listLibrary(productionId)).map((entry) => JSON.stringify(itemOf(entry))));
  const fresh = read.data.items.filter((item) => !known.has(JSON.stringify(item)));
  for (const item of fresh) await keepInLibrary(productionId, item);
  return fresh.length;
}
