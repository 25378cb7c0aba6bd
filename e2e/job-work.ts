/** What tests of whole jobs do over and over: bring footage in, isolate, write, and hold docs/jobs.md to the actions it took. */
import { expect, type Page } from '@playwright/test';
import { bench, corners, footage, goTo, type Hand, leftOn, TOP } from './hand.ts';
import { told } from './jobs-told.ts';
import { address } from './workbench.ts';

export const BODY = [217, 139, 43];
export const STRIPE = [124, 31, 31];
export const MEADOW = [47, 125, 79];

/** Two files at once make a production of two shots; the first is opened. */
export async function openFirstOf(hand: Hand, first: string, second: string): Promise<void> {
  await hand.page.goto(address());
  await expect(hand.page.getByRole('heading', { level: 1 })).toBeVisible();
  await hand.bring(first, second);
  const links = hand.page.getByRole('list', { name: 'Shots' }).getByRole('link');
  await expect(links).toHaveCount(2, { timeout: 60_000 });
  await hand.click(links.filter({ hasText: /walker/ }));
  await hand.saved();
}
/** Marks frames from one to another. */
export async function mark(hand: Hand, first: number, last: number): Promise<void> {
  for (const [frame, key] of [
    [first, 'b'],
    [last, 'n'],
  ] as const) {
    await goTo(hand, frame);
    await hand.press(key);
  }
}
export const onThing = (frame: number, x: number, y: number): [number, number, number] => [frame, leftOn(frame) + x, TOP + y];
export const kept = (hand: Hand, job: number) => expect([job, hand.actions]).toEqual([job, told(job)]);
export const written = async (hand: Hand, page: Page) => {
  await bench(hand, 'Output');
  await expect(page).toHaveURL(/\/output/);
  return hand.write('Composed, H.264');
};

/** Brings the footage in, draws round the thing that moves and tracks it. */
export async function outlineAndTrack(hand: Hand): Promise<void> {
  await hand.openWith(footage().walker);
  await hand.next('Draw round it');
  await hand.polygon(corners(0));
  await hand.next(/^Track it through/);
  await expect(hand.page.locator('[data-outcome]')).toContainText('Followed on', { timeout: 60_000 });
}
