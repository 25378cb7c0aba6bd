/** What tests of composing do over and over: put something into a lane, write the picture, look at its colours. */
import path from 'node:path';
import type { Locator, Page } from '@playwright/test';
import { rawFrames } from '../tests/services.ts';
import { settled, writeOutput } from './workbench.ts';

export const [WIDTH, HEIGHT] = [960, 540];
export const settings = (page: Page): Locator => page.getByRole('region', { name: 'Settings' });
export const lanes = (page: Page): Locator => page.getByRole('region', { name: 'Lanes' });

/** Puts something into a lane; gives it selected. */
export async function add(page: Page, lane: string, what: string): Promise<void> {
  await page.getByRole('button', { name: `Add ${lane}`, exact: true }).click();
  await page.getByRole('option', { name: new RegExp(`^${what}`) }).click();
  await settled(page);
}

export async function setColour(page: Page, label: string, hex: string): Promise<void> {
  const field = page.getByLabel(label, { exact: true });
  await field.fill(hex);
  await field.blur();
  await settled(page);
}

/** The frames of a written movie, and those of the plate on the same frames. */
export async function composed(page: Page, first: number, last: number, clip: string): Promise<{ picture: Buffer[]; plate: Buffer[] }> {
  const movie = await writeOutput(page, 'Composed, H.264', [first, last]);
  const cut = (all: Buffer) => Array.from({ length: last - first + 1 }, (_, i) => all.subarray(i * WIDTH * HEIGHT * 3, (i + 1) * WIDTH * HEIGHT * 3));
  return {
    picture: cut(rawFrames(path.join(movie.folder, movie.files[0]), 'rgb24')),
    plate: cut(rawFrames(path.join('demo', 'clips', clip), 'rgb24', `select=between(n\\,${first}\\,${last})`)),
  };
}

export const colour = (picture: Buffer, x: number, y: number): number[] => [...picture.subarray((y * WIDTH + x) * 3, (y * WIDTH + x) * 3 + 3)];
export const apart = (a: Buffer, b: Buffer, p: number): number => Math.max(...[0, 1, 2].map((c) => Math.abs(a[3 * p + c] - b[3 * p + c])));
