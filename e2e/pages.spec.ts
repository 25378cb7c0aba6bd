import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import { ffmpeg } from '../tests/services.ts';
import { address, drawBox, drawPolygon, freshShot, goToFrame, matteBytes, settled, temporary, viewer, write, writeOutput } from './workbench.ts';

const TRIANGLE: [number, number][] = [
  [300, 200],
  [600, 220],
  [420, 400],
];

test("two pages on one shot see each other's edits", async ({ page, context }) => {
  await freshShot(page, 'empty-quay.mp4', 'Two pages');
  const other = await context.newPage();
  await other.goto(page.url());
  await settled(other);
  await drawPolygon(page, TRIANGLE);
  await expect(other.getByRole('button', { name: 'Spline 1', exact: true })).toBeVisible();
  await other.getByRole('button', { name: 'Spline 1', exact: true }).click();
  // One press of the pointer, wherever the panel goes after it.
  const box = await other.getByRole('switch', { name: 'Invert' }).boundingBox();
  if (!box) throw new Error('There is no switch.');
  await other.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
  await settled(other);
  await expect(page.getByText('inverted').first()).toBeVisible();
  // Each takes its own step back; what the other stands on is told.
  for (const step of ['Close curve', 'Add point', 'Add point', 'Begin curve']) await page.getByRole('button', { name: `Undo: ${step}` }).click();
  await expect(page.getByText(/"Begin curve" cannot be taken back: "Invert", which another page did since/)).toBeVisible();
  await other.getByRole('button', { name: 'Undo: Invert' }).click();
  await expect(page.getByText('inverted')).toHaveCount(0);
});

test('while the server is away, work goes on, is kept over a reload, and is sent when it is back', async ({ page, context }) => {
  await freshShot(page, 'empty-quay.mp4', 'Away');
  const away = (route: { abort(): Promise<void> }) => route.abort();
  await context.route('**/changes**', away);
  await drawPolygon(page, TRIANGLE).catch(() => {});
  await expect(page.getByLabel('Saving')).toHaveText(/^\s*Offline, \d+ kept here$/);
  await expect(page.getByText('Spline 1').first()).toBeVisible();
  // The page itself can still be had, the changes cannot: they come from the browser's own keeping.
  await page.reload();
  await expect(page.getByText('Spline 1').first()).toBeVisible();
  await expect(page.getByLabel('Saving')).toHaveText(/^\s*Offline, \d+ kept here$/);
  await context.unroute('**/changes**', away);
  await settled(page);
  await page.evaluate(() => localStorage.clear());
  await page.reload();
  await expect(page.getByText('Spline 1').first()).toBeVisible();
});

test('what the viewer shows as matte is what is written, byte for byte', async ({ page }) => {
  await page.setViewportSize({ width: 1720, height: 960 });
  await freshShot(page, 'courier-on-the-quay.mp4', 'Same bytes');
  await drawPolygon(page, TRIANGLE);
  await page.getByRole('link', { name: 'Edge', exact: true }).click();
  const field = page.getByRole('textbox', { name: 'Feather in', exact: true });
  await field.fill('7');
  await field.press('Enter');
  await settled(page);
  await goToFrame(page, 7);
  await page.keyboard.press('Escape');
  await viewer(page).focus();
  await page.keyboard.press('3');
  await page.keyboard.press('o');
  await page.getByRole('button', { name: /^Zoom/ }).click();
  const look = () =>
    page.locator('[data-picture]').evaluate((canvas: HTMLCanvasElement) => {
      const left = Math.round((canvas.width - 960) / 2);
      const top = Math.round((canvas.height - 540) / 2);
      const context = canvas.getContext('2d') as CanvasRenderingContext2D;
      // The place is rounded to pixels, so the corner is one of a few.
      const { data } = context.getImageData(left - 2, top - 2, 964, 544);
      return Array.from({ length: 964 * 544 }, (_, i) => data[4 * i]);
    });
  // The full size comes a little after the proxy.
  await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(() => requestAnimationFrame(done)))));
  await expect(page.locator('[data-picture]')).toHaveAttribute('data-shown', 'whole');
  const shown = await look();
  const { folder, files } = await writeOutput(page, 'Matte, PNG sequence', [7, 7]);
  const written = matteBytes(path.join(folder, files[0]));
  let best = Number.POSITIVE_INFINITY;
  for (let dy = 0; dy <= 4; dy++)
    for (let dx = 0; dx <= 4; dx++) {
      let wrong = 0;
      for (let y = 0; y < 540; y++) for (let x = 0; x < 960; x++) if (shown[(y + dy) * 964 + x + dx] !== Math.round(written[y * 960 + x])) wrong++;
      best = Math.min(best, wrong);
    }
  expect(best).toBe(0);
});

