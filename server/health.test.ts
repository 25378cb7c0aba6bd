import path from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { openTestServices, type TestServices, until } from '../tests/services.ts';
import { startLocalDatabase } from './db/local-server.ts';

let services: TestServices;
beforeAll(async () => {
  services = await openTestServices();
});
afterAll(() => services.end());

it('says within three seconds that the database is gone, and that it is back', async () => {
  const heard: boolean[] = [];
  const leave = services.health.subscribe(({ database }) => heard.push(database));
  expect(heard).toEqual([true]);
  await services.local.stop();
  const gone = Date.now();
  await until(async () => heard.at(-1) === false, 3000);
  expect(Date.now() - gone).toBeLessThan(3000);
  expect(await services.health.look()).toEqual({ database: false });
  services.local = await startLocalDatabase(path.join(services.dir, 'db'));
  await until(async () => heard.at(-1) === true, 10_000);
  leave();
  const count = heard.length;
  await new Promise((resolve) => setTimeout(resolve, 2000));
  expect(heard).toHaveLength(count);
});
