/** A whole running instance: database, services, web server. Used by start, by the tests and by the benchmarks. */
import { closeSync, existsSync, mkdirSync, openSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import { readConfig } from '../server/config.ts';
import { type LocalDatabase, startLocalDatabase } from '../server/db/local-server.ts';
import { buildServer } from '../server/http.ts';
import { openServices, type Services } from '../server/services.ts';

export interface Instance {
  address: string;
  services: Services;
  close(): Promise<void>;
}

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

function takeLock(dataDir: string): void {
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

/** Connects to DATABASE_URL, or to a server of the project's own in the data directory. */
export async function openDatabase(dataDir: string): Promise<{ url: string; local: LocalDatabase | null }> {
  if (process.env.DATABASE_URL) return { url: process.env.DATABASE_URL.replace(/^mysql:/, 'mariadb:'), local: null };
  const local = await startLocalDatabase(path.join(dataDir, 'db'));
  return { url: local.url, local };
}

export async function openInstance(options: { dataDir?: string; port: number; prepare?(services: Services): Promise<void> }): Promise<Instance> {
  const config = readConfig(options.dataDir);
  takeLock(config.dataDir);
  const { url, local } = await openDatabase(config.dataDir);
  let services: Services | null = null;
  let server: Server | null = null;
  const close = async () => {
    server?.close();
    server?.closeAllConnections();
    await services?.close();
    if (local?.started) await local.stop();
    rmSync(lockFile(config.dataDir), { force: true });
  };
  try {
    services = await openServices(url, config);
    await options.prepare?.(services);
    server = await buildServer(services);
    const listening = server;
    await new Promise<void>((resolve, reject) => {
      listening.once('error', reject);
      listening.listen(options.port, '127.0.0.1', resolve);
    });
  } catch (error) {
    await close();
    throw error;
  }
  const { port } = server.address() as AddressInfo;
  writeFileSync(path.join(config.dataDir, 'address'), `http://127.0.0.1:${port}`);
  return { address: `http://127.0.0.1:${port}`, services, close };
}
