/**
 * Finished pictures, kept in the browser's cache over reloads. Each lies under the name of all that decides it, and all of them under that of
 * the program that made them: what another one made is thrown away.
 */
import type { Size } from '~/core/image/picture.ts';
import { Kept } from './kept.ts';

/** The program is this file: its name changes with what is in it. */
const PREFIX = 'mottrel-pictures-';
const NAME = PREFIX + import.meta.url.slice(import.meta.url.lastIndexOf('/') + 1);
/** Bytes kept at most, and after how many pictures it is looked. */
const MOST = 768 * 1024 * 1024;
const LOOK_EVERY = 32;

const kept = new Kept(
  async () => {
    for (const name of await caches.keys()) if (name.startsWith(PREFIX) && name !== NAME) await caches.delete(name);
    return caches.open(NAME);
  },
  (bytes) => Math.floor(MOST / bytes),
  LOOK_EVERY,
);

const addressOf = (name: string) => `/kept-pictures/${name}`;

/** Red, green, blue and full alpha of a picture; null where it is not kept. */
export async function keptPicture(name: string, { width, height }: Size): Promise<Uint8ClampedArray<ArrayBuffer> | null> {
  const bytes = await kept.get(addressOf(name));
  return bytes?.byteLength === width * height * 4 ? new Uint8ClampedArray(bytes) : null;
}

export const keepPicture = (name: string, rgba: Uint8ClampedArray<ArrayBuffer>): Promise<void> => kept.put(addressOf(name), rgba);
