import path from 'node:path';
import { expect, test } from '@playwright/test';
import { ffprobe, rawFrames } from '../tests/services.ts';
import { at, choose, drag, drawPolygon, freshShot, goToFrame, matteBytes, placeIn, setNumber, settled, writeOutput } from './workbench.ts';

/** Roughly the courier's load box on frame 36; it moves about 6 px a frame to the right. */
const BOX: [number, number][] = [
  [440, 250],
  [580, 250],
  [580, 330],
  [440, 330],
];

test('footage in, a keyed curve, a soft edge, an effect behind, and all of it written out', async ({ page }) => {
  await freshShot(page, 'courier-on-the-quay.mp4', 'First job');
  const place = await placeIn(page);

  // Isolate: draw on frame 36, then fit the whole curve on two other frames.
  await goToFrame(page, 36);
  await drawPolygon(page, BOX);
  await expect(page.getByText('Curve 1')).toContainText('4 points, 1 key');
  await goToFrame(page, 10);
  await drag(page, place(510, 290), place(330, 290));
  await goToFrame(page, 60);
  await drag(page, place(510, 290), place(690, 290));
  await expect(page.getByText('Curve 1')).toContainText('4 points, 3 keys');

  // Edge: firm on the inside, soft on the outside.
  await page.getByRole('link', { name: 'Edge', exact: true }).click();
  await setNumber(page, 'Feather out', '8');
  await choose(page, 'Falloff', 'Linear');

  // Compose: everything but the box turns to one colour.
  await page.getByRole('link', { name: 'Compose', exact: true }).click();
  await page.getByRole('button', { name: 'Add behind Subject 1' }).click();
  await page.getByRole('option', { name: /^Solid/ }).click();
  await settled(page);

  const mattes = await writeOutput(page, 'Matte, PNG sequence', [10, 60]);
  expect(mattes.files).toHaveLength(51);
  const matte = (frame: number) => matteBytes(path.join(mattes.folder, `subject-1-matte.${String(frame).padStart(4, '0')}.png`));
  // On a key, between keys, and the soft band outside: 4 px out is half of 8 px, linear.
  const onKey = matte(36);
  expect([at(onKey, 510, 290), at(onKey, 430, 290), at(onKey, 200, 290)]).toEqual([255, 0, 0]);
  expect(at(onKey, 441, 290)).toBe(255);
  expect(Math.abs(at(onKey, 583, 290) - 255 * (1 - 3.5 / 8.5))).toBeLessThan(25);
  const between = matte(23);
  expect([at(between, 420, 290), at(between, 355, 290), at(between, 500, 290)]).toEqual([255, 255, 0]);
  expect(at(matte(60), 750, 290)).toBe(255);

  const movie = await writeOutput(page, 'Composed, H.264', [30, 41]);
  const file = path.join(movie.folder, movie.files[0]);
  expect(ffprobe(file)).toMatchObject({ frames: 12, stream: { width: 960, height: 540, r_frame_rate: '24/1' } });
  const rgb = rawFrames(file, 'rgb24').subarray(6 * 960 * 540 * 3);
  const colour = (x: number, y: number) => [...rgb.subarray((y * 960 + x) * 3, (y * 960 + x) * 3 + 3)];
  // The solid as it starts, and the yellow box untouched.
  const [r, g, b] = colour(100, 100);
  expect(Math.abs(r - 46) + Math.abs(g - 92) + Math.abs(b - 107)).toBeLessThan(14);
  expect(colour(520, 300)[0]).toBeGreaterThan(colour(520, 300)[2] + 60);

  const cutout = await writeOutput(page, 'Cut-out, ProRes 4444', [36, 38]);
  const alpha = rawFrames(path.join(cutout.folder, cutout.files[0]), 'gray', 'alphaextract');
  expect([alpha[290 * 960 + 510], alpha[290 * 960 + 100]]).toEqual([255, 0]);
});

