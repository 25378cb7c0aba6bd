/** The first hour of somebody who has never seen the program: the way in, and what must not go wrong on it. */
import { mkdtempSync, readFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import { ffprobe } from '../tests/services.ts';
import { apart, FRAMES, footage, Hand, leftOn, SIDE, TOP, WIDTH } from './hand.ts';
import { told } from './jobs-told.ts';
import { paint } from './peel-work.ts';
import { address, drag, placeIn } from './workbench.ts';

/** Of the thing that moves: its body. */
const BODY = [217, 139, 43];

test('a title behind a moving subject in footage of one’s own, from nothing to the written picture, in at most twenty actions', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await hand.isolate();
  await hand.next('Soften the edge');
  await expect(page.getByRole('textbox', { name: 'Feather out', exact: true })).toBeFocused();
  await hand.type('1');
  await page.keyboard.press('Enter');
  await hand.next('Put something behind it');
  await hand.click(page.getByRole('option', { name: /^Title/ }));
  await hand.click(page.getByRole('textbox', { name: 'Words' }));
  await page.keyboard.press('Control+a');
  await hand.type('TIDE');
  await page.keyboard.press('Control+Enter');
  await hand.saved();
  await hand.next('Write');
  const pixel = await hand.write('Composed, H.264');
  expect(hand.actions).toBeLessThanOrEqual(20);
  expect(hand.actions).toBe(told(17));
  // On the middle frame the thing stands before the words: it is whole, and the words are beside it.
  const frame = 12;
  const left = leftOn(frame);
  expect(apart(pixel(frame, left + 60, TOP + 12), BODY)).toBeLessThan(40);
  const bright = (x: number, y: number) => Math.min(...pixel(frame, x, y)) > 170;
  let [within, beside] = [0, 0];
  for (let y = 50; y < 130; y++)
    for (let x = 0; x < WIDTH; x++) {
      if (!bright(x, y)) continue;
      // The pale patch on the thing itself is bright as well.
      const onThing = x > left + 3 && x < left + SIDE - 3 && y > TOP + 3 && y < TOP + 44;
      if (onThing) within++;
      else if (x < left - 3 || x > left + SIDE + 3) beside++;
    }
  expect(within).toBe(0);
  expect(beside).toBeGreaterThan(300);
});

test('the way of the README, word by word, on a clip of the demo film', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith('demo/clips/dune-kite.mp4');
  await hand.next('Paint the subject');
  const place = await placeIn(page);
  for (const line of [
    [place(310, 190), place(350, 188)],
    [place(322, 165), place(338, 245)],
  ])
    await drag(page, line[0], line[1]);
  await page.keyboard.down('Alt');
  await drag(page, place(220, 120), place(230, 320));
  await drag(page, place(230, 320), place(430, 300));
  await drag(page, place(430, 110), place(230, 100));
  await page.keyboard.up('Alt');
  await hand.saved();
  await hand.next(/^Carry through 60 frames \(about /);
  await expect(page.getByText('60 of 60 frames found')).toBeVisible({ timeout: 180_000 });
  await hand.next('Soften the edge');
  await expect(page.getByRole('textbox', { name: 'Feather out', exact: true })).toBeFocused();
  await hand.type('2');
  await page.keyboard.press('Enter');
  // To the worst frame, which is approved; then enough of it.
  const review = page.getByRole('region', { name: 'Next step' }).getByRole('button', { name: /^Review/ });
  if (await review.isVisible()) {
    await hand.click(review);
    await expect(page.getByLabel('Frame', { exact: true })).not.toHaveValue('0');
    await hand.press('v');
    await expect(page.getByRole('button', { name: 'Undo: Approve' })).toBeVisible();
    if (await review.isVisible()) await hand.click('Not now');
  }
  await hand.next('Put something behind it');
  await hand.click(page.getByRole('option', { name: /^Title/ }));
  await hand.click(page.getByRole('textbox', { name: 'Words' }));
  await page.keyboard.press('Control+a');
  await hand.type('KITE');
  await page.keyboard.press('Control+Enter');
  await hand.saved();
  await drag(page, place(480, 270), place(480, 200));
  await hand.saved();
  await hand.next('Write');
  await expect(page.getByRole('combobox', { name: 'What' })).toContainText('Composed, H.264');
  await hand.click(page.getByRole('region', { name: 'Output' }).getByRole('button', { name: 'Write 60 frames' }));
  const fetch = page.getByRole('link', { name: 'Fetch', exact: true });
  await expect(fetch).toBeVisible({ timeout: 180_000 });
  const [download] = await Promise.all([page.waitForEvent('download'), fetch.click()]);
  expect(ffprobe(await download.path())).toMatchObject({ frames: 60, stream: { width: 960, height: 540 } });
});

