/** What tests of Peel do over and over: paint the courier of the demo film, carry, compare with its exact matte. */
import path from 'node:path';
import { expect, type Page } from '@playwright/test';
import { rawFrames } from '../tests/services.ts';
import { freshShot, goToFrame, placeIn, settled, viewer } from './workbench.ts';

export type Points = [number, number][];

/** Strokes on the courier of frame 40, plate pixels. */
export const KEEP: Points[] = [
  [
    [412, 155],
    [409, 172],
  ],
  [
    [367, 240],
    [388, 213],
    [405, 199],
    [437, 237],
  ],
  [
    [391, 266],
    [430, 273],
    [427, 296],
    [405, 338],
  ],
  [
    [488, 289],
    [594, 289],
    [583, 310],
    [499, 310],
  ],
  [
    [513, 245],
    [590, 237],
  ],
];
export const DROP: Points[] = [
  [
    [33, 192],
    [249, 150],
    [333, 108],
    [499, 136],
    [805, 192],
  ],
  [
    [33, 387],
    [249, 456],
    [527, 484],
    [875, 428],
  ],
  [
    [652, 331],
    [764, 275],
  ],
];

export async function paint(page: Page, points: Points, alt = false): Promise<void> {
  const place = await placeIn(page);
  if (alt) await page.keyboard.down('Alt');
  await page.mouse.move(...place(...points[0]));
  await page.mouse.down();
  for (const p of points.slice(1)) await page.mouse.move(...place(...p), { steps: 6 });
  await page.mouse.up();
  if (alt) await page.keyboard.up('Alt');
  await settled(page);
}

/** How much two mattes have in common, of what either holds. */
export function inCommon(matte: Buffer, other: Buffer): number {
  let [both, any] = [0, 0];
  for (let i = 0; i < matte.length; i++) {
    const [a, b] = [matte[i] > 127, other[i] > 127];
    if (a && b) both++;
    if (a || b) any++;
  }
  return both / any;
}

/** The exact matte of a frame of the courier. */
export const truthOf = (frame: number): Buffer => rawFrames(path.join('demo', 'clips', 'courier-on-the-quay.matte.mkv'), 'gray', `select=eq(n\\,${frame})`);

export const overlap = (matte: Buffer, frame: number): number => inCommon(matte, truthOf(frame));

/** Paints the courier on frame 40, and shows the matte. */
async function paintCourier(page: Page): Promise<void> {
  await goToFrame(page, 40);
  await viewer(page).focus();
  await page.keyboard.press('z');
  await page.getByRole('radio', { name: 'Matte', exact: true }).click();
  for (const points of KEEP) await paint(page, points);
  for (const points of DROP) await paint(page, points, true);
}

export async function mark(page: Page, first: number, last: number): Promise<void> {
  for (const [frame, key] of [
    [first, 'b'],
    [last, 'n'],
  ] as const) {
    await goToFrame(page, frame);
    await viewer(page).focus();
    await page.keyboard.press(key);
  }
}

export const found = (page: Page, words: string | RegExp) =>
  expect(page.getByRole('region', { name: 'Carry' }).getByText(words)).toBeVisible({ timeout: 60_000 });

/** Adds a Peel to the first subject. */
export async function addPeel(page: Page): Promise<void> {
  const row = page.getByRole('region', { name: 'Cast' }).getByRole('listitem').filter({ hasText: 'Subject 1' }).first();
  await row.hover();
  await row.getByRole('button', { name: 'More for Subject 1' }).click();
  await page.getByRole('menuitem', { name: 'Add a Peel' }).click();
  await settled(page);
}

/** A shot of its own, the courier painted on frame 40 and carried through a marked range with that frame in it. */
export async function carriedCourier(page: Page, name: string, first: number, last: number): Promise<void> {
  await freshShot(page, 'courier-on-the-quay.mp4', name);
  await paintCourier(page);
  await mark(page, first, last);
  await page.getByRole('button', { name: 'Carry both ways' }).click();
  await found(page, `${last - first + 1} of 84 frames found from one painted frame.`);
}
