/** The server, or its database, gone under an open page: said at once, nothing lost, and all comes back by itself. */
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import { type RunningInstance, startInstance } from '../tests/instance.ts';
import { footage, Hand, leftOn, TOP } from './hand.ts';

let dir: string;
let instance: RunningInstance;
test.beforeAll(async () => {
  dir = mkdtempSync(path.join(os.tmpdir(), 'mottrel-outage-'));
  instance = await startInstance(dir);
});
test.afterAll(async () => {
  await instance.kill('SIGINT');
  rmSync(dir, { recursive: true, force: true });
});

const notice = (page: Page) => page.getByRole('status', { name: 'Connection' });

async function openShot(page: Page): Promise<Hand> {
  const hand = new Hand(page);
  await page.goto(instance.address);
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  await hand.bring(footage().walker);
  await expect(page.getByRole('heading', { level: 2, name: 'Cast' })).toBeVisible({ timeout: 60_000 });
  await hand.saved();
  return hand;
}

test('the server is killed and comes back: every page says so within five seconds, work is kept and sent, jobs go on', async ({ page, context }) => {
  const hand = await openShot(page);
  const start = await context.newPage();
  await start.goto(instance.address);
  const shortcuts = await context.newPage();
  await shortcuts.goto(`${instance.address}/shortcuts`);
  await page.bringToFront();
  await hand.next('Paint the subject');
  await hand.drag([
    [leftOn(0) + 10, TOP + 12],
    [leftOn(0) + 60, TOP + 12],
  ]);
  await hand.saved();
  await hand.next(/^Carry through/);
  await expect(page.getByRole('button', { name: /^1 running/ })).toBeVisible();
  const { port } = new URL(instance.address);
  await instance.kill('SIGKILL');
  for (const one of [page, start, shortcuts]) {
    await one.bringToFront();
    await expect(notice(one)).toContainText('Mottrel does not answer.');
  }
  await page.bringToFront();
  await expect(page.getByLabel('Saving')).toHaveText('Offline');
  await expect(page.getByRole('button', { name: /^1 interrupted/ })).toBeVisible();
  // Work goes on meanwhile, and is counted.
  await hand.drag([
    [leftOn(0) + 10, TOP + 31],
    [leftOn(0) + 60, TOP + 31],
  ]);
  await expect(page.getByLabel('Saving')).toHaveText('Offline, 1 kept here');
  await expect(notice(page)).toContainText('One step of your work is kept in this browser');

  instance = await startInstance(dir, { port: Number(port) });
  for (const one of [page, start, shortcuts]) {
    await one.bringToFront();
    await expect(notice(one)).toBeEmpty();
  }
  await page.bringToFront();
  await hand.saved();
  await page.getByRole('button', { name: 'Peel', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Strokes' }).getByRole('listitem')).toHaveCount(2);
  await page.reload();
  await hand.saved();
  await expect(page.getByRole('button', { name: 'Undo: Keep stroke' })).toBeVisible();
});

test('the database stands still: said within five seconds, and saved once it goes on', async ({ page }) => {
  const hand = await openShot(page);
  const pid = Number(readFileSync(path.join(dir, 'db', 'db.pid'), 'utf8'));
  process.kill(pid, 'SIGSTOP');
  try {
    await expect(notice(page)).toContainText('The database does not answer.');
    await hand.next('Paint the subject');
    await hand.clickAt(leftOn(0) + 20, TOP + 12);
    await expect(page.getByLabel('Saving')).toHaveText('Offline, 1 kept here');
  } finally {
    process.kill(pid, 'SIGCONT');
  }
  await expect(notice(page)).toBeEmpty();
  await expect(page.getByLabel('Saving')).toHaveText('Saved', { timeout: 30_000 });
});

test('only the news is cut off: that is said too, and it is tried again', async ({ page }) => {
  await openShot(page);
  // A line on which nothing comes any more, though the server answers.
  await page.route('**/events**', () => new Promise(() => {}));
  await page.reload();
  await expect(notice(page)).toContainText('News from the server does not come through.');
  await page.unroute('**/events**');
  await expect(notice(page)).toBeEmpty();
});

test('a page that is asked for while the server is away opens by itself when it is back', async ({ page }) => {
  await openShot(page);
  const { port } = new URL(instance.address);
  await instance.kill('SIGKILL');
  await page.getByRole('link', { name: 'All productions' }).click();
  await expect(page.getByRole('heading', { name: 'This page waits for the server' })).toBeVisible();
  instance = await startInstance(dir, { port: Number(port) });
  await expect(page.getByRole('heading', { name: 'Go on with' })).toBeVisible();
});
