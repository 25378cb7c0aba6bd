/** Pictures that are made once: the Ribbon shows which are ready, and they come back after an undo and after a reload. */
import { expect, type Page, test } from '@playwright/test';
import { addTo, bench, FRAMES, footage, Hand } from './hand.ts';

const ready = (page: Page) => page.locator('[data-ready]').evaluateAll((marks) => marks.map((m) => (m as HTMLElement).dataset.ready));
const ALL = [`0-${FRAMES - 1}`];

/** Plays until pictures of all frames are ready. */
async function playThrough(hand: Hand): Promise<void> {
  await hand.press('Space');
  await expect.poll(() => ready(hand.page), { timeout: 90_000 }).toEqual(ALL);
  await hand.press('Space');
}

test('what was played is ready, is there again after an undo, and after a reload without the footage', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await bench(hand, 'Compose');
  await addTo(hand, 'to front', /^Card/);
  await hand.click(page.locator('[data-viewer]'));
  await playThrough(hand);

  // Another state has none of it; the one before has all of it at once.
  await page.getByRole('button', { name: 'Card 1', exact: true }).click();
  await hand.number('Corners', 40);
  await expect.poll(async () => (await ready(page)).includes(ALL[0])).toBe(false);
  await hand.press('Control+z');
  await expect(page.getByRole('textbox', { name: 'Corners', exact: true })).toHaveValue('0');
  await hand.saved();
  await expect.poll(() => ready(page), { timeout: 5_000 }).toEqual(ALL);

  // Kept by the browser: what plays after a reload is not made of footage, which cannot be had any more.
  await page.route(/\/plates\/.*\/(proxy|full)\/\d+/, (route) => route.abort());
  await page.reload();
  await hand.saved();
  await hand.click(page.locator('[data-viewer]'));
  await playThrough(hand);
  await expect(page.locator('[data-picture]')).toHaveAttribute('data-shown', 'whole');
});

test('where pictures take long, those are played that come in time', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await bench(hand, 'Compose');
  await addTo(hand, 'to front', /^Card/);
  // A slow line to the footage: a quarter of a second for each frame of it.
  await page.route(/\/plates\/.*\/proxy\/\d+/, async (route) => {
    await new Promise((next) => setTimeout(next, 250));
    await route.continue().catch(() => {});
  });
  await page.reload();
  await hand.saved();
  await hand.click(page.locator('[data-viewer]'));
  await hand.press('Space');
  await expect.poll(async () => (await ready(page)).length, { timeout: 60_000 }).toBeGreaterThan(0);
  await expect(page.getByText(/frames? not shown in time/)).toBeVisible();
  await hand.press('Space');
  // Wherever it stops, that frame is shown.
  await expect(page.locator('[data-picture]')).toHaveAttribute('data-shown', 'whole', { timeout: 30_000 });
});
