/** What `./mottrel status` says of the server of a data directory. */
import { statfs } from 'node:fs/promises';
import { type Serving, servedBy } from './lock.ts';
import { serverStateSchema } from './state.ts';

const PATIENCE = 3000;
const gigabytes = (bytes: number): string => `${(bytes / 1024 ** 3).toFixed(1)} GB`;
const counted = (count: number, what: string): string => `${count} ${what}`;

/** Gives whether a server runs on the data, and lines to print. */
export async function statusOf(dataDir: string): Promise<{ running: boolean; lines: string[] }> {
  const serving = servedBy(dataDir);
  if (!serving) {
    const disk = await statfs(dataDir).catch(() => null);
    const free = disk ? [`Disk      ${gigabytes(disk.bavail * disk.bsize)} free`] : [];
    return { running: false, lines: ['Mottrel is not running on this data.', `Data      ${dataDir}`, ...free] };
  }
  const lines = [`Mottrel   runs as process ${serving.pid} since ${serving.since}`, `Data      ${dataDir}`];
  return { running: true, lines: [...lines, ...(await answerLines(serving))] };
}

async function answerLines({ address }: Serving): Promise<string[]> {
  if (!address) return ['Address   none yet: it is starting'];
  try {
    const response = await fetch(`${address}/healthz`, { signal: AbortSignal.timeout(PATIENCE) });
    const { version, database, jobs, diskFree } = serverStateSchema.parse(await response.json());
    const work = jobs
      ? [counted(jobs.running, 'running'), counted(jobs.queued, 'waiting'), counted(jobs.paused, 'paused')].join(', ')
      : 'not known without the database';
    return [
      `Address   ${address}`,
      `Version   ${version}`,
      `Database  ${database ? 'answers' : 'does not answer'}`,
      `Jobs      ${work}`,
      ...(diskFree === null ? [] : [`Disk      ${gigabytes(diskFree)} free`]),
    ];
  } catch {
    return [`Address   ${address}`, 'It does not answer: see its log in the data directory.'];
  }
}
