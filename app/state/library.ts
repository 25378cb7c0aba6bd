/** The library of the production, as panels use it. */
import type { LibraryItem } from '~/core/document/library.ts';
import type { LibraryEntry } from '~/server/library.ts';
import { send } from './send.ts';

export const listLibrary = (productionId: string) => send<LibraryEntry[]>(`/productions/${productionId}/library`);

export const keepInLibrary = (productionId: string, item: LibraryItem) => send<LibraryEntry>(`/productions/${productionId}/library`, { body: item });

export const takeFromLibrary = (productionId: string, id: string) => send(`/productions/${productionId}/library/${id}`, { method: 'DELETE' });
