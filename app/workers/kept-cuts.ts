/**
 * Cuts of painted frames, kept in the browser's cache so that a frame shows what was found on it as soon as it is opened again. A cut
 * lies under the name of all that decides it, so none is ever out of date. Where the browser keeps nothing, it is cut anew.
 */
import { fromGray8, type Gray, matteTo8 } from '~/core/image/picture.ts';

const NAME = 'mottrel-cuts';
/** Cuts kept at most; the oldest go first. */
const MOST = 200;

const addressOf = (name: string) => `/kept-cuts/${name}`;
const open = (): Promise<Cache> | null => (typeof caches === 'undefined' ? null : caches.open(NAME));

/** The first 8 bytes are width and height, then a byte a pixel. */
export async function keptCut(name: string): Promise<Gray | null> {
  try {
    const response = await (await open())?.match(addressOf(name));
    if (!response) return null;
    const bytes = await response.arrayBuffer();
    const [width, height] = new Uint32Array(bytes, 0, 2);
    if (bytes.byteLength !== 8 + width * height) return null;
    return fromGray8(new Uint8Array(bytes, 8), { width, height });
  } catch {
    return null;
  }
}

export async function keepCut(name: string, cut: Gray): Promise<void> {
  try {
    const cache = await open();
    if (!cache) return;
    const bytes = new Uint8Array(8 + cut.width * cut.height);
    new Uint32Array(bytes.buffer, 0, 2).set([cut.width, cut.height]);
    bytes.set(matteTo8(cut), 8);
    await cache.put(addressOf(name), new Response(bytes));
    const keys = await cache.keys();
    for (const old of keys.slice(0, Math.max(0, keys.length - MOST))) await cache.delete(old);
  } catch {
    // A full disk or a closed cache: it is cut anew next time.
  }
}
