/** Footage named on the command line. */
import path from 'node:path';
import { readConfig } from '../server/config.ts';
import { probeFile } from '../server/footage/probe.ts';
import type { Original } from '../server/outputs/write-output.ts';

/** Footage in a file of its own, probed. */
export async function probeFootage(file: string): Promise<Original> {
  const full = path.resolve(file);
  const name = path.basename(full);
  return { probe: { ...(await probeFile(full, name, readConfig().limits)), input: name }, originals: path.dirname(full) };
}