test('a damaged sequence: it is said which pictures cannot be used, what is seen there is chosen, and it is marked where it is worked on', async ({ page }) => {
  await page.goto(address());
  const dir = temporary();
  ffmpeg('-f', 'lavfi', '-i', 'testsrc=s=320x180:r=24:d=1', '-frames:v', '6', '-start_number', '101', path.join(dir, 'surf.%03d.png'));
  const cut = path.join(dir, 'surf.103.png');
  writeFileSync(cut, readFileSync(cut).subarray(0, 900));
  const files = [101, 102, 103, 104, 106].map((n) => path.join(dir, `surf.${n}.png`));
  await page.getByLabel('Footage files').setInputFiles(files);
  // The production opens, as there is something to decide.
  await expect(page.getByText('2 of 6 pictures cannot be used: 103 is cut off; 105 is missing.', { exact: false })).toBeVisible({ timeout: 30_000 });
  await page.getByRole('list', { name: 'Shots' }).getByRole('button', { name: 'Hold the one before' }).click();
  await page.getByRole('link', { name: 'surf' }).click({ timeout: 30_000 });
  await settled(page);
  await expect(page.locator('[data-damaged]')).toHaveCount(2);
  const told = page.getByText('of the footage', { exact: false });
  await goToFrame(page, 103);
  await expect(told).toHaveText('Frame 103 of the footage is cut off: this is what was chosen to be seen instead.');
  await page.keyboard.press('.');
  await expect(told).toBeHidden();
});

