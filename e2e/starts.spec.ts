/** Starts, before and after, and items stretched over other frames: on footage of nobody's, by pointer and keyboard. */
import { expect, test } from '@playwright/test';
import { addTo, apart, bench, footage, goTo, Hand } from './hand.ts';
import { BODY, mark, onThing, openFirstOf, written } from './job-work.ts';

const lanes = (hand: Hand) => hand.page.getByRole('region', { name: 'Lanes' });

test("a start lays out a usual job, says what to do next, and is taken back by one undo; a lane is kept as a start of one's own", async ({ page }) => {
  const hand = new Hand(page);
  await openFirstOf(hand, footage().walker, footage().other);
  await hand.isolate();
  await bench(hand, 'Compose');
  await hand.click('Starts');
  // Found by what it does.
  await hand.type('fade in and out behind');
  await page.keyboard.press('Enter');
  const asking = page.getByRole('dialog', { name: 'Title behind' });
  await hand.click(asking.getByLabel('Words'));
  await hand.type('Tide');
  await hand.press('Enter');
  await hand.saved();
  await expect(lanes(hand).getByText('Title 1')).toBeVisible();
  await expect(page.getByRole('region', { name: 'Next with Title behind' }).getByRole('listitem')).toHaveCount(3);
  // One that needs footage says so, and cannot be laid out without.
  await hand.click('Starts');
  await hand.type('wiped by a');
  await page.keyboard.press('Enter');
  const wiped = page.getByRole('dialog', { name: 'Wiped by a passer-by' });
  await expect(wiped.getByText('It needs footage.')).toBeVisible();
  await expect(wiped.getByRole('button', { name: 'Lay out' })).toBeDisabled();
  await hand.choose('Footage', /meadow/i);
  await hand.click(wiped.getByRole('button', { name: 'Lay out' }));
  await hand.saved();
  await expect(lanes(hand).getByText('Wipe 1')).toBeVisible();
  await hand.click('Undo: Start: Wiped by a passer-by');
  await hand.saved();
  await expect(lanes(hand).getByText('Wipe 1')).toBeHidden();
  // Kept, and laid out on the other shot, which has a subject of its own.
  await hand.click('More for behind Subject 1');
  await hand.click(page.getByRole('menuitem', { name: /^Keep what is in this lane as a start/ }));
  await hand.type('Our title');
  await hand.press('Enter');
  await expect(page.getByText('Our title is among your starts')).toBeVisible();
  const pixel = await written(hand, page);
  // Words behind: the thing covers them, and beside it there is something as light as they are.
  expect(apart(pixel(...onThing(12, 35, 12)), BODY)).toBeLessThan(45);
  await hand.press('Control+k');
  await hand.type('Shot meadow');
  await page.keyboard.press('Enter');
  await expect(page).toHaveTitle(/meadow/);
  await hand.saved();
  await bench(hand, 'Isolate');
  await hand.click('Add a subject');
  await hand.saved();
  await bench(hand, 'Compose');
  await hand.click('Starts');
  await hand.type('our title');
  await page.keyboard.press('Enter');
  await hand.click(page.getByRole('dialog', { name: 'Our title' }).getByRole('button', { name: 'Lay out' }));
  await hand.saved();
  await expect(lanes(hand).getByText('Title 1')).toBeVisible();
});

test('before and after of one item and of a lane; an item is stretched over other frames with its keys', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await bench(hand, 'Compose');
  await addTo(hand, 'to front', /^Solid/);
  await addTo(hand, 'to front', /^Title/);
  await lanes(hand).getByText('Title 1').hover();
  await hand.click('Show without Title 1');
  await expect(lanes(hand).getByText('Shown without Title 1; outputs have it.')).toBeVisible();
  await hand.click('Show it');
  await expect(lanes(hand).getByText(/^Shown without/)).toBeHidden();
  await hand.click('More for front');
  await hand.click(page.getByRole('menuitem', { name: 'Show the picture without this lane' }));
  await expect(lanes(hand).getByText('Shown without 2 things; outputs have them.')).toBeVisible();
  // The document is as it was: nothing to take back but what was added.
  await expect(page.getByRole('button', { name: 'Undo: Add title' })).toBeVisible();
  await hand.click('Show them');
  // Keys on frames 0 and 10, laid over 2 to 22.
  await hand.click(lanes(hand).getByText('Title 1'));
  await hand.click('Let turn change over time: key it on this frame');
  await goTo(hand, 10);
  await hand.number('Turn', 40);
  await mark(hand, 2, 22);
  await hand.click('Stretch to it');
  await hand.saved();
  await goTo(hand, 22);
  await expect(page.getByRole('textbox', { name: 'Turn', exact: true })).toHaveValue(/^40/);
  await goTo(hand, 12);
  await expect(page.getByRole('textbox', { name: 'Turn', exact: true })).toHaveValue(/^20/);
  await hand.click('Undo: Stretch over frames');
  await hand.saved();
  await goTo(hand, 10);
  await expect(page.getByRole('textbox', { name: 'Turn', exact: true })).toHaveValue(/^40/);
});

test('lines of an element, drawn free in the picture, are in what is written, and lead nowhere into the cast', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await bench(hand, 'Compose');
  await addTo(hand, 'to front', /^Line/);
  await hand.click('Draw it by hand');
  await hand.drag([
    [60, 30],
    [160, 34],
    [260, 30],
  ]);
  await hand.saved();
  await hand.drag([
    [60, 160],
    [260, 160],
  ]);
  await hand.saved();
  await expect(page.getByText('2 lines', { exact: true })).toBeVisible();
  await hand.press('Control+z');
  await expect(page.getByText('one line', { exact: true })).toBeVisible();
  await hand.saved();
  const pixel = await written(hand, page);
  expect(Math.max(...pixel(12, 160, 34))).toBeGreaterThan(180);
  expect(Math.max(...pixel(12, 160, 160))).toBeLessThan(150);
  await bench(hand, 'Isolate');
  await expect(page.getByRole('region', { name: 'Cast' }).getByText(/^No subject yet/)).toBeVisible();
});

test('a patch is painted over the thing with a brush, from a frame on which it is elsewhere', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await bench(hand, 'Compose');
  await goTo(hand, 18);
  await addTo(hand, 'to front', /^Patch/);
  await hand.number('Brush', 24);
  await hand.number('Softness', 0);
  await hand.click('Draw it by hand');
  // A press is a dab, a drag a stroke; the frame it shows is the first one.
  const [, x, y] = onThing(18, 35, 12);
  await hand.clickAt(x, y);
  await hand.saved();
  await expect(page.getByText('one line', { exact: true })).toBeVisible();
  const pixel = await written(hand, page);
  expect(apart(pixel(...onThing(18, 35, 12)), BODY)).toBeGreaterThan(60);
  expect(apart(pixel(...onThing(18, 35, 40)), BODY)).toBeLessThan(45);
});
