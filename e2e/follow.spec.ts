/** What follows a track: corrections on top, points of a curve, holding still, and work that the server does. */
import { expect, test } from '@playwright/test';
import { marksOf } from '../tests/marks.ts';
import { agreement, filled, signAt } from './marks.ts';
import { choose, drag, drawPolygon, freshShot, goToFrame, mattesOf, placeIn, settled, shown, viewer } from './workbench.ts';

const ways = marksOf('ferry-ramp');

test.setTimeout(300_000);

test('a sign tracked on the server, mended on one frame and on all of them, held still to be judged and in what is written', async ({ page }) => {
  await freshShot(page, 'ferry-ramp.mp4', 'Follow the sign');
  await goToFrame(page, 30);
  await drawPolygon(page, signAt(30));
  const panel = page.getByRole('region', { name: 'Track', exact: true });
  await choose(page, 'Motion', 'Perspective');
  await panel.getByRole('switch', { name: 'On server' }).click();
  await panel.getByRole('button', { name: 'Track both ways' }).click();
  await expect(page.getByText('It is tracked on the server now')).toBeVisible();
  // The page may go meanwhile.
  await page.reload();
  await settled(page);
  await expect(page.getByRole('region', { name: 'Tracks' }).getByText(/5\d of 60 frames/)).toBeVisible({ timeout: 120_000 });
  const matte = await mattesOf(page, 30, 59);
  for (const frame of [30, 45, 58]) expect(agreement(matte(frame), filled(signAt(frame))), `frame ${frame}`).toBeGreaterThan(0.95);

  // One corner is mended on frame 45 alone, where it is seen, then another on all frames.
  await page.getByRole('link', { name: 'Isolate', exact: true }).click();
  await page.getByRole('button', { name: /^Curve 1/ }).click();
  await goToFrame(page, 45);
  await page.getByRole('radio', { name: 'Change curves' }).click();
  const at = await placeIn(page);
  const grab = async (corner: number, reach: string, by: number) => {
    await viewer(page).focus();
    await page.keyboard.press(reach);
    const [x, y] = signAt(45)[corner];
    await drag(page, at(x, y), at(x + by, y + by));
  };
  await grab(2, '6', 20);
  await grab(0, '9', -20);
  const mended = await mattesOf(page, 30, 59);
  const moved = (frame: number, corners: number[]) =>
    signAt(frame).map(([x, y], i): [number, number] => {
      // What is drawn grows with the sign.
      const grown = Math.hypot(signAt(frame)[1][0] - signAt(frame)[0][0], 1) / Math.hypot(signAt(45)[1][0] - signAt(45)[0][0], 1);
      const by = corners.includes(i) ? (i === 0 ? -20 : 20) * grown : 0;
      return [x + by, y + by];
    });
  expect(agreement(mended(45), filled(moved(45, [0, 2])))).toBeGreaterThan(0.96);
  expect(agreement(mended(44), filled(moved(44, [0])))).toBeGreaterThan(0.96);
  expect(agreement(mended(58), filled(moved(58, [0])))).toBeGreaterThan(0.95);

  // Held still, a letter of the sign stays where it is on the screen; let go, it does not.
  await page.getByRole('link', { name: 'Isolate', exact: true }).click();
  await page.getByRole('radio', { name: 'Plate', exact: true }).click();
  await viewer(page).focus();
  await page.keyboard.press('o');
  await goToFrame(page, 45);
  await panel.getByRole('group', { name: 'Hold still in the viewer' }).getByRole('button', { name: 'Off' }).click();
  await expect(page.getByText('Held still as on frame 45')).toBeVisible();
  const places = [
    [-40, -30],
    [0, 0],
    [40, 25],
    [60, -20],
  ].map(([dx, dy]) => [(signAt(45)[0][0] + signAt(45)[2][0]) / 2 + dx, (signAt(45)[0][1] + signAt(45)[2][1]) / 2 + dy]);
  const seen = async () => Promise.all(places.map(([x, y]) => shown(page, x, y)));
  const then = await seen();
  const unlike = (a: number[][], b: number[][]) => Math.max(...a.map((c, i) => Math.abs(c[0] - b[i][0]) + Math.abs(c[1] - b[i][1]) + Math.abs(c[2] - b[i][2])));
  await goToFrame(page, 56);
  await expect.poll(async () => unlike(await seen(), then)).toBeLessThan(120);
  await page.getByRole('button', { name: 'Let go' }).click();
  await goToFrame(page, 45);

  await page.getByRole('link', { name: 'Output', exact: true }).click();
  await choose(page, 'Held still', /^By Track of Spline 1/);
  const still = await mattesOf(page, 30, 59);
  expect(agreement(still(58), still(44))).toBeGreaterThan(0.93);
  expect(agreement(mended(58), mended(44))).toBeLessThan(0.6);
});

