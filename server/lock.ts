/** One server at a time on a data directory. */
import { mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { lockSync } from 'proper-lockfile';
import { z } from 'zod';
import { processMark } from './process.ts';

const servingSchema = z.object({ pid: z.number().int().positive(), mark: z.string(), address: z.string().optional(), since: z.string() });
export type Serving = z.infer<typeof servingSchema>;

const servingFile = (dataDir: string): string => path.join(dataDir, 'server.json');
const lockPath = (dataDir: string): string => path.join(dataDir, 'server.lock');

/** The process that such a file names, where that is still there. */
function namedBy(file: string): Serving | null {
  try {
    const serving = servingSchema.parse(JSON.parse(readFileSync(file, 'utf8')));
    return processMark(serving.pid) === serving.mark ? serving : null;
  } catch {
    return null;
  }
}

/** The process that serves this data directory now; null where none does. */
export const servedBy = (dataDir: string): Serving | null => namedBy(servingFile(dataDir));

export interface Lock {
  /** Says where it is served, for those who ask. */
  setAddress(address: string): void;
  release(): void;
}

const isLocked = (error: unknown): boolean => (error as NodeJS.ErrnoException).code === 'ELOCKED';

/**
 * Takes away what a process that was killed has left: its file says that it was there. Of several that come at once only
 * one can move that file, and so only one takes the lock away; where it was faster, the file may be its own by now, and is put back.
 * Gives whether this was the one.
 */
function clearLeft(dataDir: string): boolean {
  const left = path.join(dataDir, `server.${process.pid}.left`);
  try {
    renameSync(servingFile(dataDir), left);
  } catch {
    return false;
  }
  if (namedBy(left)) {
    renameSync(left, servingFile(dataDir));
    return false;
  }
  rmSync(lockPath(dataDir), { recursive: true, force: true });
  rmSync(left);
  return true;
}

/** Marks the data directory as served by this process. Throws where another one serves it, or is just about to. */
export function takeLock(dataDir: string): Lock {
  mkdirSync(dataDir, { recursive: true, mode: 0o700 });
  const running = (pid?: number) =>
    new Error(`Mottrel is running on this data already${pid ? ` (process ${pid})` : ''}. Use its page, or stop it with: ./mottrel stop`);
  const refuse = () => {
    const other = servedBy(dataDir);
    if (other) throw running(other.pid);
  };
  // Who serves is told by its process, so that a lock that somebody took away does not end the work.
  const lock = () => lockSync(dataDir, { lockfilePath: lockPath(dataDir), realpath: false, onCompromised: () => {} });
  refuse();
  let unlock: () => void;
  try {
    unlock = lock();
  } catch (error) {
    if (!isLocked(error)) throw error;
    refuse();
    if (!clearLeft(dataDir)) throw running();
    unlock = lock();
  }
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
