import path from 'node:path';
import { expect, test } from '@playwright/test';
import { drawPolygon, freshShot, goToFrame, placeIn, viewer } from './workbench.ts';

test('the wheel zooms at the pointer, the hand moves the picture, F fits it again', async ({ page }) => {
  await freshShot(page, 'empty-quay.mp4', 'Zoom');
  await drawPolygon(page, [
    [300, 200],
    [600, 220],
    [420, 400],
  ]);
  const place = await placeIn(page);
  /** What the pointer shows at a place: "move" on a point of the curve. */
  const cursorAt = async ([x, y]: [number, number]) => {
    await page.mouse.move(x + 1, y);
    await page.mouse.move(x, y);
    return viewer(page).evaluate((e) => getComputedStyle(e).cursor);
  };
  const point = place(300, 200);
  expect(await cursorAt(point)).toBe('move');
  const zoom = page.getByRole('button', { name: /^Zoom/ });
  const fitted = await zoom.textContent();
  await page.mouse.wheel(0, -600);
  await expect(zoom).not.toHaveText(fitted as string);
  // What lies under the pointer stays there.
  expect(await cursorAt(point)).toBe('move');
  await page.keyboard.press('h');
  await page.mouse.down();
  await page.mouse.move(point[0] + 60, point[1] + 30, { steps: 4 });
  await page.mouse.up();
  await page.keyboard.press('e');
  expect(await cursorAt([point[0] + 60, point[1] + 30])).toBe('move');
  expect(await cursorAt(point)).not.toBe('move');
  await page.keyboard.press('f');
  await expect(zoom).toHaveText(fitted as string);
  await page.keyboard.press('Shift+F');
  await expect(zoom).toHaveText('100 %');
});

test('a range is set, looped and left; panels fold away and come back', async ({ page }) => {
  await freshShot(page, 'empty-quay.mp4', 'Range');
  await goToFrame(page, 5);
  await page.keyboard.press('Escape');
  await viewer(page).focus();
  await page.keyboard.press('b');
  await page.keyboard.press('Period');
  await page.keyboard.press('Period');
  await page.keyboard.press('Period');
  await page.keyboard.press('n');
  await expect(page.getByText('24 frames/s, 5–8')).toBeVisible();
  await page.keyboard.press('End');
  await expect(page.getByLabel('Frame', { exact: true })).toHaveValue('8');
  await page.keyboard.press('Space');
  // Round twice: every frame that is shown lies in the range.
  const seen: number[] = [];
  await expect
    .poll(async () => {
      seen.push(Number(await page.getByLabel('Frame', { exact: true }).inputValue()));
      return seen.filter((f, i) => i > 0 && f < seen[i - 1]).length;
    })
    .toBeGreaterThanOrEqual(2);
  await page.keyboard.press('Space');
  expect(seen.every((f) => f >= 5 && f <= 8)).toBe(true);
  await page.keyboard.press('l');
  await expect(page.getByText('24 frames/s, 5–8')).toBeHidden();

  const wide = async () => (await viewer(page).boundingBox())?.width ?? 0;
  const before = await wide();
  await page.getByRole('button', { name: 'Show or hide the Sheet' }).click();
  await expect.poll(wide).toBeGreaterThan(before + 100);
  await page.getByRole('button', { name: 'Show or hide the Sheet' }).click();
  await expect.poll(async () => Math.abs((await wide()) - before)).toBeLessThan(3);
});

test('sending footage is cancelled without a trace', async ({ page }) => {
  await freshShot(page, 'empty-quay.mp4', 'Cancel');
  await page.goBack();
  // The server never answers, so the file is on its way for as long as it takes.
  await page.route('**/uploads/*/0?**', () => new Promise(() => {}));
  await page.getByLabel('Footage files').setInputFiles(path.join('demo', 'clips', 'storm-lantern.mp4'));
  // Two go at a time; a third waits, and says for what.
  await page.getByLabel('Footage files').setInputFiles(['ferry-ramp.mp4', 'dune-kite.mp4'].map((clip) => path.join('demo', 'clips', clip)));
  await expect(page.getByText('waits for 2 uploads before it')).toBeVisible();
  for (const name of ['dune-kite', 'ferry-ramp'])
    await page.getByRole('listitem').filter({ hasText: name }).getByRole('button', { name: 'Cancel sending' }).click();
  await page.getByRole('button', { name: 'Cancel sending' }).click();
  await expect(page.getByText('"storm-lantern.mp4" was cancelled')).toBeVisible();
  await expect(page.getByRole('list', { name: 'Shots' }).getByRole('listitem')).toHaveCount(1);
});
