/** Whole jobs with elements: what is put behind, on and in front of a moving subject, through the interface and as it is written. */
import { execFileSync } from 'node:child_process';
import path from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { expect, test } from '@playwright/test';
import { add, apart, colour, composed, HEIGHT, lanes, setColour, settings, WIDTH } from './compose-work.ts';
import { agreement, filled, signAt } from './marks.ts';
import { carriedCourier, truthOf } from './peel-work.ts';
import { choose, drag, drawPolygon, freshShot, goToFrame, mattesOf, placeIn, setNumber, settled, shapeOf, shown, temporary, viewer } from './workbench.ts';

test('a title and rings lie behind the courier, who stays as he was, and in front of all else', async ({ page }) => {
  await carriedCourier(page, 'Behind the courier', 38, 42);
  const mattes = await mattesOf(page, 38, 42);
  await page.getByRole('link', { name: 'Compose', exact: true }).click();
  await goToFrame(page, 40);
  await add(page, 'behind Subject 1', 'Title');
  await settings(page).getByLabel('Words', { exact: true }).fill('LOW TIDE\nPOST');
  await settings(page).getByLabel('Words', { exact: true }).press('Control+Enter');
  await settled(page);
  await setNumber(page, 'Size', '150');
  await setColour(page, 'Colour', '#ffffff');
  // Dragged by hand from the middle of the plate to where the courier rides through it.
  const place = await placeIn(page);
  await expect(page.locator('[data-element-frame]')).toBeVisible();
  await drag(page, place(480, 270), place(500, 250));
  await expect(page.getByRole('textbox', { name: 'X', exact: true })).toHaveValue(/^(499\.\d|500|500\.\d)$/);

  // Rings leave his outline, from the frame on which they are there; they are dark, and screened by nothing.
  await page.keyboard.press('Escape');
  await add(page, 'behind Subject 1', 'Rings');
  await setNumber(page, 'Births', '6');
  await setNumber(page, 'Spread', '240');
  await setNumber(page, 'First width', '12');
  await setNumber(page, 'Last width', '12');
  await setNumber(page, 'Fade out', '0');
  await setNumber(page, 'Glow', '0');
  await setColour(page, 'Colour', '#000000');
  await expect(lanes(page).getByRole('button', { name: /^(Title|Rings) 1$/ })).toHaveCount(2);

  const { picture, plate } = await composed(page, 38, 42, 'courier-on-the-quay.mp4');
  for (const frame of [38, 40, 42]) {
    const [is, was, matte, truth] = [picture[frame - 38], plate[frame - 38], mattes(frame), truthOf(frame)];
    let inside = 0;
    let changed = 0;
    let ofHim = 0;
    let white = 0;
    let black = 0;
    for (let p = 0; p < WIDTH * HEIGHT; p++) {
      if (matte[p] > 250) {
        inside++;
        // Coding moves colours a little.
        if (apart(is, was, p) > 24) changed++;
      } else if (matte[p] < 5 && apart(is, was, p) > 60) {
        if (is[3 * p] > 225) white++;
        if (is[3 * p] < 30) black++;
        if (truth[p] > 250) ofHim++;
      }
    }
    expect(changed / inside, `on him, frame ${frame}`).toBeLessThan(0.01);
    expect(white, `letters, frame ${frame}`).toBeGreaterThan(20_000);
    expect(black, `rings, frame ${frame}`).toBeGreaterThan(8000);
    // What the matte misses of him (wheels without a stroke) is covered with the rest.
    expect(ofHim / (white + black), `of him, frame ${frame}`).toBeLessThan(0.12);
  }

  // It is all still there to be changed: undone and done again, switched off, and its keys are in the Sheet.
  await page.getByRole('link', { name: 'Compose', exact: true }).click();
  await lanes(page).getByRole('button', { name: 'Rings 1', exact: true }).click();
  await settings(page).getByRole('button', { name: 'Let colour change over time: key it on this frame' }).click();
  await settled(page);
  await expect(page.getByRole('region', { name: 'Sheet' }).getByText('Colour', { exact: true })).toBeVisible();
  await page.keyboard.press('Control+z');
  await settled(page);
  await expect(page.getByRole('region', { name: 'Sheet' }).getByText('Colour', { exact: true })).toBeHidden();
  await page.mouse.move(5, 5);
  const { violations } = await new AxeBuilder({ page }).analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(', ')}`)).toEqual([]);
});

test('a subject on a new background, and the same subject once more, rising from behind a ledge with motion blur', async ({ page }) => {
  await freshShot(page, 'dune-kite.mp4', 'Once more');
  // The subject is a box of the picture; the ledge, nearer than it, is the lower part.
  await shapeOf(page, 'rectangle', [100, 100], [260, 220]);
  await page.getByRole('button', { name: 'Add a subject' }).click();
  await settled(page);
  await shapeOf(page, 'rectangle', [-8, 400], [966, 560]);
  await page.getByRole('link', { name: 'Compose', exact: true }).click();
  await settled(page);
  await expect(lanes(page).getByRole('heading', { level: 3 })).toHaveText([
    /^Front/,
    /^Rim Subject 1/,
    /^Inside Subject 1/,
    /^Behind Subject 1/,
    /^Rim Subject 2/,
    /^Inside Subject 2/,
    /^Behind Subject 2/,
    /^Backdrop/,
  ]);

  // A still from disk behind everything.
  const still = path.join(temporary(), 'blue.png');
  execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'color=c=0x2040c0:s=480x270', '-frames:v', '1', still]);
  await add(page, 'to backdrop', 'Footage');
  await settings(page).getByLabel('Pictures of an element').setInputFiles(still);
  await expect(page.getByRole('textbox', { name: 'Scale', exact: true })).toHaveValue('200.0', { timeout: 60_000 });
  await settled(page);
  await expect.poll(() => shown(page, 700, 200)).toEqual([expect.closeTo(32, -1), expect.closeTo(64, -1), expect.closeTo(192, -1), 255]);

  // A thing with alpha on top of it, for as long as it is looked at: what is clear in it shows what lies below.
  const thing = path.join(temporary(), 'thing.png');
  execFileSync('ffmpeg', [
    ...['-v', 'error', '-f', 'lavfi', '-i', 'color=c=black:s=200x100,format=rgba,geq=r=240:g=220:b=20:a=255*gte(X\\,100)', '-frames:v', '1'],
    thing,
  ]);
  await add(page, 'to front', 'Footage');
  await settings(page).getByLabel('Pictures of an element').setInputFiles(thing);
  await expect(lanes(page).getByRole('button', { name: 'thing', exact: true })).toBeVisible({ timeout: 60_000 });
  await settled(page);
  await setNumber(page, 'X', '700');
  await setNumber(page, 'Y', '200');
  await expect.poll(async () => [(await shown(page, 650, 200))[2] > 150, (await shown(page, 750, 200))[0] > 200]).toEqual([true, true]);
  await expect(page.getByRole('textbox', { name: 'Scale', exact: true })).toHaveValue('100.0');
  await viewer(page).focus();
  await page.keyboard.press('Delete');
  await settled(page);

  // The cut-out comes up from below the ledge between frames 10 and 20, covered by it.
  await add(page, 'behind Subject 2', 'Cut-out');
  await choose(page, 'Made from', 'Subject 1');
  await settled(page);
  await setNumber(page, 'X', '780');
  for (const [frame, y] of [
    [10, '670'],
    [20, '350'],
  ] as const) {
    await goToFrame(page, frame);
    if (frame === 10) await settings(page).getByRole('button', { name: 'Let y change over time: key it on this frame' }).click();
    await settled(page);
    await setNumber(page, 'Y', y);
  }
  await setNumber(page, 'Motion blur', '180');
  const { picture, plate } = await composed(page, 8, 22, 'dune-kite.mp4');
  const blue = (c: number[]) => c[2] > 150 && c[0] < 70;
  // Where the subject was it is still; where the ledge is, the ledge; elsewhere the still.
  for (const frame of [8, 22]) {
    const [is, was] = [picture[frame - 8], plate[frame - 8]];
    for (const [x, y] of [
      [180, 160],
      [500, 480],
    ])
      for (let c = 0; c < 3; c++) expect(Math.abs(colour(is, x, y)[c] - colour(was, x, y)[c]), `${x}, ${y}, frame ${frame}`).toBeLessThan(16);
    expect(blue(colour(is, 600, 300)), `frame ${frame}`).toBe(true);
  }
  // 300 to the right; 400 lower and hidden at first, 80 lower in the end.
  expect(blue(colour(picture[0], 480, 240))).toBe(true);
  const [end, from] = [picture[14], plate[14]];
  for (let c = 0; c < 3; c++) expect(Math.abs(colour(end, 480, 240)[c] - colour(from, 180, 160)[c])).toBeLessThan(20);
  // On its way its upper side is soft over as far as it goes while the shutter is open: half of 32 pixels.
  const column = Array.from({ length: 120 }, (_, i) => colour(picture[7], 480, 240 + i)[0]);
  const [top, bottom] = [column[0], column[119]];
  const soft = column.filter((v) => v > top + 0.1 * (bottom - top) && v < bottom - 0.1 * (bottom - top)).length;
  expect(soft).toBeGreaterThan(8);
  expect(soft).toBeLessThan(20);
});

test('a card lies on the tracked sign with its corners, and a line draws itself round it', async ({ page }) => {
  await freshShot(page, 'ferry-ramp.mp4', 'On the sign');
  await goToFrame(page, 59);
  await drawPolygon(page, signAt(59));
  const panel = page.getByRole('region', { name: 'Track', exact: true });
  await choose(page, 'Motion', 'Perspective');
  await panel.getByRole('button', { name: 'Track back', exact: true }).click();
  await expect(panel).toContainText(/Followed on \d+ frames of 0 to 59/, { timeout: 120_000 });
  await settled(page);
  await page.getByRole('link', { name: 'Compose', exact: true }).click();
  await add(page, 'to front', 'Card');
  await choose(page, 'Colours', '1');
  await setColour(page, 'Colour 1', '#00ff00');
  await choose(page, 'Follows', /^Track of/);
  await settled(page);
  await page.getByRole('button', { name: 'On the region' }).click();
  await settled(page);
  const first = await composed(page, 20, 59, 'ferry-ramp.mp4');
  const green = (picture: Buffer) => Float32Array.from({ length: WIDTH * HEIGHT }, (_, p) => (picture[3 * p + 1] > 150 && picture[3 * p] < 90 ? 255 : 0));
  for (const frame of [20, 33, 46, 59]) {
    expect(agreement(green(first.picture[frame - 20]), filled(signAt(frame))), `frame ${frame}`).toBeGreaterThan(0.93);
  }

  // One of its corners is dragged away by hand, and the step taken back.
  await page.getByRole('link', { name: 'Compose', exact: true }).click();
  await goToFrame(page, 59);
  await lanes(page).getByRole('button', { name: 'Card 1', exact: true }).click();
  await expect(page.locator('[data-element-frame]')).toBeVisible();
  const place = await placeIn(page);
  const [x, y] = signAt(59)[0];
  await drag(page, place(x, y), place(x - 60, y - 60));
  await expect(page.getByRole('button', { name: /^Undo: Move corner/ })).toBeVisible();
  await expect.poll(async () => (await shown(page, x - 12, y - 12))[1]).toBeGreaterThan(200);
  await page.keyboard.press('Control+z');
  await settled(page);
  await lanes(page).getByRole('button', { name: 'Switch Card 1 off' }).click();
  await settled(page);

  // A line outside the curve that was tracked, from no length to all of it.
  await add(page, 'to front', 'Line');
  await choose(page, 'Made from', 'Subject 1: Spline 1');
  await setColour(page, 'Colour', '#ff00ff');
  await setNumber(page, 'Width', '6');
  await setNumber(page, 'Offset', '6');
  await choose(page, 'Corners', 'Square');
  await goToFrame(page, 30);
  await settings(page).getByRole('button', { name: 'Let to change over time: key it on this frame' }).click();
  await settled(page);
  await setNumber(page, 'To', '0');
  await goToFrame(page, 50);
  await setNumber(page, 'To', '100');
  const drawn = await composed(page, 30, 59, 'ferry-ramp.mp4');
  const ink = (frame: number) => {
    const picture = drawn.picture[frame - 30];
    let count = 0;
    for (let p = 0; p < WIDTH * HEIGHT; p++) if (picture[3 * p] > 170 && picture[3 * p + 1] < 90 && picture[3 * p + 2] > 170) count++;
    return count;
  };
  /** Round the sign with square corners, six pixels away from it. */
  const whole = (frame: number) => {
    const points = signAt(frame);
    const round = points.reduce((sum, [px, py], i) => sum + Math.hypot(points[(i + 1) % 4][0] - px, points[(i + 1) % 4][1] - py), 0);
    return 6 * (round + 8 * 6);
  };
  expect(ink(30)).toBe(0);
  expect(ink(59) / whole(59)).toBeGreaterThan(0.85);
  expect(ink(59) / whole(59)).toBeLessThan(1.1);
  expect(ink(40) / whole(40)).toBeGreaterThan(0.3);
  expect(ink(40) / whole(40)).toBeLessThan(0.65);
});

test('elements are placed by keys alone, kept as presets, and say what they lack', async ({ page }) => {
  await freshShot(page, 'dune-kite.mp4', 'By keys');
  await page.getByRole('link', { name: 'Compose', exact: true }).click();
  await add(page, 'to front', 'Rings');
  // Without a subject there is nothing to be seen, and it is said.
  await expect(settings(page)).toContainText('In this lane it has no subject of its own: choose what it is made from.');
  await add(page, 'to front', 'Title');
  await settings(page).getByLabel('Words', { exact: true }).fill('Łódź 水');
  await settings(page).getByLabel('Words', { exact: true }).press('Control+Enter');
  await expect(settings(page)).toContainText('The typeface has no 水: left out of the picture.');
  await expect(page.locator('[data-element-frame]')).toBeVisible();
  await viewer(page).focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('ArrowUp');
  await settled(page);
  await expect(page.getByRole('textbox', { name: 'X', exact: true })).toHaveValue('510.0');
  await expect(page.getByRole('textbox', { name: 'Y', exact: true })).toHaveValue('269.0');
  await setNumber(page, 'Turn', '30');
  await page.getByRole('button', { name: 'Presets of title 1' }).click();
  await page.getByRole('menuitem', { name: 'Save as preset …' }).click();
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Leaning');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('The preset Leaning is in the library')).toBeVisible();
  await add(page, 'to front', 'Title');
  await expect(page.getByRole('textbox', { name: 'Turn', exact: true })).toHaveValue('0.0');
  await page.getByRole('button', { name: 'Presets of title 2' }).click();
  await page.getByRole('menuitem', { name: 'Leaning', exact: true }).click();
  await settled(page);
  await expect(page.getByRole('textbox', { name: 'Turn', exact: true })).toHaveValue('30.0');
  await lanes(page).getByRole('button', { name: 'More for Title 2' }).click();
  await page.getByRole('menuitem', { name: 'Rename …' }).click();
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Ebb');
  await page.getByRole('button', { name: 'Rename', exact: true }).click();
  await lanes(page).getByRole('button', { name: 'More for Ebb' }).click();
  await page.getByRole('menuitem', { name: 'Duplicate' }).click();
  await settled(page);
  await expect(lanes(page).getByRole('button', { name: 'Ebb copy', exact: true })).toHaveAttribute('aria-pressed', 'true');
  // What is typed out of range comes back within it.
  await setNumber(page, 'Size', '-4');
  await expect(page.getByRole('textbox', { name: 'Size', exact: true })).toHaveValue('0');
  await viewer(page).focus();
  await page.keyboard.press('Delete');
  await settled(page);
  await expect(lanes(page).getByRole('button', { name: 'Ebb copy', exact: true })).toHaveCount(0);
});

test('an element has effects of its own: they change it alone, in their order, by keys, and go with it', async ({ page }) => {
  await freshShot(page, 'empty-quay.mp4', 'Its own effects');
  await page.getByRole('link', { name: 'Compose', exact: true }).click();
  await add(page, 'to front', 'Card');
  await setColour(page, 'Colour 1', '#e04010');
  await choose(page, 'Colours', '1');
  await settled(page);
  const beside = await shown(page, 60, 60);
  const inside = () => shown(page, 480, 270);
  await expect.poll(inside).toEqual([expect.closeTo(224, -1), expect.closeTo(64, -1), expect.closeTo(16, -1), 255]);

  const its = settings(page).getByRole('region', { name: 'Effects of Card 1' });
  await its.getByRole('button', { name: 'Add an effect to Card 1' }).click();
  await page.getByRole('option', { name: /^Monochrome/ }).click();
  await settled(page);
  const spread = ([r, g, b]: number[]) => Math.max(r, g, b) - Math.min(r, g, b);
  await expect.poll(async () => spread(await inside())).toBeLessThan(6);
  expect(await shown(page, 60, 60)).toEqual(beside);

  // One that fills comes after it, by keyboard: the focus stayed where the menu was opened. Then before it.
  await page.keyboard.press('Enter');
  await expect(page.getByRole('option', { name: /^Solid/ })).toBeVisible();
  await page.keyboard.type('Solid');
  await page.keyboard.press('Enter');
  await settled(page);
  await expect.poll(async () => spread(await inside())).toBeGreaterThan(30);
  expect(await shown(page, 60, 60)).toEqual(beside);
  await its.getByRole('button', { name: 'Move Solid down' }).click();
  await settled(page);
  await expect.poll(async () => spread(await inside())).toBeLessThan(6);

  // Switched off, deleted and brought back; a copy of the element has them too; after a reload all is there.
  await its.getByRole('button', { name: 'Switch Monochrome off' }).click();
  await expect.poll(async () => spread(await inside())).toBeGreaterThan(30);
  await its.getByRole('button', { name: 'Delete Monochrome' }).click();
  await expect(its.getByRole('listitem')).toHaveCount(1);
  await page.keyboard.press('Control+z');
  await expect(its.getByRole('listitem')).toHaveCount(2);
  await lanes(page).getByRole('button', { name: 'More for Card 1' }).click();
  await page.getByRole('menuitem', { name: 'Duplicate' }).click();
  await settled(page);
  await page.reload();
  await lanes(page).getByRole('button', { name: 'Card 1 copy', exact: true }).click();
  await expect(settings(page).getByRole('region', { name: 'Effects of Card 1 copy' }).getByRole('listitem')).toHaveCount(2);
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
});
