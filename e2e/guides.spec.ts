/** Each guide, followed to its end: its steps tick themselves off. */
import { expect, type Page, test } from '@playwright/test';
import { corners, footage, Hand, leftOn, TOP } from './hand.ts';
import { address } from './workbench.ts';

const guide = (page: Page) => page.getByRole('region', { name: /^Guide:/ });
const ticked = (page: Page, done: number, of: number) => expect(guide(page).getByText(`${done} of ${of}`)).toBeVisible({ timeout: 90_000 });

async function begin(hand: Hand, name: string): Promise<void> {
  await hand.press('Control+k');
  await hand.type(`guide ${name}`);
  await hand.press('Enter');
  await expect(guide(hand.page)).toBeVisible();
}

test('by strokes, a title behind, and writing: one shot, three guides', async ({ page }) => {
  const hand = new Hand(page);
  // Chosen on the start page, it goes beside the next shot.
  await page.goto(address());
  await hand.click('With my footage: Isolate by strokes');
  await hand.bring(footage().walker);
  await expect(guide(page)).toBeVisible({ timeout: 60_000 });
  await ticked(page, 0, 5);
  await hand.isolate();
  // Nothing of this footage is doubtful; then that step is done with the carrying.
  await ticked(page, 4, 5);
  await guide(page).getByRole('button', { name: 'Go there' }).click();
  await expect(page).toHaveURL(/\/edge/);
  await hand.number('Feather out', 1.5);
  await ticked(page, 5, 5);
  await expect(guide(page)).toContainText('All done.');

  await begin(hand, 'title');
  await ticked(page, 2, 5);
  await hand.next('Put something behind it');
  await hand.click(page.getByRole('option', { name: /^Title/ }));
  await ticked(page, 3, 5);
  await hand.click(page.getByRole('textbox', { name: 'Words' }));
  await page.keyboard.press('Control+a');
  await hand.type('HARBOUR');
  await page.keyboard.press('Control+Enter');
  await ticked(page, 4, 5);
  // Folded and closed, and found again after a reload.
  await hand.click('Fold the guide');
  await page.reload();
  await expect(guide(page)).toBeVisible();
  await hand.click('Unfold the guide');
  await hand.click('Close the guide');
  await expect(guide(page)).toBeHidden();

  await begin(hand, 'write');
  await ticked(page, 2, 4);
  await guide(page).getByRole('button', { name: 'Go there' }).click();
  await ticked(page, 3, 4);
  await hand.next('Write');
  await ticked(page, 4, 4);
});

test('by hand, and tracking a sign', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await begin(hand, 'by hand');
  await ticked(page, 0, 4);
  await guide(page).getByRole('button', { name: 'Go there' }).click();
  await hand.polygon(corners(0));
  await ticked(page, 1, 4);
  await page.keyboard.press('Control+k');
  await page.keyboard.type('12');
  await page.keyboard.press('Enter');
  // The whole curve, by its inside, to where the thing is by now.
  await hand.drag([
    [leftOn(0) + 35, TOP + 35],
    [leftOn(12) + 35, TOP + 35],
  ]);
  await hand.saved();
  await ticked(page, 2, 4);
  await hand.press('3');
  await ticked(page, 3, 4);

  await begin(hand, 'track');
  // Its curve is closed already; tracked, it follows.
  await ticked(page, 1, 4);
  await page.getByRole('combobox', { name: 'Motion' }).click();
  await page.getByRole('option', { name: 'Move', exact: true }).click();
  await hand.click('Track both ways');
  await expect(page.locator('[data-outcome]')).toContainText('Followed on', { timeout: 60_000 });
  const lost = page
    .getByRole('button', { name: 'Accept all' })
    .or(page.getByRole('button', { name: /^Accept \d/ }))
    .first();
  if (await lost.isVisible()) await lost.click();
  await ticked(page, 3, 4);
  await guide(page).getByRole('button', { name: 'Go there' }).click();
  await hand.click('Add to front');
  await hand.click(page.getByRole('option', { name: /^Card/ }));
  await hand.saved();
  await hand.choose('Follows', /^Track of/);
  await hand.saved();
  await ticked(page, 4, 4);
});

test('on the demo film a guide opens a shot that nothing was done on', async ({ page }) => {
  await page.goto(address());
  await page.getByRole('button', { name: 'Try it on the demo: Track a sign' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Track a sign (guide)' })).toBeVisible({ timeout: 60_000 });
  await expect(guide(page)).toContainText('Draw round the sign');
  await ticked(page, 0, 4);
});
