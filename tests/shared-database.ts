/** Before integration tests: what they run is built, and one MariaDB is started in which each file of tests has a database of its own. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { ensureBuilt } from '../scripts/build.mjs';
import { startLocalDatabase } from '../server/db/local-server.ts';

export default async function setUp(): Promise<() => Promise<void>> {
  await ensureBuilt({ pages: true });
  const dir = mkdtempSync(path.join(os.tmpdir(), 'mottrel-tests-db-'));
  const local = await startLocalDatabase(dir);
  const socket = new URL(local.url).searchParams.get('socketPath');
  const grant = "grant all on `mottrel\\_%`.* to 'mottrel'@'localhost'";
  const { status, stderr } = spawnSync('mariadb', ['--no-defaults', `--socket=${socket}`, `-u${os.userInfo().username}`, '-e', grant], { encoding: 'utf8' });
  if (status !== 0) throw new Error(stderr);
  process.env.MOTTREL_TEST_DATABASE = local.url;
  return async () => {
    await local.stop();
    rmSync(dir, { recursive: true, force: true });
  };
}
