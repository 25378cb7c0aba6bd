/** Isolating by strokes: painted on one frame, carried both ways, mended where it went wrong, written, and all of it editable for ever. */
import { expect, test } from '@playwright/test';
import sharp from 'sharp';
import { nextStroke } from '../bench/peel/artist.ts';
import { carriedCourier, DROP, found, inCommon, KEEP, mark, overlap, type Points, paint, truthOf } from './peel-work.ts';
import { address, at, freshShot, goToFrame, mattesOf, placeIn, settled, shown, viewer } from './workbench.ts';

test('a courier is painted on one frame, carried both ways, mended, approved and written', async ({ page }) => {
  const shotId = await freshShot(page, 'courier-on-the-quay.mp4', 'By strokes');
  await goToFrame(page, 40);
  await viewer(page).focus();
  await page.keyboard.press('z');
  await page.getByRole('radio', { name: 'Matte', exact: true }).click();
  await paint(page, KEEP[0]);
  // The first stroke makes a subject and its Peel, and something shows at once.
  await expect(page.getByRole('region', { name: 'Cast' }).getByRole('button', { name: 'Peel', exact: true })).toBeVisible();
  await expect.poll(async () => (await shown(page, 411, 160))[0]).toBeGreaterThan(200);
  for (const points of KEEP.slice(1)) await paint(page, points);
  for (const points of DROP) await paint(page, points, true);
  await expect.poll(async () => [(await shown(page, 540, 300))[0] > 200, (await shown(page, 700, 450))[0] < 50]).toEqual([true, true]);
  await expect(page.getByRole('region', { name: 'Strokes' }).getByRole('listitem')).toHaveCount(8);

  // Carried through a marked range, by two works; the Sheet and the Ribbon fill.
  await mark(page, 34, 46);
  await page.getByRole('button', { name: 'Carry both ways' }).click();
  await found(page, '13 of 84 frames found from one painted frame.');
  await expect(page.locator('[data-found]')).toHaveCount(13);
  await expect(page.getByText(/(good|partial): doubt \d+ of 100, carried from frame 40/)).toBeVisible();
  const carried = await mattesOf(page, 34, 46);
  for (const frame of [34, 37, 40, 43, 46]) expect(overlap(carried(frame), frame), `frame ${frame}`).toBeGreaterThan(0.6);

  // What the viewer shows is what was written.
  await page.getByRole('link', { name: 'Isolate', exact: true }).click();
  await page.getByRole('button', { name: 'Peel', exact: true }).click();
  await goToFrame(page, 46);
  await expect.poll(async () => (await shown(page, 540 + 34, 300))[0] > 127).toBe(at(carried(46), 574, 300) > 127);

  // The cargo box is not wanted from frame 44 on: one drop stroke mends that frame and what is nearer to it than to the painted one.
  await goToFrame(page, 44);
  await viewer(page).focus();
  await page.keyboard.press('z');
  const box = await placeIn(page);
  await page.keyboard.press('x');
  await page.mouse.move(...box(520, 300));
  await page.mouse.down();
  await page.mouse.move(...box(612, 300), { steps: 8 });
  await page.mouse.up();
  await settled(page);
  await expect(page.getByRole('region', { name: 'Strokes' }).getByRole('listitem')).toHaveCount(9);
  await expect.poll(async () => (await shown(page, 560, 300))[0]).toBeLessThan(50);
  await found(page, '13 of 84 frames found from one painted frame, 1 mended.');
  const mended = await mattesOf(page, 34, 46);
  for (let frame = 34; frame < 42; frame++) expect(Buffer.compare(mended(frame), carried(frame)), `frame ${frame}`).toBe(0);
  for (const frame of [43, 44, 46]) expect(at(mended(frame), 560, 300), `frame ${frame}`).toBeLessThan(128);
  expect(Buffer.compare(mended(45), carried(45))).not.toBe(0);

  // An approved frame keeps its matte, whatever is painted beside it; on it nothing can be painted.
  await page.getByRole('link', { name: 'Isolate', exact: true }).click();
  await goToFrame(page, 42);
  await viewer(page).focus();
  // All frames again, or the whole marked range would be approved.
  await page.keyboard.press('l');
  await page.keyboard.press('v');
  await settled(page);
  await page.getByRole('button', { name: 'Peel', exact: true }).click();
  await viewer(page).focus();
  await page.keyboard.press('z');
  const aside: Points = [
    [520, 290],
    [600, 290],
  ];
  await paint(page, aside);
  await expect(page.getByText(/Frame 42 of Subject 1 is approved/)).toBeVisible();
  await goToFrame(page, 41);
  await viewer(page).focus();
  await paint(page, aside);
  await expect.poll(async () => (await shown(page, 560, 290))[0], { timeout: 30_000 }).toBeLessThan(50);
  await found(page, /from one painted frame, 2 mended, 1 approved\.$/);
  const kept = await mattesOf(page, 40, 44);
  expect(at(kept(41), 560, 290)).toBeLessThan(128);
  for (const frame of [40, 42]) expect(Buffer.compare(kept(frame), mended(frame)), `frame ${frame}`).toBe(0);
  await page.keyboard.press('Control+z');
  await settled(page);

  // All is there after a reload; a stroke switched off takes its frames back to what they were.
  await page.goto(`${address()}/shots/${shotId}/isolate?frame=44&view=matte`);
  await settled(page);
  await page.getByRole('button', { name: 'Peel', exact: true }).click();
  await found(page, '13 of 84 frames found from one painted frame, 1 mended.');
  await expect.poll(async () => (await shown(page, 560, 300))[0]).toBeLessThan(50);
  await page.getByRole('button', { name: 'Switch the stroke off: Drop, frame 44, 8 px' }).click();
  await settled(page);
  await expect.poll(async () => (await shown(page, 560, 300))[0], { timeout: 30_000 }).toBeGreaterThan(200);
});

