/** Where the server keeps its things and how much it takes in. All can be set by environment variables. */
import path from 'node:path';

export const ROOT = path.join(import.meta.dirname, '..');

const megabytes = (name: string, fallback: number): number => {
  const value = Number(process.env[name]);
  return (value > 0 ? value : fallback) * 1024 * 1024;
};
const count = (name: string, fallback: number): number => {
  const value = Number(process.env[name]);
  return Number.isInteger(value) && value > 0 ? value : fallback;
};

export interface Config {
  dataDir: string;
  limits: {
    /** Bytes of one uploaded file. */
    fileBytes: number;
    /** Bytes that a zip may unpack to. */
    unpackedBytes: number;
    filesInSequence: number;
    /** Pixels of the longer side of a plate. */
    side: number;
    frames: number;
    documentBytes: number;
  };
  /** Worker threads for long work. */
  threads: number;
  /** Days that a deleted shot or production can still be brought back. */
  keepDeletedDays: number;
}

export function readConfig(dataDir = process.env.MOTTREL_DATA ?? path.join(ROOT, '.mottrel')): Config {
  return {
    dataDir: path.resolve(dataDir),
    limits: {
      fileBytes: megabytes('MOTTREL_MAX_FILE_MB', 65_536),
      unpackedBytes: megabytes('MOTTREL_MAX_UNPACKED_MB', 65_536),
      filesInSequence: count('MOTTREL_MAX_SEQUENCE_FILES', 100_000),
      side: count('MOTTREL_MAX_SIDE', 8192),
      frames: count('MOTTREL_MAX_FRAMES', 100_000),
      documentBytes: megabytes('MOTTREL_MAX_DOCUMENT_MB', 32),
    },
    threads: count('MOTTREL_THREADS', 2),
    keepDeletedDays: count('MOTTREL_KEEP_DELETED_DAYS', 30),
  };
}
