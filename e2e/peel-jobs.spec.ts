/** Whole jobs by strokes, each from the footage to what is written, on the demo film and against its exact mattes. */
import path from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import { rawFrames } from '../tests/services.ts';
import { addPeel, DROP, found, KEEP, mark, overlap, type Points, paint } from './peel-work.ts';
import {
  address,
  at,
  choose,
  drawPolygon,
  freshShot,
  goToFrame,
  mattesOf,
  placeIn,
  setNumber,
  settled,
  share,
  shown,
  viewer,
  writeOutput,
} from './workbench.ts';

const cast = (page: Page) => page.getByRole('region', { name: 'Cast' });
const strokesOf = (page: Page) => page.getByRole('region', { name: 'Strokes' }).getByRole('listitem');
const brush = async (page: Page) => {
  await viewer(page).focus();
  await page.keyboard.press('z');
};
const RIDER = KEEP.slice(0, 3);
const TRIKE = KEEP.slice(3);
/** The boat behind the rider, which is as red as the jacket is brown. */
const BOAT: Points[] = [
  [
    [280, 278],
    [345, 262],
  ],
  [
    [365, 262],
    [372, 290],
  ],
];
const spread = (c: number[]) => Math.max(...c) - Math.min(...c);

test('only the subject keeps its colour: rider and trike by strokes of their own, joined, cleaned up, and editable days later', async ({ page }) => {
  const shotId = await freshShot(page, 'courier-on-the-quay.mp4', 'Colour');
  await goToFrame(page, 40);
  await brush(page);
  await page.getByRole('radio', { name: 'Matte', exact: true }).click();
  for (const points of RIDER) await paint(page, points);
  for (const points of [...DROP, ...TRIKE, ...BOAT]) await paint(page, points, true);
  // A second Peel in the same subject, for the trike; what it drops is not what the first one keeps.
  await addPeel(page);
  await brush(page);
  for (const points of TRIKE) await paint(page, points);
  for (const points of DROP) await paint(page, points, true);
  await expect.poll(async () => [(await shown(page, 540, 300))[0] > 200, (await shown(page, 392, 225))[0] > 200]).toEqual([true, true]);

  // First as a draft, then fine; each is carried on its own.
  await mark(page, 38, 42);
  for (const name of ['Peel', 'Peel 2']) {
    await cast(page).getByRole('button', { name, exact: true }).click();
    await choose(page, 'Quality', 'Draft');
    await settled(page);
    await page.getByRole('button', { name: 'Carry both ways' }).click();
    await found(page, '5 of 84 frames found from one painted frame.');
  }
  const draft = await mattesOf(page, 38, 42);
  await page.getByRole('link', { name: 'Isolate', exact: true }).click();
  for (const name of ['Peel', 'Peel 2']) {
    await cast(page).getByRole('button', { name, exact: true }).click();
    await choose(page, 'Quality', 'Fine');
    await setNumber(page, 'Search', '14');
    await setNumber(page, 'Specks', '120');
    await found(page, '0 of 84 frames found from one painted frame.');
    await page.getByRole('button', { name: 'Carry both ways' }).click();
    await found(page, '5 of 84 frames found from one painted frame.');
  }
  const fine = await mattesOf(page, 38, 42);
  for (const frame of [38, 40, 42]) {
    // The wheels have no stroke in either.
    expect(overlap(fine(frame), frame), `fine, frame ${frame}`).toBeGreaterThan(0.45);
    expect(overlap(fine(frame), frame), `fine, frame ${frame}`).toBeGreaterThan(overlap(draft(frame), frame) - 0.1);
  }

  // The edge is pulled in and softened; what is around loses its colour and is darker.
  await page.getByRole('link', { name: 'Edge', exact: true }).click();
  await setNumber(page, 'Grow', '-2');
  await setNumber(page, 'Feather out', '1');
  const edged = await mattesOf(page, 40, 40);
  expect(share(edged(40))).toBeLessThan(share(fine(40)));
  await page.getByRole('link', { name: 'Compose', exact: true }).click();
  await page.getByRole('button', { name: 'Add behind Subject 1' }).click();
  await page.getByRole('option', { name: /^Exposure and saturation/ }).click();
  await setNumber(page, 'Exposure', '-0.5');
  await setNumber(page, 'Saturation', '0');
  const movie = await writeOutput(page, 'Composed, H.264', [40, 40]);
  const picture = rawFrames(path.join(movie.folder, movie.files[0]), 'rgb24');
  const plate = rawFrames(path.join('demo', 'clips', 'courier-on-the-quay.mp4'), 'rgb24', 'select=eq(n\\,40)');
  const colour = (of: Buffer, x: number, y: number) => [...of.subarray((y * 960 + x) * 3, (y * 960 + x) * 3 + 3)];
  for (const [x, y] of [
    [300, 120],
    [700, 450],
  ]) {
    expect(spread(colour(picture, x, y)), `outside at ${x}, ${y}`).toBeLessThan(12);
    expect(colour(picture, x, y)[1], `outside at ${x}, ${y}`).toBeLessThan(colour(plate, x, y)[1]);
  }
  for (const [x, y] of [
    [540, 300],
    [395, 215],
  ])
    for (let c = 0; c < 3; c++) expect(Math.abs(colour(picture, x, y)[c] - colour(plate, x, y)[c]), `inside at ${x}, ${y}`).toBeLessThan(14);
  const cutout = await writeOutput(page, 'Cut-out, ProRes 4444', [40, 40]);
  expect(cutout.files).toHaveLength(1);

  // Days later all strokes and settings are still there to be changed.
  await page.goto(`${address()}/shots/${shotId}/isolate?frame=40&view=matte`);
  await settled(page);
  await cast(page).getByRole('button', { name: 'Peel 2', exact: true }).click();
  await expect(strokesOf(page)).toHaveCount(TRIKE.length + DROP.length);
  await found(page, '5 of 84 frames found from one painted frame.');
});

