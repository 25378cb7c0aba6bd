/** The log of the server: lines of JSON in the data directory, and warnings on the terminal in plain words. */
import { mkdirSync } from 'node:fs';
import path from 'node:path';
import pino, { type Logger, type StreamEntry } from 'pino';
import pretty from 'pino-pretty';
import { createStream } from 'rotating-file-stream';
import type { Config } from './config.ts';

const logDirectory = (dataDir: string): string => path.join(dataDir, 'log');

/** A log, and what writes out the rest of it. */
export interface ServerLog {
  log: Logger;
  close(): Promise<void>;
}

/** Level, time and what happened, with the id of the request or the job; ten files of 10 MB at most. */
export function openLog({ dataDir, logLevel }: Pick<Config, 'dataDir' | 'logLevel'>): ServerLog {
  if (logLevel === 'silent') return { log: pino({ level: 'silent' }), close: async () => {} };
  const dir = logDirectory(dataDir);
  mkdirSync(dir, { recursive: true, mode: 0o700 });
  const file = createStream('mottrel.log', { path: dir, size: '10M', maxFiles: 10, mode: 0o600 });
  const terminal = pretty({ destination: 2, sync: true, colorize: false, ignore: 'pid,hostname', translateTime: 'SYS:HH:MM:ss' });
  // A log that cannot be written is told once on the terminal, and does not end the work.
  let told = false;
  file.on('error', (error: Error) => {
    if (!told) process.stderr.write(`The log cannot be written: ${error.message}\n`);
    told = true;
  });
  const streams: StreamEntry[] = [
    { level: logLevel, stream: file },
    { level: logLevel === 'error' ? 'error' : 'warn', stream: terminal },
  ];
  const log = pino({ level: logLevel, base: undefined, timestamp: pino.stdTimeFunctions.isoTime }, pino.multistream(streams));
  return { log, close: () => new Promise((resolve) => file.end(resolve)) };
}
