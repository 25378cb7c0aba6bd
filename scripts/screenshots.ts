/** Takes the pictures in docs/screenshots from the demo data: `npm run screenshots`. */
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { chromium } from '@playwright/test';
import marks from '../demo/clips/ferry-ramp.marks.json' with { type: 'json' };
import { placeIn } from '../e2e/workbench.ts';
import { CHROMIUM } from '../playwright.config.ts';
import { ROOT } from '../server/root.ts';
import { startInstance } from '../tests/instance.ts';

const dir = mkdtempSync(path.join(os.tmpdir(), 'mottrel-shots-'));
const instance = await startInstance(dir, { demo: true });
const browser = await chromium.launch(CHROMIUM);
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const take = async (name: string) => {
  await page.waitForTimeout(1200);
  await page.screenshot({ path: path.join(ROOT, 'docs', 'screenshots', `${name}.png`) });
};
const saved = () => page.getByLabel('Saving').getByText('Saved').waitFor();

// The demo's Peel is carried in the background at first.
while (((await (await fetch(`${instance.address}/jobs`)).json()) as unknown[]).length > 0) await page.waitForTimeout(500);
await page.goto(instance.address);
await take('start');
await page.goto(`${instance.address}/shortcuts`);
await take('shortcuts');
await page.goto(instance.address);
await page.getByRole('link', { name: 'Low Tide Post' }).click();
await take('production');
await page.getByRole('list', { name: 'Shots' }).getByRole('link', { name: 'Storm lantern' }).click();
await saved();
await page.getByLabel('Frame', { exact: true }).fill('26');
await page.getByRole('button', { name: 'Body', exact: true }).click();
await page.locator('[data-viewer]').focus();
await page.keyboard.press('a');
await page.keyboard.press('g');
await page.keyboard.press('y');
await take('isolate');
await page.keyboard.press('g');
await page.keyboard.press('y');
await page.keyboard.press('Escape');
await page.keyboard.press('c');
await page.getByRole('application', { name: /^Value over frames/ }).focus();
for (let i = 0; i < 8; i++) await page.keyboard.press('n');
await take('curves');
await page.getByRole('button', { name: 'Close the curves' }).click();
await page.getByRole('link', { name: 'Edge', exact: true }).click();
await page.getByRole('radio', { name: 'Matte' }).click();
await take('edge');
await page.getByRole('button', { name: 'Chart of the matte over time' }).click();
await page.getByText('Click a frame to go there').waitFor({ timeout: 60_000 });
await take('chart');
await page.getByRole('button', { name: 'Hide the chart' }).click();
await page.getByRole('link', { name: 'Output', exact: true }).click();
await page
  .getByRole('region', { name: 'Output' })
  .getByRole('button', { name: /^Write/ })
  .click();
await page.getByRole('link', { name: /^(Zip|Fetch)$/ }).waitFor({ timeout: 60_000 });
// The folder on this machine is nobody's business.
await page.evaluate((inside) => {
  for (const e of document.querySelectorAll('.font-mono')) if (e.textContent?.startsWith(inside)) e.textContent = e.textContent.replace(inside, '/srv/mottrel');
}, dir);
await take('output');
await page.goto(instance.address);
await page.getByRole('link', { name: 'Low Tide Post' }).click();
await page.getByRole('list', { name: 'Shots' }).getByRole('link', { name: 'Courier on the quay' }).click();
await saved();
await page.getByLabel('Frame', { exact: true }).fill('40');
await page.getByRole('button', { name: 'Trike and rider', exact: true }).click();
await page.locator('[data-viewer]').focus();
await page.keyboard.press('z');
await page.getByText('84 of 84 frames found').waitFor({ timeout: 180_000 });
await take('peel');
await page.keyboard.press('Control+k');
await page.keyboard.type('carry');
await take('commands');
await page.keyboard.press('Escape');
await page.getByRole('link', { name: 'Compose', exact: true }).click();
await page
  .getByRole('button', { name: /^Add behind/ })
  .first()
  .click();
