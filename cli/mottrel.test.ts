import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { createServer } from 'node:net';
import { userInfo } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type LocalDatabase, startLocalDatabase } from '../server/db/local-server.ts';
import { ROOT } from '../server/root.ts';
import { startInstance } from '../tests/instance.ts';
import { temporaryDirectory, until } from '../tests/services.ts';

const freePort = (): Promise<number> =>
  new Promise((resolve, reject) => {
    const server = createServer();
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number };
      server.close(() => resolve(port));
    });
  });

let dir: string;
let foreign: LocalDatabase;
beforeAll(async () => {
  dir = await temporaryDirectory();
  foreign = await startLocalDatabase(path.join(dir, 'foreign'), { port: await freePort() });
});
afterAll(async () => {
  await foreign.stop();
  await rm(dir, { recursive: true, force: true });
});

const mottrel = (args: string[], env: Record<string, string> = {}) => {
  const { status, stdout, stderr } = spawnSync(path.join(ROOT, 'mottrel'), args, { encoding: 'utf8', env: { ...process.env, ...env }, timeout: 60_000 });
  return { status, said: stdout + stderr };
};
const databasePid = (data: string): number => Number(readFileSync(path.join(data, 'db', 'db.pid'), 'utf8'));
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
    const database = databasePid(data);
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
    const again = databasePid(data);
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

  it('says whether it runs, where, and how its database, work and disk are', async () => {
    const data = path.join(dir, 'told');
    expect(mottrel(['status', '--data', data])).toMatchObject({ status: 3, said: expect.stringContaining('not running') });
    const instance = await startInstance(data);
    const { status, said } = mottrel(['status', '--data', data]);
    expect(status).toBe(0);
    for (const word of [`process ${instance.process.pid}`, instance.address, 'Database  answers', '0 running, 0 waiting', 'GB free'])
      expect(said).toContain(word);
    await instance.kill('SIGINT');
    expect(mottrel(['status', '--data', data]).status).toBe(3);
  });

  it('owns the database that a killed server left: starts it again where it dies, and stops it in the end', async () => {
    const data = path.join(dir, 'left');
    const first = await startInstance(data);
    const left = databasePid(data);
    await first.kill('SIGKILL');
    expect(alive(left)).toBe(true);
    const second = await startInstance(data);
    expect(databasePid(data)).toBe(left);
    process.kill(left, 'SIGKILL');
    await until(async () => alive(databasePid(data)) && databasePid(data) !== left);
    await until(async () => (await fetch(`${second.address}/healthz`)).ok);
    const last = databasePid(data);
    await second.kill('SIGINT');
    expect(alive(last)).toBe(false);
  });

  it('starts once where two are started at the same moment, also on what a killed one left', async () => {
    const data = path.join(dir, 'race');
    for (const again of [false, true]) {
      const both = await Promise.allSettled([startInstance(data), startInstance(data)]);
      const up = both.flatMap((b) => (b.status === 'fulfilled' ? [b.value] : []));
      const refused = both.flatMap((b) => (b.status === 'rejected' ? [String(b.reason)] : []));
      expect(up).toHaveLength(1);
      expect(refused).toEqual([expect.stringContaining('running on this data already')]);
      await up[0].kill(again ? 'SIGINT' : 'SIGKILL');
    }
  });

  it('never stops a program that has the number of a server which is gone', async () => {
    const data = path.join(dir, 'stale');
    mkdirSync(data);
    const editor = spawn('sleep', ['60'], { stdio: 'ignore' });
    const pid = editor.pid as number;
    writeFileSync(path.join(data, 'server.json'), JSON.stringify({ pid, mark: 'of another start', since: new Date().toISOString() }));
    mkdirSync(path.join(data, 'db'));
    writeFileSync(path.join(data, 'db', 'db.pid'), String(pid));
    expect(mottrel(['stop', '--data', data])).toMatchObject({ status: 0, said: expect.stringContaining('was not running') });
    expect(alive(pid)).toBe(true);
    editor.kill();
  });

  it('keeps what it writes to the user who runs it, and lets nobody into the database without a password', async () => {
    const data = path.join(dir, 'private');
    const instance = await startInstance(data);
    const form = new FormData();
    form.set('intent', 'create');
    form.set('name', 'Private');
    await fetch(`${instance.address}/?index`, { method: 'POST', body: form });
    await fetch(`${instance.address}/uploads`, { method: 'POST' });
    for (const entry of readdirSync(data, { recursive: true, withFileTypes: true })) {
      if (!entry.isFile() && !entry.isDirectory()) continue;
      const { mode } = statSync(path.join(entry.parentPath, entry.name));
      expect(`${entry.name} ${(mode & 0o077).toString(8)}`).toBe(`${entry.name} 0`);
    }
    expect(statSync(data).mode & 0o777).toBe(0o700);
    const query = (user: string, sql: string) =>
      spawnSync('mariadb', ['--no-defaults', `--socket=${path.join(data, 'db', 'db.sock')}`, `-u${user}`, '-N', '-e', sql], { encoding: 'utf8' });
    expect(query('mottrel', 'select 1').status).not.toBe(0);
    const self = userInfo().username;
    expect(query(self, "select User from mysql.user where plugin <> 'unix_socket' and authentication_string = '' and User <> 'mariadb.sys'").stdout).toBe('');
    // Neither its own user nor this system's reads or writes files by queries.
    expect(query(self, "select load_file('/etc/hostname')").stdout.trim()).toBe('NULL');
    expect(query(self, "show variables like 'skip_networking'").stdout).toContain('ON');
    const lines = readFileSync(path.join(data, 'log', 'mottrel.log'), 'utf8')
      .trim()
      .split('\n');
    const asked = lines.map((line) => JSON.parse(line)).find((line) => line.req?.url === '/uploads');
    expect(asked).toMatchObject({ level: 30, req: { method: 'POST', id: expect.stringMatching(/^[0-9a-f]{8}$/) }, res: { status: 200 } });
    expect(asked.responseTime).toBeGreaterThanOrEqual(0);
    await instance.kill('SIGINT');
  });

  it('does not start with settings that are wrong, and names them', () => {
    const env = { MOTTREL_THREADS: 'many', MOTTREL_LOG: 'loud', DATABASE_URL: 'somewhere' };
    const { status, said } = mottrel(['start', '--data', path.join(dir, 'wrong'), '--port', '0'], env);
    expect(status).toBe(1);
    expect(said).toContain('MOTTREL_THREADS takes a whole number from 1, not "many".');
    expect(said).toContain('MOTTREL_LOG takes one of trace, debug');
    expect(said).toContain('DATABASE_URL takes mariadb://');
  });

  it('says what is wrong with a call, and that a port is taken', async () => {
    expect(mottrel(['dance'])).toMatchObject({ status: 2, said: expect.stringContaining("unknown command 'dance'") });
    expect(mottrel(['start', '--port', 'high'])).toMatchObject({ status: 2, said: expect.stringContaining('It takes a number from 0 to 65535') });
    for (const args of [['help'], [], ['--help']]) expect(mottrel(args)).toMatchObject({ status: 0, said: expect.stringContaining('reset-demo') });
    const instance = await startInstance(path.join(dir, 'three'));
    const { port } = new URL(instance.address);
    expect(mottrel(['start', '--empty', '--data', path.join(dir, 'four'), '--port', port])).toMatchObject({
      status: 1,
      said: expect.stringContaining('taken by another program'),
    });
    await instance.kill('SIGINT');
  });
});