test('a click leaves a dot that is seen, and Ctrl Enter right after it carries and paints nothing', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await hand.next('Paint the subject');
  const colour = async (x: number, y: number) => {
    const [px, py] = await hand.at(x, y);
    const shot = await page.screenshot({ clip: { x: Math.round(px), y: Math.round(py), width: 1, height: 1 } });
    return page.evaluate(
      async (bytes) => {
        const bitmap = await createImageBitmap(new Blob([Uint8Array.from(bytes)], { type: 'image/png' }));
        const context = new OffscreenCanvas(1, 1).getContext('2d') as OffscreenCanvasRenderingContext2D;
        context.drawImage(bitmap, 0, 0);
        return [...context.getImageData(0, 0, 1, 1).data].slice(0, 3);
      },
      [...shot],
    );
  };
  const [x, y] = [leftOn(0) + 20, TOP + 12];
  const before = await colour(x, y);
  await hand.clickAt(x, y);
  await hand.saved();
  // The pointer is away from it, so that neither it nor its notes are what is seen.
  await page.mouse.move(...(await hand.at(300, 170)));
  await expect.poll(async () => apart(await colour(x, y), before)).toBeGreaterThan(25);
  await hand.clickAt(leftOn(0) + 40, TOP + 31);
  await hand.saved();
  const strokes = page.getByRole('region', { name: 'Strokes' }).getByRole('listitem');
  await expect(strokes).toHaveCount(2);
  await hand.press('Control+Enter');
  await expect(page.getByText(`${FRAMES} of ${FRAMES} frames found`)).toBeVisible({ timeout: 90_000 });
  await expect(strokes).toHaveCount(2);
});

test('a carry that is asked for while the last stroke is on its way to the server carries that stroke too', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await hand.next('Paint the subject');
  const left = leftOn(0);
  for (const y of [10, 31, 55])
    await hand.drag([
      [left + 10, TOP + y],
      [left + 60, TOP + y],
    ]);
  await hand.saved();
  await page.route(/\/changes$/, async (route) => {
    await new Promise((next) => setTimeout(next, 3000));
    await route.continue();
  });
  await hand.drag(
    [
      [6, 20],
      [200, 30],
      [300, 150],
    ],
    'Alt',
  );
  await hand.next(/^Carry through/);
  await expect(page.getByText(`${FRAMES} of ${FRAMES} frames found`)).toBeVisible({ timeout: 90_000 });
});

test('a carry is one work with one bar, which tells its frames and the time left', async ({ page }) => {
  const hand = new Hand(page);
  // Long enough to be looked at while it goes on.
  await hand.openWith(path.join('demo', 'clips', 'courier-on-the-quay.mp4'));
  await hand.click(page.getByLabel('Frame', { exact: true }));
  await hand.press('Control+a');
  await hand.type('12');
  await hand.press('Enter');
  await hand.click(page.getByRole('radio', { name: 'Brush of Peel' }));
  await paint(page, [
    [300, 200],
    [340, 200],
  ]);
  await hand.saved();
  await hand.press('Control+Enter');
  const carry = page.getByRole('region', { name: 'Carry' });
  await expect(carry.getByText(/^\d+ of 84 frames, \d+ (s|min) left$/)).toBeVisible({ timeout: 30_000 });
  await expect(carry.getByRole('progressbar')).toHaveCount(1);
  await expect(page.locator('[data-running-work]')).toHaveText(/^\s*1 running/);
  // It moves on, both ways in one count.
  await expect(carry.getByText(/^[1-9]\d* of 84 frames, \d+ (s|min) left$/)).toBeVisible({ timeout: 60_000 });
  await expect(carry.getByRole('progressbar')).toHaveCount(1);
  await hand.click(carry.getByRole('button', { name: 'Cancel' }));
  await expect(carry.getByRole('progressbar')).toHaveCount(0);
});

