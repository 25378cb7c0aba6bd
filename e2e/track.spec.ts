/** Curves that are tracked: whole jobs through the interface, measured against where the demo's marks truly are. */
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { marksOf } from '../tests/marks.ts';
import { agreement, filled, signAt } from './marks.ts';
import { addPeel } from './peel-work.ts';
import { choose, drag, drawBox, drawPolygon, freshShot, goToFrame, mattesOf, placeIn, settled, viewer } from './workbench.ts';

const ways = marksOf('ferry-ramp');
const numbersIn = (text: string | null): number[] => (text ?? '').match(/\d+/g)?.map(Number) ?? [];
test.setTimeout(300_000);

test('a sign: outlined where it is largest, tracked backwards past whoever walks in front of it, and written', async ({ page }) => {
  await freshShot(page, 'ferry-ramp.mp4', 'Track the sign');
  await goToFrame(page, 59);
  await drawPolygon(page, signAt(59));
  const panel = page.getByRole('region', { name: 'Track', exact: true });
  await choose(page, 'Motion', 'Perspective');
  await panel.getByRole('button', { name: 'Track back', exact: true }).click();
  await expect(panel.getByRole('progressbar', { name: 'Tracking' })).toBeVisible();
  await expect(panel).toContainText(/Followed on \d+ frames of 0 to 59/, { timeout: 120_000 });
  await settled(page);
  const matte = await mattesOf(page, 0, 59);
  // The whole sign, also while the deckhand passes in front of it.
  for (let frame = 0; frame < 60; frame += 4) expect(agreement(matte(frame), filled(signAt(frame))), `frame ${frame}`).toBeGreaterThan(0.94);

  // The curve follows: it has one key. Written as keys, it stands alone; nothing that is seen changes.
  await page.getByRole('link', { name: 'Isolate', exact: true }).click();
  const curve = page.getByRole('button', { name: /^Curve 1/ });
  await expect(curve).toContainText('1 key');
  await panel.getByRole('button', { name: 'Each frame' }).click();
  await settled(page);
  await expect(curve).toContainText(/4 points, 5\d keys/);
  await expect(panel.getByRole('button', { name: 'Track back', exact: true })).toBeVisible();
  const written = await mattesOf(page, 0, 59);
  for (const frame of [0, 31, 58]) expect(agreement(written(frame), matte(frame)), `frame ${frame}`).toBeGreaterThan(0.999);

  // And back: it follows the track again, and keeps what is seen on its keys.
  await page.getByRole('link', { name: 'Isolate', exact: true }).click();
  await choose(page, 'Follows', 'Track of Spline 1');
  await settled(page);
  const again = await mattesOf(page, 0, 59);
  for (const frame of [0, 31, 58]) expect(agreement(again(frame), matte(frame)), `frame ${frame}`).toBeGreaterThan(0.999);

  // Tracking was one step: undone, there is neither a track nor a motion.
  await page.getByRole('link', { name: 'Isolate', exact: true }).click();
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
  await settled(page);
  await expect(page.getByRole('region', { name: 'Tracks' })).toBeHidden();
  await expect(curve).toContainText('1 key');
});

test('tracking stops where it is told to and keeps what it has; a plain sky is followed on no frame, and it is said why', async ({ page }) => {
  await freshShot(page, 'ferry-ramp.mp4', 'Track and stop');
  await drawPolygon(page, signAt(0));
  const panel = page.getByRole('region', { name: 'Track', exact: true });
  await choose(page, 'Look at', 'Proxies (draft)');
  await panel.getByRole('button', { name: 'Track on', exact: true }).click();
  await expect(panel.getByText(/^Frame ([4-9]|1\d), quality/)).toBeVisible({ timeout: 30_000 });
  await panel.getByRole('button', { name: 'Stop' }).click();
  await expect(panel).toContainText(/Followed on \d+ frames of 0 to \d+\./);
  const [keys, , end] = numbersIn(await panel.locator('[data-outcome] p').textContent());
  expect(keys).toBeGreaterThan(2);
  expect(end).toBeLessThan(59);
  // It goes on from there.
  await goToFrame(page, end);
  await panel.getByRole('button', { name: 'Track one frame on' }).click();
  await expect(panel).toContainText(`of 0 to ${end + 1}.`);

  // Where the region is by now, a Peel can start from it.
  await addPeel(page);
  await page.getByRole('button', { name: /^Outline from/ }).click();
  await page.getByRole('menuitem', { name: /: tracked region$/ }).click();
  await expect(page.getByRole('region', { name: 'Strokes' }).getByRole('listitem')).toHaveText(new RegExp(`Loop, frame ${end}`));
  await expect(page.getByRole('region', { name: 'Carry' })).toContainText('found from one painted frame');

  await freshShot(page, 'ferry-ramp.mp4', 'Track the sky');
  await drawBox(page, 700, 20, 800, 60);
  await choose(page, 'Look at', 'Proxies (draft)');
  await panel.getByRole('button', { name: 'Track both ways' }).click();
  await expect(panel).toContainText(/Followed on no frame of 0 to 59.*: the pattern is too plain/, { timeout: 60_000 });
  // One press goes where it was lost.
  const lost = panel.getByRole('listitem').first();
  await lost.getByRole('button', { name: /^\d+( to \d+)?$/ }).click();
  await expect(page.getByLabel('Frame', { exact: true })).toHaveValue(String(numbersIn(await lost.textContent())[0]));
  await expect(page.getByRole('button', { name: /^Curve 1/ })).toContainText('1 key');
});

