import { rm } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { temporaryDirectory, until } from '../tests/services.ts';
import { readConfig } from './config.ts';
import { type LocalDatabase, startLocalDatabase } from './db/local-server.ts';
import { openServices, type Services } from './services.ts';

let dir: string;
let local: LocalDatabase;
let services: Services;
beforeAll(async () => {
  dir = await temporaryDirectory();
  local = await startLocalDatabase(path.join(dir, 'db'));
  services = await openServices(local.url, readConfig(dir, {}));
});
afterAll(async () => {
  await services.close();
  await local.stop();
  await rm(dir, { recursive: true, force: true });
});

it('says that the database is gone, and that it is back, to those who listen and to nobody else', async () => {
  const heard: boolean[] = [];
  const leave = services.health.subscribe(({ database }) => heard.push(database));
  expect(heard).toEqual([true]);
  await local.stop();
  await until(async () => heard.at(-1) === false);
  expect(await services.health.look()).toEqual({ database: false });
  local = await startLocalDatabase(path.join(dir, 'db'));
  await until(async () => heard.at(-1) === true);
  leave();
  const count = heard.length;
  const still: boolean[] = [];
  const leaveAgain = services.health.subscribe(({ database }) => still.push(database));
  await until(async () => still.length > 2);
  leaveAgain();
  expect(heard).toHaveLength(count);
});
