/** What the tests do over and over: open a shot, draw, read what was written. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { expect, type Locator, type Page } from '@playwright/test';
import { rawFrames } from '../tests/services.ts';

/** Of the instance that this worker has to itself. */
export const address = (): string => {
  const all = (process.env.MOTTREL_E2E as string).split(',');
  return all[Number(process.env.TEST_PARALLEL_INDEX ?? 0) % all.length];
};
export const temporary = (): string => mkdtempSync(path.join(os.tmpdir(), 'mottrel-e2e-'));

/** Makes a production with one clip of the demo in it, so that no test meets another's work. */
export async function freshShot(page: Page, clip: string, name: string): Promise<string> {
  await page.goto(address());
  await page.getByRole('button', { name: 'New production' }).click();
  await page.getByLabel('Name').fill(name);
  await page.getByRole('button', { name: 'Make it' }).click();
  // The newest, where a test runs again.
  await page.getByRole('link', { name, exact: true }).last().click();
  await expect(page.getByRole('heading', { level: 1, name, exact: true })).toBeVisible();
  await page.getByLabel('Footage files').setInputFiles(path.join('demo', 'clips', clip));
  const link = page.getByRole('list', { name: 'Shots' }).getByRole('link');
  await link.click({ timeout: 60_000 });
  await expect(page.getByRole('heading', { level: 2, name: 'Cast' })).toBeVisible();
  await settled(page);
  return /shots\/([0-9a-f-]{36})/.exec(page.url())?.[1] as string;
}

/** Waits until the page runs and all is saved. */
export async function settled(page: Page): Promise<void> {
  await expect(page.getByLabel('Saving')).toHaveText('Saved');
}

export const viewer = (page: Page): Locator => page.locator('[data-viewer]');

/** From plate pixels to the screen while the plate fits the viewer. */
export async function placeIn(page: Page): Promise<(x: number, y: number) => [number, number]> {
  const box = await viewer(page).boundingBox();
  if (!box) throw new Error('There is no viewer.');
  const scale = Math.min((box.width - 16) / 960, (box.height - 16) / 540);
  const left = box.x + (box.width - 960 * scale) / 2;
  const top = box.y + (box.height - 540 * scale) / 2;
  return (x, y) => [left + x * scale, top + y * scale];
}

/** The colour that the viewer shows at a place of the plate. */
export async function shown(page: Page, x: number, y: number): Promise<number[]> {
  return page.evaluate(
    ([px, py]) => {
      const canvas = document.querySelector<HTMLCanvasElement>('[data-picture]') as HTMLCanvasElement;
      const scale = Math.min((canvas.clientWidth - 16) / 960, (canvas.clientHeight - 16) / 540);
      const density = canvas.width / canvas.clientWidth;
      const left = (canvas.clientWidth - 960 * scale) / 2;
      const top = (canvas.clientHeight - 540 * scale) / 2;
      return [...(canvas.getContext('2d')?.getImageData(Math.round((left + px * scale) * density), Math.round((top + py * scale) * density), 1, 1).data ?? [])];
    },
    [x, y],
  );
}

/** Draws a closed curve of corners with the pointer. */
export async function drawPolygon(page: Page, points: [number, number][]): Promise<void> {
  const at = await placeIn(page);
  await page.getByRole('radio', { name: 'Draw a curve' }).click();
  for (const [x, y] of [...points, points[0]]) await page.mouse.click(...at(x, y));
  await settled(page);
}

/** The same of an upright rectangle, from its top left corner. */
export const drawBox = (page: Page, left: number, top: number, right: number, bottom: number): Promise<void> =>
  drawPolygon(page, [
    [left, top],
    [right, top],
    [right, bottom],
    [left, bottom],
  ]);

export async function drag(page: Page, from: [number, number], to: [number, number]): Promise<void> {
  await page.mouse.move(...from);
  await page.mouse.down();
  await page.mouse.move(...to, { steps: 6 });
  await page.mouse.up();
  await settled(page);
}

export const goToFrame = async (page: Page, frame: number): Promise<void> => {
  await page.getByLabel('Frame', { exact: true }).fill(String(frame));
  await page.keyboard.press('Tab');
};

export async function setNumber(page: Page, label: string, value: string): Promise<void> {
  const field = page.getByRole('textbox', { name: label, exact: true });
  await field.fill(value);
  await field.press('Enter');
  await settled(page);
}

export async function choose(page: Page, label: string, option: string | RegExp): Promise<void> {
  await page.getByRole('combobox', { name: label }).click();
  await page.getByRole('option', { name: option }).click();
}

/** What lies beside the pictures or the movie in what is fetched. */
const BESIDE = ['hashes.sha256', 'output.json'];

/** Writes an output through the panel and gives the folder it was unpacked or saved to, with the names of its pictures or its movie. */
export async function writeOutput(page: Page, kind: string, frames: [number, number]): Promise<{ folder: string; files: string[] }> {
  await page.getByRole('link', { name: 'Output', exact: true }).click();
  await choose(page, 'What', kind);
  if (kind.startsWith('Matte')) await choose(page, 'Depth', '8 bit');
  await page.getByLabel('First frame', { exact: true }).fill(String(frames[0]));
  await page.getByLabel('Last frame', { exact: true }).fill(String(frames[1]));
  const before = await page.getByRole('link', { name: /^(Zip|Fetch)$/ }).count();
  await page
    .getByRole('region', { name: 'Output' })
    .getByRole('button', { name: /^Write/ })
    .click();
  const ready = page.getByRole('link', { name: /^(Zip|Fetch)$/ });
  await expect(ready).toHaveCount(before + 1, { timeout: 60_000 });
  const [download] = await Promise.all([page.waitForEvent('download'), ready.first().click()]);
  const folder = temporary();
  const file = path.join(folder, download.suggestedFilename());
  await download.saveAs(file);
  if (!file.endsWith('.zip')) return { folder, files: [path.basename(file)] };
  const names = execFileSync(
    'python3',
    ['-c', 'import zipfile,sys; z=zipfile.ZipFile(sys.argv[1]); z.extractall(sys.argv[2]); print("\\n".join(sorted(z.namelist())))', file, folder],
    { encoding: 'utf8' },
  );
  return {
    folder,
    files: names
      .trim()
      .split('\n')
      .filter((name) => !BESIDE.includes(name)),
  };
}

/** A written matte as bytes of 960x540. */
export const matteBytes = (file: string): Buffer => rawFrames(file, 'gray');
export const at = (matte: Buffer, x: number, y: number): number => matte[y * 960 + x];
export const write = (file: string, text: string): void => writeFileSync(file, text);

/** The part of the picture that a matte covers. */
export const share = (matte: Buffer): number => matte.reduce((a, b) => a + b, 0) / (255 * matte.length);

/** Writes mattes of a subject and gives each by its frame. */
export async function mattesOf(page: Page, first: number, last: number, subject = 'subject-1'): Promise<(frame: number) => Buffer> {
  const { folder } = await writeOutput(page, 'Matte, PNG sequence', [first, last]);
  return (frame) => matteBytes(path.join(folder, `${subject}-matte.${String(frame).padStart(4, '0')}.png`));
}

/** Draws a ready-made shape by a drag. */
export async function shapeOf(page: Page, kind: string, from: [number, number], to: [number, number]): Promise<void> {
  const place = await placeIn(page);
  await page.getByRole('radio', { name: 'Ready-made shapes' }).click();
  await page.getByLabel('Shape', { exact: true }).selectOption(kind);
  await drag(page, place(...from), place(...to));
}
