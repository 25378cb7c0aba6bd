/** A whole running instance: database, services, web server. Used by start, by the tests and by the benchmarks. */
import { chmodSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Logger } from 'pino';
import { type Config, readConfig } from './config.ts';
import { databaseDirectory, type LocalDatabase, startLocalDatabase } from './db/local-server.ts';
import { buildServer } from './http.ts';
import { takeLock } from './lock.ts';
import { openLog } from './log.ts';
import { processMark } from './process.ts';
import { openServices, type Services } from './services.ts';

export interface Instance {
  address: string;
  services: Services;
  close(): Promise<void>;
}

/** The database that is named, or one of the project's own in the data directory. */
export async function openDatabase({ databaseUrl, databasePort, dataDir }: Config): Promise<{ url: string; local: LocalDatabase | null }> {
  if (databaseUrl) return { url: databaseUrl, local: null };
  const local = await startLocalDatabase(databaseDirectory(dataDir), { port: databasePort });
  return { url: local.url, local };
}

const LOOK_EVERY = 1000;

/** Starts the database again where it died under a running server. Gives what ends the watch. */
function keepAlive(local: LocalDatabase, config: Config, log: Logger): () => void {
  let mark = processMark(local.pid);
  let pid = local.pid;
  let starting = false;
  const timer = setInterval(() => {
    if (starting || (mark !== null && processMark(pid) === mark)) return;
    starting = true;
    log.error('The database has died; starting it again');
    openDatabase(config)
      .then((next) => {
        pid = next.local?.pid ?? 0;
        mark = processMark(pid);
      })
      .catch((error: unknown) => log.error({ err: error }, 'The database could not be started again'))
      .finally(() => {
        starting = false;
      });
  }, LOOK_EVERY);
  return () => clearInterval(timer);
}

export async function openInstance(options: { dataDir?: string; port: number; prepare?(services: Services): Promise<void> }): Promise<Instance> {
  const config = readConfig(options.dataDir);
  // What is made from here on, footage and outputs included, is this user's alone.
  process.umask(0o077);
  const lock = takeLock(config.dataDir);
  let local: LocalDatabase | null = null;
  let services: Services | null = null;
  let server: Server | null = null;
  let watchEnd = () => {};
  const writing = openLog(config);
  const close = async () => {
    watchEnd();
    server?.close();
    server?.closeAllConnections();
    await services?.close();
    // Whoever serves the data owns its database, also one that an earlier server left.
    await local?.stop();
    await writing.close();
    lock.release();
  };
  try {
    chmodSync(config.dataDir, 0o700);
    const database = await openDatabase(config);
    local = database.local;
    if (local) watchEnd = keepAlive(local, config, writing.log);
    services = await openServices(database.url, config, { log: writing.log });
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
  const address = `http://127.0.0.1:${port}`;
  lock.setAddress(address);
  writing.log.info({ address, dataDir: config.dataDir }, 'Started');
  return { address, services, close };
}
