/** Curves that are tracked: whole jobs through the interface, measured against where the demo's marks truly are. */
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { fillPolylines } from '../core/path/fill.ts';
import { choose, drawPolygon, freshShot, goToFrame, mattesOf, settled } from './workbench.ts';

const ways = JSON.parse(readFileSync('demo/clips/ferry-ramp.marks.json', 'utf8')) as Record<string, [number, number, boolean][]>;
const signAt = (frame: number) => [0, 1, 2, 3].map((i) => ways[`sign-${i}`][frame].slice(0, 2) as [number, number]);
const numbersIn = (text: string | null): number[] => (text ?? '').match(/\d+/g)?.map(Number) ?? [];
const PIXELS = 960 * 540;

function agreement(found: ArrayLike<number>, truth: ArrayLike<number>): number {
  let both = 0;
  let either = 0;
  for (let i = 0; i < PIXELS; i++) {
    both += Math.min(found[i], truth[i]);
    either += Math.max(found[i], truth[i]);
  }
  return both / either;
}

test.setTimeout(300_000);

test('a sign: outlined where it is largest, tracked backwards past whoever walks in front of it, and written', async ({ page }) => {
  await freshShot(page, 'ferry-ramp.mp4', 'Track the sign');
  await goToFrame(page, 59);
  await drawPolygon(page, signAt(59));
  const panel = page.getByRole('region', { name: 'Track' });
  await choose(page, 'Motion', 'Perspective');
  await panel.getByRole('button', { name: 'Track: back' }).click();
  await expect(panel.getByRole('progressbar', { name: 'Tracking' })).toBeVisible();
  await expect(panel).toContainText(/Keys on \d+ frames of 0 to 59/, { timeout: 120_000 });
  await settled(page);
  const matte = await mattesOf(page, 0, 59);
  // The whole sign, also while the deckhand passes in front of it.
  for (let frame = 0; frame < 60; frame += 4)
    expect(
      agreement(
        matte(frame),
        fillPolylines([Float64Array.from(signAt(frame).flat())], 960, 540).data.map((v) => v * 255),
      ),
      `frame ${frame}`,
    ).toBeGreaterThan(0.94);

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
  const [keys, , end] = numbersIn(await panel.textContent());
  expect(keys).toBeGreaterThan(2);
  expect(end).toBeLessThan(59);
  await expect(page.getByRole('button', { name: /^Curve 1/ })).toContainText(`${keys + 1} keys`);

  await freshShot(page, 'ferry-ramp.mp4', 'Track the sky');
  await drawPolygon(page, [
    [700, 20],
    [800, 20],
    [800, 60],
    [700, 60],
  ]);
  await choose(page, 'Look at', 'Proxies (draft)');
  await panel.getByRole('button', { name: 'Track: both ways' }).click();
  await expect(panel).toContainText(/Followed on no frame of \d+ to 59.*: the pattern is too plain/, { timeout: 60_000 });
  // One press goes where it was lost.
  const lost = panel.getByRole('listitem').first();
  await lost.getByRole('button').click();
  await expect(page.getByLabel('Frame', { exact: true })).toHaveValue(String(numbersIn(await lost.textContent())[0]));
  await expect(page.getByRole('button', { name: /^Curve 1/ })).toContainText('1 key');
});