test('strokes on a carried frame mend it and those near it, and can begin it anew instead', async ({ page }) => {
  await carriedCourier(page, 'Mended', 40, 50);
  const before = await mattesOf(page, 40, 50);
  let now = before;
  // Two strokes where the matte of frame 48 is wrong the deepest, each of which makes it better.
  for (const round of [1, 2]) {
    await page.getByRole('link', { name: 'Isolate', exact: true }).click();
    await page.getByRole('button', { name: 'Peel', exact: true }).click();
    await goToFrame(page, 48);
    await viewer(page).focus();
    await page.keyboard.press('z');
    const wrong = nextStroke(now(48), truthOf(48), 960, 540);
    if (!wrong) throw new Error('Nothing is wrong enough to be mended.');
    const [x, y, u, v] = wrong.points;
    await page.getByLabel('Radius').fill(String(Math.round(wrong.radius)));
    await paint(
      page,
      [
        [x, y],
        [u, v],
      ],
      wrong.kind === 'drop',
    );
    await found(page, '11 of 84 frames found from one painted frame, 1 mended.');
    const better = await mattesOf(page, 40, 50);
    expect(overlap(better(48), 48), `stroke ${round}`).toBeGreaterThan(overlap(now(48), 48) + 0.003);
    now = better;
  }
  for (const frame of [47, 50]) expect(overlap(now(frame), frame), `frame ${frame}`).toBeGreaterThan(overlap(before(frame), frame) + 0.003);
  for (const frame of [40, 42]) expect(Buffer.compare(now(frame), before(frame)), `frame ${frame}`).toBe(0);

  // With a keep stroke among them the strokes could stand alone, and can be told to.
  await page.getByRole('link', { name: 'Isolate', exact: true }).click();
  await page.getByRole('button', { name: 'Peel', exact: true }).click();
  await goToFrame(page, 48);
  await viewer(page).focus();
  await page.keyboard.press('z');
  await paint(page, [[590, 290]]);
  const strokes = page.getByRole('region', { name: 'Strokes' });
  await expect(strokes.getByText('On this frame they mend what is carried here.')).toBeVisible();
  await strokes.getByRole('button', { name: 'Begin anew' }).click();
  await found(page, '11 of 84 frames found from 2 painted frames.');
  await strokes.getByRole('button', { name: 'Mend instead' }).click();
  await found(page, '11 of 84 frames found from one painted frame, 1 mended.');
});