test('points of a curve that follow a point of their own, curves that settle, and a deleted track whose motion stays', async ({ page }) => {
  await freshShot(page, 'ferry-ramp.mp4', 'Follow points');
  await drawPolygon(page, signAt(0));
  await page.getByRole('radio', { name: 'Points to track' }).click();
  const at = await placeIn(page);
  await page.mouse.click(...at(...(ways['arrow-tip'][0].slice(0, 2) as [number, number])));
  await settled(page);
  const settings = page.getByRole('region', { name: 'Settings' });
  await settings.getByRole('button', { name: 'Track on', exact: true }).click();
  const list = page.getByRole('region', { name: 'Tracks' });
  await expect(list.getByText(/of 60 frames|all frames/)).toBeVisible({ timeout: 120_000 });
  await settled(page);

  // Two corners of the curve go with the point, the others stay.
  await page.getByRole('button', { name: 'Spline 1', exact: true }).click();
  await page.getByRole('radio', { name: 'Change curves' }).click();
  await page.mouse.click(...at(...signAt(0)[2]));
  await page.keyboard.down('Shift');
  await page.mouse.click(...at(...signAt(0)[3]));
  await page.keyboard.up('Shift');
  await page.getByLabel('Track that these points follow').selectOption({ label: 'Point 1' });
  await settled(page);
  const [dx, dy] = [ways['arrow-tip'][50][0] - ways['arrow-tip'][0][0], ways['arrow-tip'][50][1] - ways['arrow-tip'][0][1]];
  const expected = signAt(0).map(([x, y], i): [number, number] => (i >= 2 ? [x + dx, y + dy] : [x, y]));
  const matte = await mattesOf(page, 50, 50);
  expect(agreement(matte(50), filled(expected))).toBeGreaterThan(0.95);

  // The track goes; what followed it keeps its motion.
  await page.getByRole('link', { name: 'Isolate', exact: true }).click();
  await list.getByRole('button', { name: 'More for Point 1' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await settled(page);
  await expect(list).toBeHidden();
  const after = await mattesOf(page, 50, 50);
  expect(agreement(after(50), matte(50))).toBeGreaterThan(0.999);

  // A curve a little beside the edge settles on none but where it was drawn: it is tracked, and keys of its own are its corrections.
  await page.getByRole('link', { name: 'Isolate', exact: true }).click();
  await page.getByRole('button', { name: 'Spline 1', exact: true }).click();
  const panel = page.getByRole('region', { name: 'Track', exact: true });
  await goToFrame(page, 0);
  await choose(page, 'Other keys', 'Go');
  await choose(page, 'Look at', 'Proxies (draft)');
  await panel.getByRole('button', { name: 'Track on', exact: true }).click();
  await expect(panel).toContainText(/Followed on \d+ frames/, { timeout: 120_000 });
  await panel.getByRole('button', { name: 'On edges' }).click();
  await expect(page.getByRole('button', { name: /^Curve 1/ })).toContainText(/4 points, [3-6]\d keys/, { timeout: 60_000 });
  await expect(panel).toContainText('Keys of the curves are corrections on top of the track');
  const truth = await mattesOf(page, 8, 8);
  expect(agreement(truth(8), filled(signAt(8)))).toBeGreaterThan(0.94);
});
