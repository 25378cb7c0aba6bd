/** How a running server is, for those who look after it. */
import { readFileSync } from 'node:fs';
import { statfs } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import type { Config } from './config.ts';
import type { HealthWatch } from './health.ts';
import type { JobQueue } from './jobs/queue.ts';
import { ROOT } from './root.ts';

export const serverStateSchema = z.object({
  version: z.string(),
  database: z.boolean(),
  /** Jobs in each state; null while the database does not answer. */
  jobs: z.object({ running: z.number(), queued: z.number(), paused: z.number() }).nullable(),
  /** Bytes that are free where the data is; null where the disk does not say. */
  diskFree: z.number().nullable(),
});
export type ServerState = z.infer<typeof serverStateSchema>;

const { version } = z.object({ version: z.string() }).parse(JSON.parse(readFileSync(path.join(ROOT, 'package.json'), 'utf8')));

export async function serverState({ config, health, queue }: { config: Config; health: HealthWatch; queue: JobQueue }): Promise<ServerState> {
  const { database } = await health.look();
  const disk = await statfs(config.dataDir).catch(() => null);
  return {
    version,
    database,
    jobs: database ? await queue.counts().catch(() => null) : null,
    diskFree: disk && disk.bavail * disk.bsize,
  };
}