test('a Peel is traced into curves that mask as it did, and says how far they are off', async ({ page }) => {
  await carriedCourier(page, 'Traced', 39, 42);
  const peeled = await mattesOf(page, 39, 42);
  await page.getByRole('link', { name: 'Isolate', exact: true }).click();
  const row = page.getByRole('region', { name: 'Cast' }).getByRole('listitem').filter({ hasText: 'Peel' }).last();
  await row.hover();
  await row.getByRole('button', { name: 'More for Peel' }).click();
  await page.getByRole('menuitem', { name: 'Trace into curves …' }).click();
  const dialog = page.getByRole('dialog', { name: 'Trace Peel into curves' });
  await expect(dialog.getByLabel('Frames')).toHaveValue('range');
  await dialog.getByLabel('Within').fill('2');
  await dialog.getByRole('button', { name: 'Trace', exact: true }).click();
  const told = dialog.getByText(/^\d+ points in (one path|\d+ paths), \d+ keys; at most [\d.]+ px off$/);
  await expect(told).toBeVisible({ timeout: 90_000 });
  await dialog.getByRole('button', { name: 'Add the curves' }).click();
  await settled(page);
  const cast = page.getByRole('region', { name: 'Cast' });
  await expect(cast.getByRole('button', { name: 'Peel as curves', exact: true })).toBeVisible();
  await expect(cast.getByRole('button', { name: 'Switch Peel on' })).toBeVisible();
  const traced = await mattesOf(page, 39, 42);
  for (const frame of [39, 40, 41, 42]) expect(inCommon(traced(frame), peeled(frame)), `frame ${frame}`).toBeGreaterThan(0.95);
  // One step takes it all back.
  await page.getByRole('link', { name: 'Isolate', exact: true }).click();
  await page.getByRole('button', { name: 'Undo: Trace into curves' }).click();
  await settled(page);
  await expect(cast.getByRole('button', { name: 'Switch Peel off' })).toBeVisible();
});

test('a subject is said to be out of sight and here again, and what is doubtful is reviewed worst first', async ({ page }) => {
  await carriedCourier(page, 'Gone', 40, 45);
  await mark(page, 42, 43);
  await page.getByRole('button', { name: 'On the range' }).click();
  await settled(page);
  const sheet = page.getByRole('region', { name: 'Sheet' });
  await expect(sheet.getByRole('gridcell').getByText('gone', { exact: true })).toHaveCount(2, { timeout: 30_000 });
  await goToFrame(page, 43);
  await expect.poll(async () => (await shown(page, 560, 300))[0]).toBeLessThan(50);
  await expect(page.getByText('marked as out of sight')).toBeVisible();
  await goToFrame(page, 44);
  await expect(page.getByText('found again after it was out of sight')).toBeVisible({ timeout: 30_000 });
  await expect.poll(async () => (await shown(page, 566, 300))[0]).toBeGreaterThan(200);

  await goToFrame(page, 41);
  await viewer(page).focus();
  await page.keyboard.press('l');
  await page.keyboard.press('Shift+R');
  const review = page.getByRole('group', { name: 'Review' });
  await expect(review).toBeVisible();
  const visited = new Set<string>();
  for (let left = 3; left > 0 && (await review.isVisible()); left--) {
    visited.add(await page.getByLabel('Frame', { exact: true }).inputValue());
    await review.getByRole('button', { name: 'Approve' }).click();
    await settled(page);
  }
  expect(visited).toContain('44');
  for (const frame of visited)
    await expect(
      sheet
        .getByRole('row')
        .filter({ hasText: new RegExp(`^${frame}\\d\\d:`) })
        .getByLabel('approved'),
    ).toBeVisible();

  // Here again from the first of the two frames on: nothing is out of sight any more.
  await goToFrame(page, 42);
  await page.getByRole('button', { name: 'Peel', exact: true }).click();
  await page.getByRole('button', { name: 'Here again' }).click();
  await settled(page);
  await expect(page.getByText('nowhere')).toBeVisible();
});