test('points: set, tracked together, one put right by hand where it was lost, charted, written and brought in', async ({ page }) => {
  await freshShot(page, 'ferry-ramp.mp4', 'Track points');
  await page.getByRole('radio', { name: 'Points to track' }).click();
  const at = await placeIn(page);
  for (const mark of ['arrow-tip', 'letter', 'stripe']) {
    const [x, y] = ways[mark][0];
    await page.mouse.click(...at(x, y));
    await settled(page);
  }
  const settings = page.getByRole('region', { name: 'Settings' });
  const list = page.getByRole('region', { name: 'Tracks' });
  await choose(page, 'Runs', 'All 3 points');
  await settings.getByRole('button', { name: 'Track on', exact: true }).click();
  await expect(list.getByText(/of 60 frames|all frames/)).toHaveCount(3, { timeout: 120_000 });
  await settled(page);
  const rowsOf = async (name: string) => {
    await list.getByRole('button', { name: `More for ${name}` }).click();
    const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('menuitem', { name: 'Write as CSV' }).click()]);
    const text = readFileSync(await file.path(), 'utf8');
    const rows = text.trim().split('\n').slice(1);
    return { text, rows: rows.map((line) => line.split(',').map(Number)) };
  };
  // A click of the pointer is on a whole pixel of the screen: what matters is that the distance stays.
  const { rows } = await rowsOf('Point 2');
  const off = (row: number[]) => [row[1] - ways.letter[row[0]][0], row[2] - ways.letter[row[0]][1]];
  const [x0, y0] = off(rows[0]);
  const wrong = rows.filter((r) => r[5] >= 0.5).map((r) => Math.hypot(off(r)[0] - x0, off(r)[1] - y0));
  expect(wrong.length).toBeGreaterThan(45);
  expect(Math.max(...wrong)).toBeLessThan(3);

  // Put somewhere else on a frame by hand, the track passes there and comes back to its anchors.
  await list.getByRole('button', { name: /^Point 2/ }).click();
  await goToFrame(page, 40);
  const here = async () => (await settings.locator('[data-place]').textContent())?.match(/[\d.]+/g)?.map(Number) as number[];
  const [px, py] = await here();
  await drag(page, at(px, py), at(px + 12, py));
  await expect(settings.locator('[data-place]')).toContainText('set by hand');
  expect((await here())[0]).toBeCloseTo(px + 12, 0);
  await expect(list.getByText('being tracked')).toHaveCount(0, { timeout: 60_000 });
  await settled(page);
  const bent = (await rowsOf('Point 2')).rows;
  expect(bent.find((r) => r[0] === 0)?.slice(1, 3)).toEqual(rows[0].slice(1, 3));
  expect(Math.abs((bent.find((r) => r[0] === 39)?.[1] ?? 0) - (rows.find((r) => r[0] === 39)?.[1] ?? 0) - 12)).toBeLessThan(3);

  // A range is cut away in one go, and the chart leads to a frame.
  await viewer(page).focus();
  await page.keyboard.press('b');
  await goToFrame(page, 45);
  await viewer(page).focus();
  await page.keyboard.press('n');
  await settings.getByRole('button', { name: 'Delete 40 to 45' }).click();
  await settled(page);
  expect((await rowsOf('Point 2')).rows.filter((r) => r[0] >= 40 && r[0] <= 45)).toEqual([]);
  await page.getByRole('button', { name: 'Chart of the track over time' }).click();
  await expect(page.getByRole('region', { name: 'Track over time' })).toContainText('Point 2 over time');

  const { text } = await rowsOf('Point 1');
  await page.getByLabel('File with a track').setInputFiles({ name: 'tip.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
  await expect(list.getByRole('button', { name: /^tip/ })).toBeVisible();
  await page.getByLabel('File with a track').setInputFiles({ name: 'cut.json', mimeType: 'application/json', buffer: Buffer.from('{"format":') });
  await expect(page.getByText('cut.json: This file is not valid JSON: it may be cut off.')).toBeVisible();
});
