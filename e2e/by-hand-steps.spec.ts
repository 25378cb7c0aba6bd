/** Steps of drawing by hand, each looked at for itself: curves as files, notes and keys in the Sheet, the steps of the edge. */
import path from 'node:path';
import { expect, test } from '@playwright/test';
import {
  at,
  choose,
  drag,
  drawBox,
  freshShot,
  goToFrame,
  mattesOf,
  placeIn,
  setNumber,
  settled,
  shapeOf,
  share,
  shown,
  temporary,
  viewer,
  write,
} from './workbench.ts';

test('curves go out as SVG and come back, and a wrong file is refused in words', async ({ page }) => {
  await freshShot(page, 'empty-quay.mp4', 'Interchange');
  await shapeOf(page, 'star', [300, 100], [600, 400]);
  await page.getByRole('button', { name: 'More for Star' }).click();
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('menuitem', { name: 'Write as SVG of this frame' }).click()]);
  const folder = temporary();
  const file = path.join(folder, download.suggestedFilename());
  await download.saveAs(file);
  const bad = path.join(folder, 'bad.svg');
  write(bad, '<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0L');
  const bringIn = async (name: string) => {
    await page.getByRole('button', { name: 'More for Subject 1' }).click();
    await page.getByRole('menuitem', { name: /^Bring in/ }).click();
    await page.getByLabel('File of curves').setInputFiles(name);
  };
  await bringIn(bad);
  await expect(page.getByText(/not a whole SVG file/)).toBeVisible();
  await page.getByRole('button', { name: 'Close', exact: true }).click();
  await bringIn(file);
  await settled(page);
  // The same twice, excluding each other, is nothing.
  await choose(page, 'Combine', 'Exclude');
  await settled(page);
  expect(share((await mattesOf(page, 0, 0))(0))).toBeLessThan(0.001);
});

test('notes, markers, thinning and the marked range, with the Sheet', async ({ page }) => {
  await freshShot(page, 'storm-lantern.mp4', 'Sheet');
  await drawBox(page, 100, 100, 200, 200);
  const place = await placeIn(page);
  for (const [frame, x] of [
    [10, 250],
    [20, 350],
    [30, 450],
  ]) {
    await goToFrame(page, frame);
    await drag(page, place(x - 100, 150), place(x, 150));
  }
  await expect(page.getByText('Curve 1')).toContainText('4 keys');
  const sheet = page.getByRole('grid', { name: 'Frames' });
  await sheet.focus();
  await page.keyboard.press('Control+a');
  await page.getByRole('button', { name: 'Keys', exact: true }).click();
  await page.getByRole('button', { name: 'Thin', exact: true }).click();
  await settled(page);
  await page.keyboard.press('Escape');
  // The motion is even, so its ends hold it.
  await expect(page.getByText('Curve 1')).toContainText('2 keys');
  await goToFrame(page, 12);
  await page.getByLabel('Note or name').fill('Rim too bright here');
  await page.getByRole('button', { name: 'Add note' }).click();
  await expect(page.getByRole('group', { name: 'Notes of frame 12' })).toContainText('Rim too bright here');
  await page.keyboard.press('Escape');
  await goToFrame(page, 15);
  await sheet.focus();
  for (let i = 0; i < 5; i++) await page.keyboard.press('Shift+ArrowDown');
  await page.getByLabel('Note or name').fill('Swing back');
  await page.getByRole('button', { name: 'Add marker' }).click();
  await settled(page);
  // An edit of the marked range changes no frame outside it.
  await viewer(page).focus();
  await page.keyboard.press('8');
  await page.mouse.move(...place(150 + 200, 150));
  await goToFrame(page, 18);
  await drag(page, place(330, 150), place(330, 250));
  const matte = await mattesOf(page, 14, 21);
  const top = (frame: number) => {
    const m = matte(frame);
    const x = 150 + frame * 10;
    for (let y = 0; y < 540; y++) if (at(m, x, y) > 127) return y;
    return -1;
  };
  expect([top(14), top(21)]).toEqual([100, 100]);
  expect(top(18)).toBe(200);
  expect(top(16)).toBeGreaterThan(100);
});

test('a curve is closed to nothing with 0 %, and grows out of it between keys', async ({ page }) => {
  await freshShot(page, 'empty-quay.mp4', 'Iris');
  await goToFrame(page, 20);
  await drawBox(page, 300, 200, 500, 400);
  await goToFrame(page, 0);
  const group = page.getByRole('group', { name: 'Transform' });
  await group.getByLabel('% x').fill('0');
  await group.getByLabel('% y').fill('0');
  await page.getByRole('button', { name: /^Transform/ }).click();
  await settled(page);
  const matte = await mattesOf(page, 0, 20);
  const covered = (frame: number) => matte(frame).reduce((n, v) => n + (v > 127 ? 1 : 0), 0);
  expect(covered(0)).toBe(0);
  expect(Math.abs(covered(10) - 100 * 100)).toBeLessThan(300);
  expect(Math.abs(covered(20) - 200 * 200)).toBeLessThan(600);
});

test('the edge: pieces, roundness, firmness and shutter, each looked at without and with, and what is written has them', async ({ page }) => {
  await freshShot(page, 'courier-on-the-quay.mp4', 'Chain');
  await drawBox(page, 300, 200, 500, 400);
  await drawBox(page, 700, 100, 712, 112);
  await goToFrame(page, 20);
  await viewer(page).focus();
  await page.keyboard.press('Shift+A');
  await page.getByRole('group', { name: 'Transform' }).getByLabel('move x').fill('200');
  await page.getByRole('button', { name: /^Transform/ }).click();
  await settled(page);
  await page.getByRole('link', { name: 'Edge', exact: true }).click();
  await setNumber(page, 'Specks', '200');
  await setNumber(page, 'Shutter', '180');
  await page.getByRole('radio', { name: 'Matte', exact: true }).click();
  // Before and after in the viewer alone: the speck shows without the step.
  const speck = async () => (await shown(page, 806, 106))[0];
  await goToFrame(page, 10);
  await expect.poll(speck).toBe(0);
  await page.getByRole('button', { name: 'Show without specks and holes' }).click();
  await expect.poll(speck).toBeGreaterThan(100);
  await page.getByRole('button', { name: 'Show with specks and holes again' }).click();
  await expect.poll(speck).toBe(0);
  const matte = (await mattesOf(page, 10, 10))(10);
  expect(at(matte, 806, 106)).toBe(0);
  // 10 px a frame, open for half a frame: a ramp of 5 px round the edge at 400.
  const ramp = Array.from({ length: 12 }, (_, i) => at(matte, 394 + i, 300));
  expect(ramp[0]).toBe(0);
  expect(ramp[11]).toBe(255);
  expect(ramp.filter((v) => v > 5 && v < 250).length).toBeGreaterThanOrEqual(4);
  await page.getByRole('link', { name: 'Edge', exact: true }).click();
  await setNumber(page, 'Shutter', '0');
  await setNumber(page, 'Roundness', '80');
  await setNumber(page, 'Feather out', '2');
  await setNumber(page, 'Firmness', '100');
  const firm = (await mattesOf(page, 10, 10))(10);
  // Round where the corner was, and no value between none and full.
  expect(at(firm, 401, 201)).toBe(0);
  expect(at(firm, 500, 300)).toBe(255);
  expect([...firm].every((v) => v === 0 || v === 255)).toBe(true);
});
