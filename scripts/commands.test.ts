import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ROOT } from '../server/config.ts';
import { type LocalDatabase, startLocalDatabase } from '../server/db/local-server.ts';
import { startInstance } from '../tests/instance.ts';
import { temporaryDirectory } from '../tests/services.ts';

let dir: string;
let foreign: LocalDatabase;
beforeAll(async () => {
  dir = await temporaryDirectory();
  foreign = await startLocalDatabase(path.join(dir, 'foreign'));
});
afterAll(async () => {
  await foreign.stop();
  await rm(dir, { recursive: true, force: true });
});

const mottrel = (args: string[], env: Record<string, string> = {}) => {
  const { status, stdout, stderr } = spawnSync(path.join(ROOT, 'mottrel'), args, { encoding: 'utf8', env: { ...process.env, ...env }, timeout: 60_000 });
  return { status, said: stdout + stderr };
};
const alive = (pid: number): boolean => {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
};

describe('./mottrel', () => {
  it('starts empty, keeps a second one off the same data, stops everything, and finds its data again', async () => {
    const data = path.join(dir, 'one');
    const first = await startInstance(data);
    const database = Number(readFileSync(path.join(data, 'db', 'db.pid'), 'utf8'));
    const form = new FormData();
    form.set('intent', 'create');
    form.set('name', 'Kept');
    expect((await fetch(`${first.address}/?index`, { method: 'POST', body: form })).status).toBe(200);
    expect(mottrel(['start', '--data', data, '--port', '0'])).toMatchObject({ status: 1, said: expect.stringContaining('running on this data already') });
    expect(mottrel(['reset-demo', '--data', data])).toMatchObject({ status: 1, said: expect.stringContaining('Stop it first') });
    expect(mottrel(['stop', '--data', data])).toMatchObject({ status: 0, said: expect.stringContaining('Stopped.') });
    expect(await first.ended).toBe(0);
    expect(alive(database)).toBe(false);
    const second = await startInstance(data, { demo: true });
    const page = await (await fetch(second.address)).text();
    expect(page).toContain('Kept');
    // What is there is never touched: no demo is put beside it.
    expect(page).not.toContain('Low Tide Post');
    const again = Number(readFileSync(path.join(data, 'db', 'db.pid'), 'utf8'));
    await second.kill('SIGINT');
    expect(alive(again)).toBe(false);
  });

  it('uses a database that is already there, and leaves it running', async () => {
    const data = path.join(dir, 'two');
    const instance = await startInstance(data, { demo: true, env: { DATABASE_URL: foreign.url } });
    expect(await (await fetch(instance.address)).text()).toContain('Low Tide Post');
    await instance.kill('SIGINT');
    expect(alive(foreign.pid)).toBe(true);
    expect(mottrel(['reset-demo', '--data', data], { DATABASE_URL: foreign.url })).toMatchObject({
      status: 0,
      said: expect.stringContaining('as it was at first'),
    });
  });

  it('says what is wrong with a call, and that a port is taken', async () => {
    expect(mottrel(['dance'])).toMatchObject({ status: 2, said: expect.stringContaining('no command "dance"') });
    expect(mottrel(['start', '--port', 'high'])).toMatchObject({ status: 1, said: expect.stringContaining('--port takes a number') });
    expect(mottrel(['help'])).toMatchObject({ status: 0, said: expect.stringContaining('reset-demo') });
    const instance = await startInstance(path.join(dir, 'three'));
    const { port } = new URL(instance.address);
    expect(mottrel(['start', '--empty', '--data', path.join(dir, 'four'), '--port', port])).toMatchObject({
      status: 1,
      said: expect.stringContaining('taken by another program'),
    });
    await instance.kill('SIGINT');
  });
});