test('a key pressed in the middle of a stroke takes nothing away from it', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await hand.next('Paint the subject');
  await page.mouse.move(...(await hand.at(40, 80)));
  await page.mouse.down();
  await page.mouse.move(...(await hand.at(60, 80)), { steps: 4 });
  for (const key of ['d', 'Control+z', 'PageDown']) await page.keyboard.press(key);
  await page.mouse.move(...(await hand.at(80, 80)), { steps: 4 });
  await page.mouse.up();
  await expect(page.getByText(/^Keep, frame 0/)).toHaveCount(1);
  await expect(page.getByRole('radio', { name: 'Brush of Peel' })).toBeChecked();
  await expect(page.getByLabel('Frame', { exact: true })).toHaveValue('0');
  // Once it is let go of, keys are commands again.
  await page.keyboard.press('Control+z');
  await expect(page.getByText(/^Keep, frame 0/)).toHaveCount(0);
});

test('tools belong to benches: with the brush in hand, nothing is painted on Compose, and each bench has its own tool again', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await hand.next('Paint the subject');
  await hand.clickAt(leftOn(0) + 20, TOP + 12);
  await hand.saved();
  await page.getByRole('link', { name: 'Compose', exact: true }).click();
  await expect(page.getByRole('radio', { name: 'Place elements' })).toHaveAttribute('aria-checked', 'true');
  await expect(page.getByRole('radio', { name: 'Brush of Peel' })).toHaveCount(0);
  await hand.drag([
    [100, 60],
    [200, 90],
  ]);
  await hand.press('z');
  await expect(page.getByText('This tool belongs to Isolate and Edge.')).toBeVisible();
  await hand.drag([
    [100, 60],
    [200, 90],
  ]);
  await page.getByRole('link', { name: 'Isolate', exact: true }).click();
  await expect(page.getByRole('radio', { name: 'Brush of Peel' })).toHaveAttribute('aria-checked', 'true');
  await expect(page.getByRole('radio', { name: 'Place elements' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Peel', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Strokes' }).getByRole('listitem')).toHaveCount(1);
});

test('a shot opens where it was left, and the demo where there is something to see', async ({ page }) => {
  await page.goto(address());
  await page.getByRole('link', { name: 'Low Tide Post' }).click();
  await page.getByRole('list', { name: 'Shots' }).getByRole('link', { name: 'Courier on the quay' }).click();
  await expect(page.getByLabel('Frame', { exact: true })).toHaveValue('40');
  await expect(page.getByText('Painted and found on this frame.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Nothing to undo' })).toBeDisabled();
  await page.getByRole('link', { name: 'Compose', exact: true }).click();
  await page.getByRole('button', { name: 'Title 1', exact: true }).click();
  await page.keyboard.press('PageDown');
  await expect(page).toHaveURL(/compose\?frame=41/);
  await page.getByRole('link', { name: 'Low Tide Post' }).click();
  await page.getByRole('list', { name: 'Shots' }).getByRole('link', { name: 'Courier on the quay' }).click();
  await expect(page).toHaveURL(/\/compose\?frame=41/);
  await expect(page.getByRole('heading', { name: 'Settings: Title 1' })).toBeVisible();
});

