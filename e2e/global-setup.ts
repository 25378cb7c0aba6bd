/** One Mottrel with the demo for all end-to-end tests, on data of its own. */
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { startInstance } from '../tests/instance.ts';

export default async function setUp(): Promise<() => Promise<void>> {
  const dir = mkdtempSync(path.join(os.tmpdir(), 'mottrel-e2e-'));
  const instance = await startInstance(dir, { demo: true });
  process.env.MOTTREL_E2E = instance.address;
  return async () => {
    await instance.kill('SIGINT');
    rmSync(dir, { recursive: true, force: true });
  };
}
