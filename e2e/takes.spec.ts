/** Whole jobs with a second take, a hole that closes, and bursts, through the interface and as they are written. */
import path from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import { marksOf } from '../tests/marks.ts';
import { rawFrames } from '../tests/services.ts';
import { add, apart, colour, composed, setColour, settings } from './compose-work.ts';
import { carriedCourier, mark } from './peel-work.ts';
import { at, choose, freshShot, goToFrame, matteBytes, mattesOf, setNumber, settled, shapeOf, viewer, writeOutput } from './workbench.ts';

const PIXELS = 960 * 540;
const share = (is: Buffer, was: Buffer, counts: (p: number) => boolean, far: number): number => {
  let [all, changed] = [0, 0];
  for (let p = 0; p < PIXELS; p++) {
    if (!counts(p)) continue;
    all++;
    if (apart(is, was, p) > far) changed++;
  }
  return changed / Math.max(1, all);
};

/** The clip of a shot that is in the production already is opened. */
async function secondShot(page: Page, production: string, clip: string): Promise<void> {
  await page.getByRole('link', { name: production, exact: true }).click();
  await page.getByLabel('Footage files').setInputFiles(path.join('demo', 'clips', clip));
  const links = page.getByRole('list', { name: 'Shots' }).getByRole('link');
  await expect(links).toHaveCount(2, { timeout: 60_000 });
  await links.nth(1).click();
  await expect(page.getByRole('heading', { level: 2, name: 'Cast' })).toBeVisible();
  await settled(page);
}

test('somebody of one take in another: a matte written there, its footage inside it here, and a disturbance behind in bursts', async ({ page }) => {
  await carriedCourier(page, 'Two takes', 38, 42);
  const written = await writeOutput(page, 'Matte, PNG sequence', [38, 42]);
  const files = written.files.filter((name) => name.endsWith('.png')).map((name) => path.join(written.folder, name));
  await secondShot(page, 'Two takes', 'empty-quay.mp4');
  await page.getByRole('button', { name: 'Add a subject' }).click();
  await settled(page);
  await page.getByRole('button', { name: 'More for Subject 1' }).click();
  await page.getByRole('menuitem', { name: /^Bring in/ }).click();
  await page.getByLabel('Pictures of a matte').setInputFiles(files);
  await expect(page.getByRole('dialog')).toBeHidden({ timeout: 60_000 });
  await settled(page);
  await page.getByRole('link', { name: 'Edge', exact: true }).click();
  await setNumber(page, 'Grow', '-1');
  await page.getByRole('link', { name: 'Compose', exact: true }).click();
  await add(page, 'inside Subject 1', 'Footage');
  await choose(page, 'Footage', /^courier-on-the-quay$/);
  await settled(page);
  await setNumber(page, 'Starts on', '-38');
  // Behind, on frames 1 and 3 alone.
  await add(page, 'behind Subject 1', 'Break-up');
  await setNumber(page, 'Bands', '100');
  await setNumber(page, 'Shift', '200');
  for (const frame of [1, 3]) {
    await mark(page, frame, frame);
    await settings(page)
      .getByRole('button', { name: /arked range$/ })
      .click();
    await settled(page);
  }
  await expect(settings(page).getByRole('button', { name: 'Not on frames 3–3' })).toBeVisible();
  await viewer(page).focus();
  await page.keyboard.press('l');
  const { picture, plate } = await composed(page, 0, 4, 'empty-quay.mp4');
  const courier = rawFrames(path.join('demo', 'clips', 'courier-on-the-quay.mp4'), 'rgb24', 'select=between(n\\,38\\,42)');
  for (const frame of [0, 1, 3, 4]) {
    const matte = matteBytes(files[frame]);
    // Away from the edge, which was pulled in and is soft.
    const deep = (p: number, is: (v: number) => boolean) => [0, -3, 3, -3 * 960, 3 * 960].every((d) => is(matte[p + d] ?? 0));
    const inside = share(picture[frame], courier.subarray(frame * PIXELS * 3), (p) => deep(p, (v) => v > 250), 26);
    const outside = share(picture[frame], plate[frame], (p) => deep(p, (v) => v < 5), 26);
    expect(inside, `on the courier, frame ${frame}`).toBeLessThan(0.01);
    if (frame === 1 || frame === 3) expect(outside, `in a burst, frame ${frame}`).toBeGreaterThan(0.2);
    else expect(outside, `between bursts, frame ${frame}`).toBeLessThan(0.01);
  }
});