test('the list of commands goes anywhere by name, and says why something cannot be used now', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await hand.press('Control+k');
  const list = page.getByRole('dialog', { name: 'Commands' });
  await hand.type('carry the peel');
  await expect(list.getByRole('option', { name: /Carry the Peel/ })).toHaveAttribute('aria-disabled', 'true');
  await expect(list.getByText('there is no Peel here yet', { exact: false })).toBeVisible();
  await page.keyboard.press('Control+a');
  await hand.type('17');
  await hand.press('Enter');
  await expect(page.getByLabel('Frame', { exact: true })).toHaveValue('17');
  // From a field as well.
  await page.getByLabel('Frame', { exact: true }).click();
  await hand.press('Control+k');
  await hand.type('add card');
  await hand.press('Enter');
  await expect(page.getByRole('heading', { name: 'Settings: Card 1' })).toBeVisible();
  await hand.press('Control+k');
  await hand.type('set softness');
  await hand.press('Enter');
  await expect(page.getByRole('textbox', { name: 'Softness', exact: true })).toBeFocused();
});

test('keys are changed, clashes are told, and they are written out and read in', async ({ page }) => {
  await page.goto(`${address()}/shortcuts`);
  await page.getByRole('button', { name: /^Keys of "Matte": 3/ }).click();
  await page.keyboard.press('x');
  await expect(page.getByRole('button', { name: /^Keys of "Matte": X/ })).toBeVisible();
  await page.getByRole('button', { name: /^Keys of "Tint": 2/ }).click();
  await page.keyboard.press('z');
  await expect(page.getByRole('alert')).toContainText('Z is taken by "Tool: brush of Peel"');
  await page.getByRole('button', { name: 'Take it from there' }).click();
  await expect(page.getByRole('button', { name: /^Keys of "Tool: brush of Peel": none/ })).toBeVisible();
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Write out' }).click()]);
  const file = path.join(mkdtempSync(path.join(os.tmpdir(), 'mottrel-keys-')), 'keys.json');
  await download.saveAs(file);
  expect(JSON.parse(readFileSync(file, 'utf8'))).toMatchObject({ format: 'mottrel-keys', keys: { matte: ['x'], tint: ['z'], brush: [] } });
  await page.reload();
  await expect(page.getByRole('button', { name: /^Keys of "Tint": Z/ })).toBeVisible();
  await page.getByRole('button', { name: 'All as they came' }).click();
  await expect(page.getByRole('button', { name: /^Keys of "Tint": 2/ })).toBeVisible();
  await page.getByLabel('File of shortcuts').setInputFiles(file);
  await expect(page.getByRole('button', { name: /^Keys of "Tint": Z/ })).toBeVisible();
  // They hold in a shot, and tooltips tell them.
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await hand.press('z');
  await expect(page.getByRole('radio', { name: 'Tint' })).toHaveAttribute('aria-checked', 'true');
  await hand.press('x');
  await expect(page.getByRole('radio', { name: 'Matte' })).toHaveAttribute('aria-checked', 'true');
  await page.getByRole('radio', { name: 'Matte' }).hover();
  await expect(page.getByRole('tooltip')).toContainText('X');
});

