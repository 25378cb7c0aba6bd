/** How files of an upload are called on disk, and what is said where there is no room for them. */
import path from 'node:path';
import { Problem } from '../problem.ts';

/** What to say where the disk is full; null where that is not what happened. */
export const diskFull = (error: unknown): Problem | null =>
  (error as NodeJS.ErrnoException).code === 'ENOSPC' ? new Problem('disk-full', 'The disk is full. Make room and send the file again.', 507) : null;

export const sizeText = (bytes: number): string => (bytes >= 1024 ** 3 ? `${Math.round(bytes / 1024 ** 3)} GB` : `${Math.round(bytes / 1024 ** 2)} MB`);

/** Bytes of a name that a file system takes are 255; what goes before and behind is ours. */
const NAME_BYTES = 200;

/** The end of a text that fits into so many bytes of UTF-8, cut between letters. */
function endWithin(text: string, bytes: number): string {
  const letters = [...text];
  while (Buffer.byteLength(letters.join('')) > bytes) letters.shift();
  return letters.join('');
}

/** Stored as "0000012~name": the position keeps names apart and in order; the rest is for messages only. */
export function storedName(position: number, name: string): string {
  const safe = endWithin(path.basename(name).replace(/[^\p{L}\p{N}._ -]/gu, '_'), NAME_BYTES) || 'file';
  return `${String(position).padStart(7, '0')}~${safe}`;
}
export const shownName = (stored: string): string => stored.replace(/^\d{7}~/, '');
