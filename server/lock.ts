/** One server at a time on a data directory. */
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { lockSync } from 'proper-lockfile';
import { z } from 'zod';
import { processMark } from './process.ts';

const servingSchema = z.object({ pid: z.number().int().positive(), mark: z.string(), address: z.string().optional(), since: z.string() });
export type Serving = z.infer<typeof servingSchema>;

const servingFile = (dataDir: string): string => path.join(dataDir, 'server.json');
const lockPath = (dataDir: string): string => path.join(dataDir, 'server.lock');

/** The process that serves this data directory now; null where none does. */
export function servedBy(dataDir: string): Serving | null {
  try {
    const serving = servingSchema.parse(JSON.parse(readFileSync(servingFile(dataDir), 'utf8')));
    return processMark(serving.pid) === serving.mark ? serving : null;
  } catch {
    return null;
  }
}

export interface Lock {
  /** Says where it is served, for those who ask. */
  setAddress(address: string): void;
  release(): void;
}

/** Marks the data directory as served by this process. Throws where another one serves it. */
export function takeLock(dataDir: string): Lock {
  mkdirSync(dataDir, { recursive: true, mode: 0o700 });
  const other = servedBy(dataDir);
  if (other) throw new Error(`Mottrel is running on this data already (process ${other.pid}). Use its page, or stop it with: ./mottrel stop`);
  // What a process that was killed has left is no lock.
  rmSync(lockPath(dataDir), { recursive: true, force: true });
  // Two that start at the same moment are told apart here.
  const unlock = lockSync(dataDir, { lockfilePath: lockPath(dataDir), realpath: false });
  const serving: Serving = { pid: process.pid, mark: processMark(process.pid) ?? '', since: new Date().toISOString() };
  const write = () => writeFileSync(servingFile(dataDir), `${JSON.stringify(serving)}\n`, { mode: 0o600 });
  write();
  return {
    setAddress(address) {
      serving.address = address;
      write();
    },
    release() {
      rmSync(servingFile(dataDir), { force: true });
      unlock();
    },
  };
}
