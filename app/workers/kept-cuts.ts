/**
 * Cuts of painted frames, kept in the browser's cache so that a frame shows what was found on it as soon as it is opened again. A cut
 * lies under the name of all that decides it, so none is ever out of date.
 */
import { fromGray8, type Gray, matteTo8 } from '~/core/image/picture.ts';
import { Kept } from './kept.ts';

/** Cuts kept at most. */
const MOST = 200;
const kept = new Kept(
  () => caches.open('mottrel-cuts'),
  () => MOST,
);

const addressOf = (name: string) => `/kept-cuts/${name}`;

/** The first 8 bytes are width and height, then a byte a pixel. */
export async function keptCut(name: string): Promise<Gray | null> {
  const bytes = await kept.get(addressOf(name));
  if (!bytes || bytes.byteLength < 8) return null;
  const [width, height] = new Uint32Array(bytes, 0, 2);
  if (bytes.byteLength !== 8 + width * height) return null;
  return fromGray8(new Uint8Array(bytes, 8), { width, height });
}

export async function keepCut(name: string, cut: Gray): Promise<void> {
  const bytes = new Uint8Array(8 + cut.width * cut.height);
  new Uint32Array(bytes.buffer, 0, 2).set([cut.width, cut.height]);
  bytes.set(matteTo8(cut), 8);
  await kept.put(addressOf(name), bytes);
}
