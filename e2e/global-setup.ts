/** One Mottrel with the demo for all end-to-end tests, on data of its own. */
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { ensureBuilt } from '../scripts/build.mjs';
import { startInstance } from '../tests/instance.ts';

export default async function setUp(): Promise<() => Promise<void>> {
  // One that runs already may be used while a test is written.
  if (process.env.MOTTREL_E2E) return async () => {};
  await ensureBuilt({ pages: true });
  const dir = mkdtempSync(path.join(os.tmpdir(), 'mottrel-e2e-'));
  const instance = await startInstance(dir, { demo: true });
  process.env.MOTTREL_E2E = instance.address;
  // The demo's Peel is carried in the background at first; tests begin when there is quiet.
  for (const end = Date.now() + 300_000; Date.now() < end; ) {
    const jobs = (await (await fetch(`${instance.address}/jobs`)).json()) as unknown[];
    if (jobs.length === 0) break;
    await sleep(500);
  }
  return async () => {
    await instance.kill('SIGINT');
    rmSync(dir, { recursive: true, force: true });
  };
}