test('one loop drawn roughly round the subject is enough for a first result', async ({ page }) => {
  await freshShot(page, 'courier-on-the-quay.mp4', 'Loop');
  await goToFrame(page, 40);
  await viewer(page).focus();
  await page.keyboard.press('z');
  await page.getByRole('radio', { name: 'Matte', exact: true }).click();
  await page.getByRole('radio', { name: 'Loop' }).click();
  await paint(page, [
    [410, 140],
    [460, 150],
    [480, 220],
    [600, 215],
    [620, 300],
    [600, 410],
    [300, 410],
    [280, 300],
    [340, 190],
    [408, 142],
  ]);
  await expect(page.getByRole('region', { name: 'Strokes' }).getByRole('button', { name: 'Loop, frame 40', exact: true })).toBeVisible();
  const box = async () => [(await shown(page, 540, 300))[0] > 200, (await shown(page, 400, 240))[0] > 200, (await shown(page, 700, 450))[0] < 50];
  await expect.poll(box).toEqual([true, true, true]);
  const matte = await mattesOf(page, 40, 40);
  expect(overlap(matte(40), 40)).toBeGreaterThan(0.65);
});

test('by keyboard alone: dots of the brush keep and drop, the last one is taken back, and the Peel is carried', async ({ page }) => {
  const shotId = await freshShot(page, 'courier-on-the-quay.mp4', 'Dots');
  await page.goto(`${address()}/shots/${shotId}/isolate?frame=40&view=matte`);
  await settled(page);
  const press = async (key: string, times = 1) => {
    for (let i = 0; i < times; i++) await page.keyboard.press(key);
  };
  await press('z');
  // The cross-hair starts in the middle; the box of the trike is right of it and below.
  await press('=', 4);
  await press('Shift+ArrowRight', 7);
  await press('Shift+ArrowDown', 3);
  await press('Enter');
  await settled(page);
  await press('x');
  await press('Shift+ArrowRight', 9);
  await press('Enter');
  await settled(page);
  await expect(page.getByRole('button', { name: /^Switch the stroke off: Drop/ })).toBeVisible();
  await expect.poll(async () => [(await shown(page, 550, 300))[0] > 200, (await shown(page, 640, 300))[0] < 50]).toEqual([true, true]);
  await press('Backspace');
  await settled(page);
  await expect(page.getByRole('region', { name: 'Strokes' }).getByRole('listitem')).toHaveCount(1);
  await press('Control+z');
  await expect(page.getByRole('region', { name: 'Strokes' }).getByRole('listitem')).toHaveCount(2);
  await settled(page);
  await page.getByLabel('Frame', { exact: true }).fill('41');
  await press('Tab');
  await press('b');
  await page.getByLabel('Frame', { exact: true }).fill('40');
  await press('Tab');
  await press('b');
  await page.getByLabel('Frame', { exact: true }).fill('42');
  await press('Tab');
  await press('n');
  await press('Control+Enter');
  await found(page, '3 of 84 frames found from one painted frame.');
});

test('carrying is paused and cancelled; what is wrong is said in words', async ({ page }) => {
  await freshShot(page, 'courier-on-the-quay.mp4', 'Paused');
  await viewer(page).focus();
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('There is no Peel here yet')).toBeVisible();
  await goToFrame(page, 0);
  await viewer(page).focus();
  await page.keyboard.press('z');
  await paint(page, [
    [200, 200],
    [230, 200],
  ]);
  await page.getByRole('button', { name: 'Carry onwards' }).click();
  const carry = page.getByRole('region', { name: 'Carry' });
  await carry.getByRole('button', { name: 'Pause' }).click();
  await expect(carry.getByText('paused')).toBeVisible();
  await carry.getByRole('button', { name: 'Go on' }).click();
  await expect(carry.getByRole('button', { name: 'Pause' })).toBeVisible();
  await carry.getByRole('button', { name: 'Cancel' }).click();
  await expect(carry.getByRole('progressbar')).toHaveCount(0);
  // What was found until then stays.
  await found(page, /^\d+ of 84 frames found from one painted frame\.$/);
});