test('a click isolates: more clicks add, a fence keeps it in, it is carried forwards and then backwards, and put before something else', async ({ page }) => {
  await freshShot(page, 'courier-on-the-quay.mp4', 'Click');
  await goToFrame(page, 40);
  // A curve round the courier, larger than it, first of all: it is to fence it in, not to mask.
  await drawPolygon(page, [
    [270, 130],
    [470, 120],
    [650, 190],
    [650, 420],
    [270, 420],
  ]);
  await cast(page).getByRole('button', { name: 'Switch Spline 1 off' }).click();
  await settled(page);
  await brush(page);
  await page.getByRole('radio', { name: 'Matte', exact: true }).click();
  const place = await placeIn(page);
  await page.getByRole('button', { name: 'Show what a click takes' }).click();
  await page.mouse.move(...place(540, 300));
  await expect.poll(async () => (await shown(page, 540, 300))[0]).toBeGreaterThan(200);
  await page.mouse.click(...place(540, 300));
  await settled(page);
  for (const [x, y] of [
    [395, 215],
    [411, 160],
    [415, 290],
  ])
    await paint(page, [[x, y]]);
  for (const [x, y] of [
    [560, 430],
    [480, 180],
  ])
    await paint(page, [[x, y]], true);
  await page.getByRole('button', { name: 'Show what a click takes' }).click();
  await choose(page, 'Fence', 'Subject 1: Spline 1');
  await settled(page);
  await expect.poll(async () => [(await shown(page, 540, 300))[0] > 200, (await shown(page, 240, 300))[0]]).toEqual([true, 0]);

  await goToFrame(page, 40);
  await page.getByRole('button', { name: 'Carry one frame on' }).click();
  await found(page, '2 of 84 frames found from one painted frame.');
  await mark(page, 37, 43);
  await goToFrame(page, 40);
  await page.getByRole('button', { name: 'Carry onwards' }).click();
  await found(page, '4 of 84 frames found from one painted frame.');
  await page.getByRole('button', { name: 'Carry backwards' }).click();
  await found(page, '7 of 84 frames found from one painted frame.');
  const mattes = await mattesOf(page, 37, 43);
  for (let frame = 37; frame <= 43; frame++) {
    const matte = mattes(frame);
    // Nothing lies outside the fence, on any frame.
    let outside = 0;
    for (let y = 0; y < 540; y++) for (let x = 0; x < 960; x++) if (x < 262 || x > 658 || y < 112 || y > 428) outside = Math.max(outside, at(matte, x, y));
    expect(outside, `frame ${frame}`).toBeLessThan(10);
    expect(overlap(matte, frame), `frame ${frame}`).toBeGreaterThan(0.45);
  }

  // Behind it a plain colour, only on the frames of a burst; before and after it the plate stays.
  await page.getByRole('link', { name: 'Compose', exact: true }).click();
  await page.getByRole('button', { name: 'Add behind Subject 1' }).click();
  await page.getByRole('option', { name: /^Solid/ }).click();
  await settled(page);
  const movie = await writeOutput(page, 'Composed, H.264', [40, 40]);
  const picture = rawFrames(path.join(movie.folder, movie.files[0]), 'rgb24');
  const colour = (x: number, y: number) => [...picture.subarray((y * 960 + x) * 3, (y * 960 + x) * 3 + 3)];
  expect(spread(colour(100, 100).map((v, c) => v - colour(800, 480)[c]))).toBeLessThan(8);
  expect(colour(540, 300)[0]).toBeGreaterThan(colour(540, 300)[2]);
});

test('an outline of another part starts a Peel, and its matte blurs with the motion of a shutter', async ({ page }) => {
  await freshShot(page, 'courier-on-the-quay.mp4', 'Outline');
  await goToFrame(page, 40);
  await brush(page);
  await page.getByRole('radio', { name: 'Matte', exact: true }).click();
  const around: Points = [
    [305, 400],
    [300, 300],
    [380, 150],
    [440, 150],
    [480, 230],
    [612, 225],
    [618, 400],
  ];
  await drawPolygon(page, around);
  await cast(page).getByRole('button', { name: 'Switch Spline 1 off' }).click();
  await settled(page);
  await addPeel(page);
  await page.getByRole('button', { name: /^Outline from/ }).click();
  await page.getByRole('menuitem', { name: 'Subject 1: Spline 1' }).click();
  await expect(strokesOf(page)).toHaveCount(1);
  await settled(page);
  await expect.poll(async () => (await shown(page, 540, 300))[0]).toBeGreaterThan(200);
  await mark(page, 39, 41);
  await page.getByRole('button', { name: 'Carry both ways' }).click();
  await found(page, '3 of 84 frames found from one painted frame.');
  const sharp = await mattesOf(page, 39, 41);
  for (const frame of [39, 40, 41]) expect(overlap(sharp(frame), frame), `frame ${frame}`).toBeGreaterThan(0.5);

  await page.getByRole('link', { name: 'Edge', exact: true }).click();
  await setNumber(page, 'Shutter', '360');
  const blurred = await mattesOf(page, 40, 40);
  const between = (matte: Buffer) => matte.reduce((n, v) => n + (v > 12 && v < 243 ? 1 : 0), 0);
  expect(between(blurred(40))).toBeGreaterThan(1.3 * between(sharp(40)));
});