test('footage: refusals in words, a sequence, renaming, deleting and bringing back', async ({ page }) => {
  await freshShot(page, 'empty-quay.mp4', 'Footage');
  await page.goBack();
  const dir = temporary();
  write(path.join(dir, 'letter.txt'), 'Dear harbour master');
  ffmpeg('-f', 'lavfi', '-i', 'testsrc=s=120x80:r=24:d=1', '-frames:v', '3', '-start_number', '7', path.join(dir, 'tide.%03d.png'));
  const input = page.getByLabel('Footage files');
  await input.setInputFiles(path.join(dir, 'letter.txt'));
  await expect(page.getByText('"letter.txt" cannot be read as a picture or video.', { exact: false })).toBeVisible();
  await input.setInputFiles([7, 8, 9].map((n) => path.join(dir, `tide.00${n}.png`)));
  await expect(page.getByRole('link', { name: 'tide' })).toBeVisible({ timeout: 30_000 });
  await page.getByRole('button', { name: 'More for tide' }).click();
  await page.getByRole('menuitem', { name: /Rename/ }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Tide water');
  await page.getByRole('button', { name: 'Rename' }).click();
  await expect(page.getByRole('link', { name: 'Tide water' })).toBeVisible();
  await page.getByRole('button', { name: 'More for Tide water' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(page.getByRole('link', { name: 'Tide water' })).toBeHidden();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('link', { name: 'Tide water' })).toBeVisible();
  await page.getByRole('link', { name: 'Tide water' }).click();
  await expect(page.getByLabel('Frame', { exact: true })).toHaveValue('7');
});

test('plays at the true rate both ways, and drops nothing that is there', async ({ page }) => {
  await freshShot(page, 'courier-on-the-quay.mp4', 'Playing');
  await page.keyboard.press('1');
  const frame = () => page.getByLabel('Frame', { exact: true }).inputValue().then(Number);
  const whole = () => expect(page.locator('[data-picture]')).toHaveAttribute('data-shown', 'whole');
  // Once through, so that every frame is there.
  for (let f = 0; f < 84; f++) {
    await page.keyboard.press('.');
    await expect(page.getByLabel('Frame', { exact: true })).toHaveValue(String(Math.min(83, f + 1)));
    await whole();
  }
  await page.keyboard.press('Home');
  await whole();
  // The page's time goes as it is told from here on, however fast this machine is: a second and a half are 36 frames.
  await page.clock.install();
  await page.clock.pauseAt(Date.now() + 60_000);
  await page.keyboard.press('Space');
  await page.clock.runFor(1500);
  const on = await frame();
  expect(Math.abs(on - 36)).toBeLessThanOrEqual(1);
  await page.keyboard.press('Shift+Space');
  await page.clock.runFor(500);
  const back = await frame();
  expect(Math.abs(on - 12 - back)).toBeLessThanOrEqual(1);
  await page.keyboard.press('Shift+Space');
  await page.clock.runFor(300);
  expect(await frame()).toBe(back);
  await expect(page.getByText(/not shown in time/)).toHaveCount(0);
});

test('the address keeps frame, view, subject and bench', async ({ page }) => {
  await freshShot(page, 'empty-quay.mp4', 'Address');
  await drawPolygon(page, TRIANGLE);
  await goToFrame(page, 13);
  const edge = page.getByRole('link', { name: 'Edge', exact: true });
  await edge.click();
  await expect(edge).toHaveAttribute('aria-current', 'page');
  await page.getByRole('radio', { name: 'Cut-out' }).click();
  await expect(page).toHaveURL(/\/edge\?frame=13&view=cutout&subject=/);
  await page.goto(page.url());
  await expect(page.getByLabel('Frame', { exact: true })).toHaveValue('13');
  await expect(page.getByRole('radio', { name: 'Cut-out' })).toHaveAttribute('data-state', 'on');
  expect((await page.request.get(`${address()}/shots/nowhere`)).status()).toBe(404);
});

test('a page opens at its top, and one that is come back to where it was', async ({ page }) => {
  await page.goto(`${address()}/help`);
  await page.getByRole('link', { name: 'Effects and elements' }).click();
  const heading = page.getByRole('heading', { level: 1 });
  await expect(heading).toHaveText('Effects and elements');
  await page.mouse.move(600, 400);
  await page.mouse.wheel(0, 3000);
  await expect(heading).not.toBeInViewport();
  await page.getByRole('navigation', { name: 'Where you are' }).getByRole('link', { name: 'Help' }).click();
  await expect(heading).toHaveText('Help');
  await expect(heading).toBeInViewport();
  await page.goBack();
  await expect(heading).toHaveText('Effects and elements');
  await expect(heading).not.toBeInViewport();
});

test('another take goes under the work: two shots swap their footage, an open page follows, and swapping again takes it back', async ({ page, context }) => {
  await freshShot(page, 'courier-on-the-quay.mp4', 'A better take');
  await drawBox(page, 400, 200, 600, 400);
  const production = page.getByRole('link', { name: 'A better take' });
  await production.click();
  await page.getByLabel('Footage files').setInputFiles(path.join('demo', 'clips', 'courier-second-take.mp4'));
  const shots = page.getByRole('list', { name: 'Shots' });
  await expect(shots.getByRole('link', { name: 'courier-second-take' })).toBeVisible({ timeout: 60_000 });
  const open = await context.newPage();
  await open.goto(await shots.getByRole('link', { name: 'courier-on-the-quay' }).evaluate((a: HTMLAnchorElement) => a.href));
  await settled(open);
  await expect(open.getByText('/ 83')).toBeVisible();

  await page.getByRole('button', { name: 'More for courier-on-the-quay' }).click();
  await page.getByRole('menuitem', { name: 'Swap footage …' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('button', { name: 'Swap', exact: true })).toBeDisabled();
  await dialog.getByRole('radio', { name: /courier-second-take/ }).check();
  await dialog.getByRole('button', { name: 'Swap', exact: true }).click();
  await expect(shots.getByRole('listitem').filter({ hasText: '1 subject' })).toContainText('courier-second-take.mp4');
  // The page that was open shows the other take, with what was drawn.
  await expect(open.getByText('/ 59')).toBeVisible();
  await expect(open.getByText('Curve 1')).toContainText('4 points, 1 key');

  await page.getByRole('button', { name: 'More for courier-second-take' }).click();
  await page.getByRole('menuitem', { name: 'Swap footage …' }).click();
  await page.keyboard.press('Escape');
  await expect(dialog).toBeHidden();
  await page.getByRole('button', { name: 'More for courier-second-take' }).click();
  await page.getByRole('menuitem', { name: 'Swap footage …' }).click();
  await dialog.getByRole('radio', { name: /courier-on-the-quay/ }).check();
  await dialog.getByRole('button', { name: 'Swap', exact: true }).click();
  await expect(shots.getByRole('listitem').filter({ hasText: '1 subject' })).toContainText('courier-on-the-quay.mp4');
  await expect(open.getByText('/ 83')).toBeVisible();
});

test('frames are built anew under an open page: it says so, and opens by itself with the work in it', async ({ page, context }) => {
  await freshShot(page, 'dune-kite.mp4', 'Frames anew');
  await drawBox(page, 400, 200, 600, 400);
  const other = await context.newPage();
  await other.goto(address());
  await other.getByRole('link', { name: 'Frames anew', exact: true }).last().click();
  await other.getByRole('button', { name: 'More for dune-kite' }).click();
  await other.getByRole('menuitem', { name: 'Build its frames anew' }).click();
  await expect(page.getByRole('heading', { name: 'This shot is not ready yet' })).toBeVisible();
  await expect(page.getByText('Curve 1')).toContainText('4 points, 1 key');
  await settled(page);
  await expect(page.locator('[data-picture]')).toHaveAttribute('data-shown', 'whole');
});
