/** A whole running instance: database, services, web server. Used by start, by the tests and by the benchmarks. */
import { rmSync, writeFileSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import { readConfig } from '../server/config.ts';
import { type LocalDatabase, startLocalDatabase } from '../server/db/local-server.ts';
import { buildServer } from '../server/http.ts';
import { openServices, type Services } from '../server/services.ts';
import { lockFile, takeLock } from './lock.ts';

export interface Instance {
  address: string;
  services: Services;
  close(): Promise<void>;
}

/** Connects to DATABASE_URL, or to a server of the project's own in the data directory. */
export async function openDatabase(dataDir: string): Promise<{ url: string; local: LocalDatabase | null }> {
  if (process.env.DATABASE_URL) return { url: process.env.DATABASE_URL.replace(/^mysql:/, 'mariadb:'), local: null };
  const local = await startLocalDatabase(path.join(dataDir, 'db'));
  return { url: local.url, local };
}

const LOOK_EVERY = 1000;

/** Starts the database again where it died under a running server. Gives what ends the watch. */
function keepAlive(local: LocalDatabase, dir: string): () => void {
  let pid = local.pid;
  let starting = false;
  const timer = setInterval(() => {
    try {
      process.kill(pid, 0);
    } catch {
      if (starting) return;
      starting = true;
      console.error('The database has died; starting it again.');
      startLocalDatabase(dir)
        .then((next) => {
          pid = next.pid;
        })
        .catch((error: Error) => console.error(error.message))
        .finally(() => {
          starting = false;
        });
    }
  }, LOOK_EVERY);
  return () => clearInterval(timer);
}

export async function openInstance(options: { dataDir?: string; port: number; prepare?(services: Services): Promise<void> }): Promise<Instance> {
  const config = readConfig(options.dataDir);
  takeLock(config.dataDir);
  const { url, local } = await openDatabase(config.dataDir);
  let services: Services | null = null;
  let server: Server | null = null;
  const watchEnd = local?.started ? keepAlive(local, path.join(config.dataDir, 'db')) : () => {};
  const close = async () => {
    watchEnd();
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