test('help is about what is in hand, and is searched', async ({ page, context }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await hand.next('Paint the subject');
  const [help] = await Promise.all([context.waitForEvent('page'), hand.press('Shift+?')]);
  await expect(help).toHaveURL(/\/help\/by-strokes#painting$/);
  await expect(help.getByRole('heading', { name: 'Painting' })).toBeInViewport();
  await help.getByRole('link', { name: 'Help' }).first().click();
  await help.getByLabel('Search the help').fill('halo rim');
  await help.getByRole('link', { name: 'The edge' }).click();
  await expect(help.getByRole('heading', { name: 'The edge' })).toBeInViewport();
});

test('what has no effect says so on every bench, where it is', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await page.getByRole('button', { name: 'Draw round it' }).click();
  for (const [x, y] of [
    [40, 60],
    [120, 60],
    [120, 130],
  ])
    await hand.clickAt(x, y);
  await hand.saved();
  await expect(page.getByRole('region', { name: 'Cast' }).getByText('its curve is open and masks nothing: close it')).toBeVisible();
  for (const bench of ['Edge', 'Compose', 'Output']) {
    await page.getByRole('link', { name: bench, exact: true }).click();
    await expect(page.getByRole('button', { name: 'One thing has no effect' })).toBeVisible();
  }
  await page.getByRole('link', { name: 'Compose', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Lanes' }).getByText('its curve is open and masks nothing: close it', { exact: false })).toBeVisible();
  await hand.next('Close the curve');
  await expect(page.getByRole('button', { name: 'One thing has no effect' })).toBeHidden();
  // Covered by a card in front of all, the one behind says so.
  const add = async (lane: string, kind: string) => {
    await page.getByRole('button', { name: `Add ${lane}` }).click();
    await page.getByRole('option', { name: kind }).click();
    await hand.saved();
  };
  await add('behind Subject 1', 'Card');
  await add('to front', 'Solid');
  await expect(page.getByText('not seen on any frame that was looked at: what lies nearer covers it')).toBeVisible();
});

test('while a picture is being made the viewer says so, and what for', async ({ page }) => {
  await page.goto(address());
  await page.getByRole('link', { name: 'Low Tide Post' }).click();
  await page.getByRole('list', { name: 'Shots' }).getByRole('link', { name: 'Storm lantern' }).click();
  await page.getByRole('link', { name: 'Compose', exact: true }).click();
  const hand = new Hand(page);
  await hand.saved();
  const note = page.getByRole('status', { name: 'What the picture waits for' });
  await expect(note).toBeHidden({ timeout: 30_000 });
  // The frames come only when the test lets them.
  let open = () => {};
  const gate = new Promise<void>((resolve) => {
    open = resolve;
  });
  await page.route('**/proxy/5*', async (route) => {
    await gate;
    await route.continue().catch(() => {});
  });
  await page.getByLabel('Frame', { exact: true }).click();
  await page.keyboard.press('Control+a');
  await hand.type('57');
  await expect(note).toContainText('Not yet this frame');
  await expect(note.getByRole('progressbar')).toBeVisible();
  open();
  await expect(note).toBeHidden({ timeout: 30_000 });
});

test('at twice the size of everything, and on a small screen, nothing is out of reach', async ({ page }) => {
  // A browser at 200 % on 1280x800 lays out 640x400.
  await page.setViewportSize({ width: 640, height: 400 });
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  for (const name of ['Isolate', 'Edge', 'Compose', 'Output']) await expect(page.getByRole('link', { name, exact: true })).toBeInViewport();
  const next = page.getByRole('region', { name: 'Next step' }).getByRole('button', { name: 'Paint the subject' });
  await next.scrollIntoViewIfNeeded();
  await expect(next).toBeInViewport();
  await hand.click(next);
  await page.locator('[data-viewer]').scrollIntoViewIfNeeded();
  const box = await page.locator('[data-viewer]').boundingBox();
  expect(box && box.width > 200 && box.height > 120).toBe(true);
  await hand.clickAt(leftOn(0) + 20, TOP + 12);
  await hand.saved();
  await page.getByLabel('Frame', { exact: true }).scrollIntoViewIfNeeded();
  await expect(page.getByLabel('Frame', { exact: true })).toBeInViewport();
});

test('at 1280 by 800 the picture has three fifths of the width with both side panels open, and panels keep their size', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  const [left] = await hand.at(0, 0);
  const [right] = await hand.at(WIDTH, 0);
  expect(right - left).toBeGreaterThanOrEqual(0.6 * 1280);
  // Wider by hand, and still so after a reload.
  // The one that stands upright, at the right of the left panel.
  const grip = page.locator('main > div > [role=separator]').first();
  const cast = page.getByRole('region', { name: 'Cast' });
  // Panels take their widths once the page is there.
  const asked = { box: await grip.boundingBox() };
  await expect
    .poll(async () => {
      const before = asked.box;
      asked.box = await grip.boundingBox();
      return asked.box?.x === before?.x;
    })
    .toBe(true);
  const { box } = asked;
  if (!box) throw new Error('There is no grip.');
  await page.mouse.move(box.x + 2, box.y + 300);
  await page.mouse.down();
  await page.mouse.move(box.x + 82, box.y + 300, { steps: 5 });
  await page.mouse.up();
  const wide = (await cast.boundingBox())?.width ?? 0;
  expect(wide).toBeGreaterThan(300);
  await page.reload();
  await hand.saved();
  await expect.poll(async () => Math.abs(((await cast.boundingBox())?.width ?? 0) - wide)).toBeLessThan(6);
});