test('what a click takes is shown before it is made; a stroke is erased in its middle', async ({ page }) => {
  await freshShot(page, 'courier-on-the-quay.mp4', 'Clicks');
  const place = await placeIn(page);
  await goToFrame(page, 40);
  await viewer(page).focus();
  await page.keyboard.press('z');
  await page.getByRole('radio', { name: 'Matte', exact: true }).click();
  await page.getByRole('button', { name: 'Show what a click takes' }).click();
  await page.mouse.move(...place(540, 300));
  await expect.poll(async () => (await shown(page, 540, 300))[0]).toBeGreaterThan(200);
  await expect(page.getByRole('button', { name: 'Nothing to undo' })).toBeDisabled();
  await page.mouse.move(...place(200, 480));
  await expect.poll(async () => (await shown(page, 540, 300))[0]).toBeLessThan(50);
  await page.mouse.click(...place(540, 300));
  await settled(page);
  await expect(page.getByRole('region', { name: 'Strokes' }).getByRole('listitem')).toHaveCount(1);
  await page.getByRole('button', { name: 'Show what a click takes' }).click();
  await paint(
    page,
    [
      [100, 450],
      [800, 450],
    ],
    true,
  );
  await page.getByRole('radio', { name: 'Erase' }).click();
  await paint(page, [
    [400, 440],
    [420, 460],
  ]);
  await expect(page.getByRole('region', { name: 'Strokes' }).getByRole('listitem')).toHaveCount(3);
  await expect(page.getByRole('button', { name: 'Undo: Erase strokes' })).toBeVisible();
});

test('a pen paints as wide as it is pressed', async ({ page }) => {
  await freshShot(page, 'courier-on-the-quay.mp4', 'Pen');
  await goToFrame(page, 40);
  await viewer(page).focus();
  await page.keyboard.press('z');
  await page.getByLabel('Radius').fill('40');
  await page.keyboard.press('Tab');
  await viewer(page).focus();
  const place = await placeIn(page);
  const [left, top] = place(300, 200);
  const [right, bottom] = place(700, 400);
  const clip = { x: left, y: top, width: right - left, height: bottom - top };
  const seen = async () => {
    // Away from the picture, so that the brush's own ring is not seen.
    await page.mouse.move(4, 4);
    return sharp(await page.screenshot({ clip }))
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
  };
  const before = await seen();
  const session = await page.context().newCDPSession(page);
  const pen = (type: 'mousePressed' | 'mouseMoved' | 'mouseReleased', x: number, force: number) => {
    const [px, py] = place(x, 300);
    return session.send('Input.dispatchMouseEvent', { type, x: px, y: py, button: 'left', buttons: 1, clickCount: 1, pointerType: 'pen', force });
  };
  await pen('mousePressed', 400, 0.1);
  for (let k = 1; k <= 20; k++) await pen('mouseMoved', 400 + 10 * k, 0.1 + (0.9 * k) / 20);
  await pen('mouseReleased', 600, 0);
  await settled(page);
  await expect(page.getByRole('region', { name: 'Strokes' }).getByRole('listitem')).toHaveCount(1);
  await page.getByRole('radio', { name: 'Plate', exact: true }).click();
  const after = await seen();
  /** Rows in which a column of the plate changed. */
  const width = (x: number) => {
    const column = Math.round(((x - 300) / 400) * after.info.width);
    let rows = 0;
    for (let y = 0; y < after.info.height; y++) {
      const at = 3 * (y * after.info.width + column);
      if ([0, 1, 2].some((c) => Math.abs(after.data[at + c] - before.data[at + c]) > 12)) rows++;
    }
    return (rows * 200) / after.info.height;
  };
  expect(width(420)).toBeLessThan(30);
  expect(width(590)).toBeGreaterThan(55);
  expect(width(500)).toBeGreaterThan(width(420));
});
