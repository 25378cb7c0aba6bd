/** One server at a time on a data directory. */
import { closeSync, existsSync, mkdirSync, openSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';

export const lockFile = (dataDir: string): string => path.join(dataDir, 'server.pid');

/** The process that serves this data directory now, or 0. */
export function servingPid(dataDir: string): number {
  try {
    const pid = Number(readFileSync(lockFile(dataDir), 'utf8'));
    process.kill(pid, 0);
    // A number from before a restart of the machine may belong to another program now.
    const command = readFileSync(`/proc/${pid}/cmdline`, 'utf8');
    return /mottrel|node/.test(command) ? pid : 0;
  } catch {
    return 0;
  }
}

/** Marks the data directory as served by this process. Throws where another one serves it. */
export function takeLock(dataDir: string): void {
  mkdirSync(dataDir, { recursive: true });
  const file = lockFile(dataDir);
  const other = servingPid(dataDir);
  if (other && other !== process.pid)
    throw new Error(`Mottrel is running on this data already (process ${other}). Use its page, or stop it with: ./mottrel stop`);
  if (existsSync(file)) rmSync(file);
  const handle = openSync(file, 'wx');
  writeFileSync(handle, String(process.pid));
  closeSync(handle);
}
