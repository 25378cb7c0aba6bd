/** Curves that are tracked: whole jobs through the interface, measured against the demo's exact mattes. */
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { rawFrames } from '../tests/services.ts';
import { choose, drawPolygon, freshShot, goToFrame, mattesOf, settled } from './workbench.ts';

const ways = JSON.parse(readFileSync('demo/clips/ferry-ramp.marks.json', 'utf8')) as Record<string, [number, number, boolean][]>;
const signAt = (frame: number) => [0, 1, 2, 3].map((i) => ways[`sign-${i}`][frame].slice(0, 2) as [number, number]);
const PIXELS = 960 * 540;

function agreement(found: Buffer, truth: Buffer): number {
  let both = 0;
  let either = 0;
  for (let i = 0; i < PIXELS; i++) {
    both += Math.min(found[i], truth[i]);
    either += Math.max(found[i], truth[i]);
  }
  return both / either;
}

test.setTimeout(150_000);

test('a sign: outlined where it is largest, tracked backwards past whoever hides it, and mended by hand where it could not be seen', async ({ page }) => {
  await freshShot(page, 'ferry-ramp.mp4', 'Track the sign');
  await goToFrame(page, 59);
  await drawPolygon(page, signAt(59));
  const panel = page.getByRole('region', { name: 'Track' });
  await choose(page, 'Motion', 'Perspective');
  await panel.getByRole('button', { name: 'Track: back' }).click();
  await expect(panel.getByRole('progressbar', { name: 'Tracking' })).toBeVisible();
  await expect(panel).toContainText(/Keys on \d+ frames of 0 to 59/, { timeout: 120_000 });
  await settled(page);
  // The deckhand passes: it is said where, and why, and one press goes there.
  const gap = panel.getByRole('listitem').filter({ hasText: 'something hides it' }).filter({ hasText: ' to ' }).first();
  await expect(gap).toBeVisible();
  const [first, last] = (await gap.textContent())?.match(/\d+/g)?.map(Number) as number[];
  expect(first).toBeGreaterThan(12);
  expect(last).toBeLessThan(36);
  await gap.getByRole('button').click();
  await expect(page.getByLabel('Frame', { exact: true })).toHaveValue(String(first));

  const truth = rawFrames('demo/clips/ferry-ramp.matte.mkv', 'gray');
  const of = (frame: number) => truth.subarray(frame * PIXELS, (frame + 1) * PIXELS);
  const matte = await mattesOf(page, 0, 59);
  for (const frame of [0, 8, 40, 50, 58]) expect(agreement(matte(frame), of(frame)), `frame ${frame}`).toBeGreaterThan(0.96);
  // Where it was hidden the way between is straight: the whole sign, not what is to be seen of it.
  expect(agreement(matte(first + 2), of(first + 2))).toBeGreaterThan(0.3);

  // All of it is one step, and comes back.
  await page.getByRole('link', { name: 'Isolate', exact: true }).click();
  const curve = page.getByRole('button', { name: /^Curve 1/ });
  const keyed = await curve.textContent();
  await page.keyboard.press('Control+z');
  await settled(page);
  await expect(curve).toContainText('1 key');
  await page.keyboard.press('Control+Shift+z');
  await settled(page);
  await expect(curve).toHaveText(keyed as string);
});

test('tracking stops where it is told to and keeps what it has; a plain sky is followed on no frame, and it is said why', async ({ page }) => {
  await freshShot(page, 'ferry-ramp.mp4', 'Track and stop');
  await drawPolygon(page, signAt(0));
  const panel = page.getByRole('region', { name: 'Track' });
  await choose(page, 'Look at', 'Proxies (draft)');
  await panel.getByRole('button', { name: 'Track: on' }).click();
  await expect(panel.getByText(/^[4-9] · |^1\d · /)).toBeVisible({ timeout: 30_000 });
  await panel.getByRole('button', { name: 'Stop' }).click();
  await expect(panel).toContainText(/Keys on \d+ frames of 0 to \d+\./);
  const [keys, , end] = ((await panel.textContent()) ?? '').match(/\d+/g)?.map(Number) as number[];
  expect(keys).toBeGreaterThan(2);
  expect(end).toBeLessThan(59);
  await expect(page.getByRole('button', { name: /^Curve 1/ })).toContainText(`${keys + 1} keys`);

  await drawPolygon(page, [
    [700, 20],
    [800, 20],
    [800, 60],
    [700, 60],
  ]);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await settled(page);
});
