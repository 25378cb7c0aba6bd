/** A Mottrel with the demo for each worker of the end-to-end tests, on data of its own. The demo is made once and copied. */
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import type { FullConfig } from '@playwright/test';
import { ensureBuilt } from '../scripts/build.mjs';
import { type RunningInstance, startInstance } from '../tests/instance.ts';

const PATIENCE = 600_000;

/** The demo's Peel is carried in the background at first; it is done once and tests begin when there is quiet. */
async function untilQuiet({ address }: RunningInstance): Promise<void> {
  for (const end = Date.now() + PATIENCE; Date.now() < end; await sleep(500)) {
    const jobs = (await (await fetch(`${address}/jobs`)).json()) as unknown[];
    if (jobs.length === 0) return;
  }
  throw new Error('The demo was not carried in time.');
}

export default async function setUp({ workers }: FullConfig): Promise<() => Promise<void>> {
  // One that runs already may be used while a test is written.
  if (process.env.MOTTREL_E2E) return async () => {};
  await ensureBuilt({ pages: true });
  const root = mkdtempSync(path.join(os.tmpdir(), 'mottrel-e2e-'));
  const dirs = Array.from({ length: workers }, (_, i) => path.join(root, String(i)));
  const first = await startInstance(dirs[0], { demo: true });
  await untilQuiet(first);
  await first.kill('SIGINT');
  for (const dir of dirs.slice(1)) cpSync(dirs[0], dir, { recursive: true });
  const instances = await Promise.all(dirs.map((dir) => startInstance(dir)));
  process.env.MOTTREL_E2E = instances.map((i) => i.address).join();
  return async () => {
    await Promise.all(instances.map((i) => i.kill('SIGINT')));
    rmSync(root, { recursive: true, force: true });
  };
}
