/** Takes the pictures in docs/screenshots from the demo data: `npm run screenshots`. */
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { chromium } from '@playwright/test';
import { CHROMIUM } from '../playwright.config.ts';
import { ROOT } from '../server/config.ts';
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

await page.goto(instance.address);
await take('productions');
await page.goto(`${instance.address}/shortcuts`);
await take('shortcuts');
await page.goto(instance.address);
await page.getByRole('link', { name: 'Low Tide Post' }).click();
await take('production');
await page.getByRole('link', { name: 'Storm lantern' }).click();
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
await page.getByRole('button', { name: 'Hide the chart of the matte' }).click();
await page.getByRole('link', { name: 'Compose', exact: true }).click();
await page.getByRole('radio', { name: 'Composed' }).click();
await page.getByRole('button', { name: 'Gaussian blur', exact: true }).click();
await take('compose');
await page.getByRole('link', { name: 'Output', exact: true }).click();
await page.getByRole('button', { name: /^Write/ }).click();
await page.getByRole('link', { name: 'Zip' }).waitFor({ timeout: 60_000 });
// The folder on this machine is nobody's business.
await page.evaluate((inside) => {
  for (const e of document.querySelectorAll('.font-mono')) if (e.textContent?.startsWith(inside)) e.textContent = e.textContent.replace(inside, '/srv/mottrel');
}, dir);
await take('output');
await page.goto(instance.address);
await page.getByRole('link', { name: 'Low Tide Post' }).click();
await page.getByRole('link', { name: 'Courier on the quay' }).click();
await saved();
await take('untouched');

await browser.close();
await instance.kill('SIGINT');
rmSync(dir, { recursive: true, force: true });