await take('gallery');
await page.keyboard.press('Escape');
await page.getByRole('button', { name: 'Title 1', exact: true }).click();
await page.locator('[data-element-frame]').waitFor();
await take('compose');
await page.getByRole('link', { name: 'Isolate', exact: true }).click();
// What was carried of the quay behind the trike is dropped by one stroke.
await page.getByLabel('Frame', { exact: true }).fill('60');
await page.keyboard.press('Tab');
await page.locator('[data-viewer]').focus();
await page.waitForTimeout(1500);
const onPlate = await placeIn(page);
await page.keyboard.down('Alt');
await page.mouse.move(...onPlate(349, 241));
await page.mouse.down();
for (const [x, y] of [
  [349, 296],
  [444, 292],
  [483, 292],
] as const)
  await page.mouse.move(...onPlate(x, y), { steps: 6 });
await page.mouse.up();
await page.keyboard.up('Alt');
// Those that depend on it go stale first, and are found again then.
await page.getByText('Mended on this frame. Carry it to the others.').waitFor();
await page.getByText('84 of 84 frames found from one painted frame, 1 mended.').waitFor({ timeout: 180_000 });
await page.getByText('On this frame they mend what is carried here.').scrollIntoViewIfNeeded();
await take('mended');
await page.goto(instance.address);
await page.getByRole('link', { name: 'Low Tide Post' }).waitFor();
await page.getByRole('button', { name: 'Try it on the demo: Track a sign' }).click();
await page.getByRole('region', { name: /^Guide/ }).waitFor({ timeout: 60_000 });
await saved();
await take('guide');
await page.getByLabel('Frame', { exact: true }).fill('50');
await page.keyboard.press('Tab');
await page.getByRole('radio', { name: 'Draw a curve' }).click();
const onRamp = await placeIn(page);
const sign = ['sign-0', 'sign-1', 'sign-2', 'sign-3', 'sign-0'].map((name) => (marks as unknown as Record<string, [number, number][]>)[name][50]);
for (const [x, y] of sign) {
  await page.mouse.click(...onRamp(x, y));
  await page.waitForTimeout(450);
}
await page.getByRole('combobox', { name: 'Motion' }).click();
await page.getByRole('option', { name: 'Perspective' }).click();
await page.getByRole('button', { name: 'Track both ways' }).click();
const gap = page.getByText('something hides it').last();
await gap.waitFor({ timeout: 60_000 });
await page.getByLabel('Frame', { exact: true }).fill('40');
await page.keyboard.press('Tab');
await page.getByRole('button', { name: 'Open track' }).click();
await page.getByRole('button', { name: 'Chart of the track over time' }).click();
await take('track');
await page.getByRole('button', { name: 'Close the guide' }).click();
await page.goto(instance.address);
await page.getByRole('link', { name: 'Low Tide Post' }).click();
await page.getByRole('link', { name: /^Empty quay/ }).click();
await saved();
await page.getByRole('link', { name: 'Compose', exact: true }).click();
await page.getByLabel('Frame', { exact: true }).fill('12');
await page.keyboard.press('Tab');
await page.waitForTimeout(4000);
await take('twice');
await page.getByRole('button', { name: 'Starts' }).click();
await take('starts');
await page.keyboard.press('Escape');
await page.getByRole('link', { name: 'Low Tide Post' }).click();
await page.getByRole('button', { name: 'Join shots …' }).click();
const joining = page.getByRole('dialog', { name: 'Join shots' });
for (const name of ['Storm lantern', 'Kite over the dunes']) await joining.getByRole('checkbox', { name: new RegExp(name) }).check();
await joining.getByLabel('Way').selectOption('push');
await take('join');
await page.keyboard.press('Escape');
await page.getByLabel('Footage files').setInputFiles(path.join(ROOT, 'demo', 'clips', 'dune-kite.mp4'));
await page.getByRole('list', { name: 'Shots' }).getByRole('link', { name: 'dune-kite', exact: true }).click({ timeout: 60_000 });
await saved();
await take('untouched');

await browser.close();
await instance.kill('SIGINT');
rmSync(dir, { recursive: true, force: true });
