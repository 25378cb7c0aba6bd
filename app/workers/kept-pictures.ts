/**
 * Finished pictures, kept in the browser's cache over reloads. Each lies under the name of all that decides it, and all of them under that of
 * the program that made them: what another one made is thrown away. Where the browser keeps nothing, they are made anew.
 */
import type { Size } from '~/core/image/picture.ts';

/** The program is this file: its name changes with what is in it. */
const PREFIX = 'mottrel-pictures-';
const NAME = PREFIX + import.meta.url.slice(import.meta.url.lastIndexOf('/') + 1);
/** Bytes kept at most; the oldest go first, a number of pictures at a time. */
const MOST = 768 * 1024 * 1024;
const LOOK_EVERY = 32;

const addressOf = (name: string) => `/kept-pictures/${name}`;
let opened: Promise<Cache> | null = null;
let since = 0;

function open(): Promise<Cache> | null {
  if (typeof caches === 'undefined') return null;
  opened ??= (async () => {
    for (const name of await caches.keys()) if (name.startsWith(PREFIX) && name !== NAME) await caches.delete(name);
    return caches.open(NAME);
  })();
  return opened;
}

/** Red, green, blue and full alpha of a picture; null where it is not kept. */
export async function keptPicture(name: string, { width, height }: Size): Promise<Uint8ClampedArray<ArrayBuffer> | null> {
  try {
    const response = await (await open())?.match(addressOf(name));
    if (!response) return null;
    const bytes = new Uint8Array(await response.arrayBuffer());
    if (bytes.length !== width * height * 3) return null;
    const out = new Uint8ClampedArray(width * height * 4).fill(255);
    for (let o = 0, i = 0; i < bytes.length; o += 4, i += 3) {
      out[o] = bytes[i];
      out[o + 1] = bytes[i + 1];
      out[o + 2] = bytes[i + 2];
    }
    return out;
  } catch {
    return null;
  }
}

export async function keepPicture(name: string, rgba: Uint8ClampedArray): Promise<void> {
  try {
    const cache = await open();
    if (!cache) return;
    const bytes = new Uint8Array((rgba.length / 4) * 3);
    for (let o = 0, i = 0; i < bytes.length; o += 4, i += 3) {
      bytes[i] = rgba[o];
      bytes[i + 1] = rgba[o + 1];
      bytes[i + 2] = rgba[o + 2];
    }
    await cache.put(addressOf(name), new Response(bytes));
    if (since++ % LOOK_EVERY !== 0) return;
    const keys = await cache.keys();
    for (const old of keys.slice(0, Math.max(0, keys.length - Math.floor(MOST / bytes.length)))) await cache.delete(old);
  } catch {
    // A full disk or a closed cache: it is made anew next time.
  }
}