test('Reach decides what an edit changes: this frame alone, or all frames alike', async ({ page }) => {
  await freshShot(page, 'courier-on-the-quay.mp4', 'Reach');
  const place = await placeIn(page);
  await goToFrame(page, 20);
  await drawPolygon(page, BOX);
  await goToFrame(page, 40);
  await drag(page, place(510, 290), place(610, 290));
  await goToFrame(page, 30);
  // Says beforehand what will change.
  await page.mouse.move(...place(560, 290));
  await expect(page.getByText('Between keys · frames 21–39 · 1 key')).toBeVisible();
  await page.keyboard.press('6');
  await expect(page.getByRole('button', { name: /^Reach: This frame/ })).toBeVisible();
  await drag(page, place(560, 290), place(560, 400));
  const { folder } = await writeOutput(page, 'Matte, PNG sequence', [20, 40]);
  const centre = (frame: number, x: number) => at(matteBytes(path.join(folder, `subject-1-matte.${String(frame).padStart(4, '0')}.png`)), x, 290);
  expect([centre(29, 555), centre(30, 560), centre(31, 565)]).toEqual([255, 0, 255]);
  expect([centre(20, 510), centre(40, 610)]).toEqual([255, 255]);
});

test('an open curve masks nothing and says so; inverting turns the matte inside out; undo works over a reload', async ({ page }) => {
  await freshShot(page, 'courier-on-the-quay.mp4', 'Open and closed');
  const place = await placeIn(page);
  await page.getByRole('radio', { name: 'Draw a curve' }).click();
  for (const [x, y] of BOX.slice(0, 3)) await page.mouse.click(...place(x, y));
  await expect(page.getByText('The curve is open and masks nothing yet.', { exact: false }).first()).toBeVisible();
  await expect(page.getByRole('img', { name: 'open' })).toBeVisible();
  await page.mouse.click(...place(...BOX[0]));
  await expect(page.getByRole('img', { name: 'closed' })).toBeVisible();
  await page.getByLabel('Invert').click();
  await settled(page);
  const { folder, files } = await writeOutput(page, 'Matte, PNG sequence', [0, 0]);
  const matte = matteBytes(path.join(folder, files[0]));
  expect([at(matte, 570, 260), at(matte, 100, 100)]).toEqual([0, 255]);

  await page.reload();
  await settled(page);
  for (const label of ['Undo: Invert', 'Undo: Close curve', 'Undo: Add point', 'Undo: Add point', 'Undo: Begin curve']) {
    await page.getByRole('button', { name: label }).click();
    await settled(page);
  }
  await expect(page.getByText('No subject yet', { exact: false })).toBeHidden();
  await page.getByRole('link', { name: 'Isolate', exact: true }).click();
  await expect(page.getByText('No subject yet', { exact: false })).toBeVisible();
  await page.getByRole('button', { name: 'Redo: Begin curve' }).click();
  await expect(page.getByText('Spline 1').first()).toBeVisible();
});

test('points and handles: moved, added, deleted, made smooth', async ({ page }) => {
  await freshShot(page, 'courier-on-the-quay.mp4', 'Points');
  const place = await placeIn(page);
  await drawPolygon(page, BOX);
  const info = page.getByText('Curve 1');
  await page.mouse.dblclick(...place(510, 250));
  await expect(info).toContainText('5 points');
  await drag(page, place(510, 250), place(510, 200));
  await expect(page.getByRole('textbox', { name: 'y', exact: true })).toHaveValue(/^(199|200)\./);
  await page.keyboard.press('t');
  await settled(page);
  // A smooth point shows its handles: drag one.
  // It lies along the line between the neighbours, a third of the way to the next point out.
  await drag(page, place(510 + Math.hypot(70, 50) / 3, 200), place(570, 220));
  await expect(page.getByRole('button', { name: 'Undo: Turn handle' })).toBeVisible();
  await page.keyboard.press('Delete');
  await expect(info).toContainText('4 points');
});
