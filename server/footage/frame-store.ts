/**
 * The frame store of a plate: for each size one file of JPEG frames end to end and an index of where each begins, so that
 * any frame is one read; and, of footage that has alpha, one more file of that, gray, at full size. Files never change once they are there.
 */
import { constants, type FileHandle, open } from 'node:fs/promises';
import path from 'node:path';
import { notFound } from '../problem.ts';

export const STORE_SIZES = ['full', 'proxy'] as const;
export const STORES = [...STORE_SIZES, 'alpha'] as const;
export type Store = (typeof STORES)[number];

/** Lines of the proxy at most. */
export const PROXY_LINES = 540;

export const framesFile = (dir: string, size: Store) => path.join(dir, `${size}.mjpeg`);
export const indexFile = (dir: string, size: Store) => path.join(dir, `${size}.index`);

/** Offsets of frames as little-endian doubles: frame n lies at [n] up to [n+1]. */
export function encodeIndex(starts: readonly number[], end: number): Buffer {
  const out = Buffer.alloc((starts.length + 1) * 8);
  for (const [i, s] of [...starts, end].entries()) out.writeDoubleLE(s, i * 8);
  return out;
}

interface OpenStore {
  frames: FileHandle;
  index: FileHandle;
}

const OPEN_AT_MOST = 32;
const stores = new Map<string, Promise<OpenStore>>();

function openStore(dir: string, size: Store): Promise<OpenStore> {
  const key = framesFile(dir, size);
  let store = stores.get(key);
  if (store) {
    stores.delete(key);
  } else {
    store = (async () => ({ frames: await open(key, constants.O_RDONLY), index: await open(indexFile(dir, size), constants.O_RDONLY) }))();
    store.catch(() => stores.delete(key));
  }
  stores.set(key, store);
  if (stores.size > OPEN_AT_MOST) {
    const [oldest] = stores.keys();
    void closeStore(oldest);
  }
  return store;
}

async function closeStore(key: string): Promise<void> {
  const store = stores.get(key);
  stores.delete(key);
  const handles = await store?.catch(() => undefined);
  await handles?.frames.close();
  await handles?.index.close();
}

/** Forgets open files below `dir`, before it is removed. */
export async function closeStoresOf(dir: string): Promise<void> {
  await Promise.all([...stores.keys()].filter((k) => k.startsWith(dir)).map(closeStore));
}

/** The JPEG of one frame. Throws a "not found" Problem beyond the last frame or where the plate is not in yet. */
export async function readStoredFrame(dir: string, size: Store, frame: number): Promise<Buffer> {
  let store: OpenStore;
  try {
    store = await openStore(dir, size);
  } catch {
    throw notFound('plate');
  }
  const entry = Buffer.alloc(16);
  const { bytesRead } = await store.index.read(entry, 0, 16, frame * 8);
  if (bytesRead < 16) throw notFound('frame');
  const start = entry.readDoubleLE(0);
  const bytes = Buffer.allocUnsafe(entry.readDoubleLE(8) - start);
  await store.frames.read(bytes, 0, bytes.length, start);
  return bytes;
}