const ways = marksOf('storm-lantern');

test('a lamp tracked both ways becomes a hole, behind which a card closes', async ({ page }) => {
  await freshShot(page, 'storm-lantern.mp4', 'Lamp that closes');
  await mark(page, 20, 25);
  await goToFrame(page, 24);
  await shapeOf(page, 'ellipse', [440, 150], [492, 215]);
  const panel = page.getByRole('region', { name: 'Track', exact: true });
  await panel.getByRole('button', { name: 'Track both ways', exact: true }).click();
  await expect(panel).toContainText('Followed on 6 frames of 20 to 25.', { timeout: 120_000 });
  await settled(page);
  // Its middle goes as what is in the lamp goes.
  const mattes = await mattesOf(page, 20, 25);
  const middle = (matte: Buffer): [number, number] => {
    let [sum, sx, sy] = [0, 0, 0];
    for (let y = 0; y < 540; y++)
      for (let x = 0; x < 960; x++) {
        const m = at(matte, x, y);
        sum += m;
        sx += m * x;
        sy += m * y;
      }
    return [sx / sum, sy / sum];
  };
  const [x24, y24] = middle(mattes(24));
  /** Where a place of frame 24 is on another, by where cap and base of the lantern truly are. */
  const lamp = (frame: number): [number, number] => {
    const of = (f: number) => {
      const [[cx, cy], [bx, by]] = [ways.cap[f], ways.base[f]];
      return { cx, cy, dx: bx - cx, dy: by - cy };
    };
    const [then, now] = [of(24), of(frame)];
    const square = then.dx ** 2 + then.dy ** 2;
    const [c, s] = [(now.dx * then.dx + now.dy * then.dy) / square, (now.dy * then.dx - now.dx * then.dy) / square];
    const [px, py] = [x24 - then.cx, y24 - then.cy];
    return [now.cx + c * px - s * py, now.cy + s * px + c * py];
  };
  for (const frame of [20, 21, 23, 25]) {
    const [x, y] = middle(mattes(frame));
    expect(Math.hypot(x - lamp(frame)[0], y - lamp(frame)[1]), `frame ${frame}`).toBeLessThan(3);
  }

  await page.getByRole('link', { name: 'Isolate', exact: true }).click();
  await page.getByRole('region', { name: 'Cast' }).getByRole('button', { name: 'Ellipse', exact: true }).click();
  await page.getByRole('switch', { name: 'Invert' }).click();
  await settled(page);
  await page.getByRole('link', { name: 'Edge', exact: true }).click();
  await setNumber(page, 'Feather out', '2');
  await page.getByRole('link', { name: 'Compose', exact: true }).click();
  await add(page, 'behind Subject 1', 'Card');
  await setNumber(page, 'Width', '300');
  await setNumber(page, 'Height', '110');
  await choose(page, 'Colours', '1');
  await setColour(page, 'Colour 1', '#20c040');
  // From above the lamp down over it, between frames 21 and 24.
  await goToFrame(page, 21);
  await setNumber(page, 'Y', '60');
  await settings(page).getByRole('button', { name: 'Let y change over time: key it on this frame' }).click();
  await settled(page);
  await goToFrame(page, 24);
  await setNumber(page, 'Y', '182');
  const { picture, plate } = await composed(page, 20, 25, 'storm-lantern.mp4');
  const isCard = (frame: number, x: number, y: number) => {
    const [r, g, b] = colour(picture[frame - 20], Math.round(x), Math.round(y));
    return g > 150 && r < 90 && b < 120;
  };
  // The middle of the lamp swings on; what lies beside it is never covered.
  for (const frame of [20, 21]) expect(isCard(frame, ...lamp(frame)), `open, frame ${frame}`).toBe(false);
  for (const frame of [24, 25])
    for (const dy of [-22, 0, 22]) expect(isCard(frame, lamp(frame)[0], lamp(frame)[1] + dy), `closed, frame ${frame}, ${dy}`).toBe(true);
  // Half closed: the upper part, not the lower.
  expect([isCard(23, lamp(23)[0], lamp(23)[1] - 22), isCard(23, lamp(23)[0], lamp(23)[1] + 26)]).toEqual([true, false]);
  expect(share(picture[5], plate[5], (p) => p % 960 < 410, 26)).toBeLessThan(0.01);
});
