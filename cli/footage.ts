/** Footage named on the command line. */
import { mkdtemp, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { readConfig } from '../server/config.ts';
import { closeStoresOf } from '../server/footage/frame-store.ts';
import { type IngestResult, ingest } from '../server/footage/ingest.ts';
import { probeFile } from '../server/footage/probe.ts';
import type { Original } from '../server/outputs/task.ts';

/** Brings footage into a frame store of its own, which goes away after `work`. */
export async function withFrames<T>(file: string, work: (plate: IngestResult, store: string) => Promise<T>): Promise<T> {
  const original = await probeFootage(file);
  const dir = await mkdtemp(path.join(os.tmpdir(), 'mottrel-frames-'));
  const store = path.join(dir, 'frames');
  try {
    const { frames, holdSeconds } = readConfig().limits;
    const task = { ...original, storeDir: store, firstNumber: 0, maxFrames: frames, maxHoldSeconds: holdSeconds };
    return await work(await ingest(task, { onProgress: () => {} }), store);
  } finally {
    await closeStoresOf(store);
    await rm(dir, { recursive: true, force: true });
  }
}

/** Footage in a file of its own, probed. */
export async function probeFootage(file: string): Promise<Original> {
  const full = path.resolve(file);
  const name = path.basename(full);
  return { probe: { ...(await probeFile(full, name, readConfig().limits)), input: name }, originals: path.dirname(full) };
}
