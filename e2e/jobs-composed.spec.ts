/** More whole jobs: those that are done on the Compose bench above all. Their actions are told in docs/jobs.md. */
import { expect, type Page, test } from '@playwright/test';
import sharp from 'sharp';
import { addTo, apart, bench, corners, footage, goTo, Hand, leftOn, TOP } from './hand.ts';
import { BODY, kept, MEADOW, onThing, openFirstOf, outlineAndTrack, written } from './job-work.ts';
import { address } from './workbench.ts';

/** The colour that the viewer shows at a place of the plate. */
const seenAt = async (page: Page, x: number, y: number): Promise<number[]> => {
  const box = await page.locator('[data-viewer]').boundingBox();
  if (!box) throw new Error('There is no viewer.');
  const [sx, sy] = await new Hand(page).at(x, y);
  const shot = await page.screenshot({ clip: { x: Math.round(sx), y: Math.round(sy), width: 1, height: 1 } });
  return [...(await sharp(shot).removeAlpha().raw().toBuffer())];
};

const spread = (c: number[]) => Math.max(...c) - Math.min(...c);

test('1: rings from the body, with a glow on the rings alone, behind the subject and in front of the rest', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await hand.isolate();
  await bench(hand, 'Compose');
  await addTo(hand, 'behind Subject 1', /^Rings/);
  await hand.number('Births', 6);
  await hand.click('Add an effect to Rings 1');
  await hand.click(page.getByRole('option', { name: /^Glow/ }));
  await hand.saved();
  const pixel = await written(hand, page);
  // Somewhere round the thing there is light that the wall does not have, and the thing is as it was.
  const right = (frame: number) => Array.from({ length: 70 }, (_, k) => pixel(frame, Math.min(319, leftOn(frame) + 72 + k), TOP + 35)[0]);
  for (const frame of [8, 14]) {
    expect(Math.max(...right(frame))).toBeGreaterThan(160);
    expect(apart(pixel(...onThing(frame, 35, 12)), BODY)).toBeLessThan(45);
  }
  kept(hand, 1);
});

test('3: a lamp blinks: lids close and open over it in proportion to the shot, and the picture is slowed down', async ({ page }) => {
  const hand = new Hand(page);
  await outlineAndTrack(hand);
  await bench(hand, 'Compose');
  await addTo(hand, 'inside Subject 1', /^Lids/);
  await hand.choose('Follows', /Track|Region/);
  await hand.click('On the region');
  await hand.saved();
  await hand.click(page.getByRole('region', { name: 'The whole picture' }).getByRole('button', { name: /^Timing/ }));
  await hand.click(page.getByLabel('Own speed'));
  await hand.number('Speed', 50);
  await expect(page.getByText('24 frames become 47')).toBeVisible();
  const pixel = await written(hand, page);
  // At half the speed, frame 2n shows frame n: open at 0, closed at a third, open again at the end.
  const lamp = (frame: number) => pixel(2 * frame, leftOn(frame) + 35, TOP + 12);
  expect(apart(lamp(2), BODY)).toBeLessThan(45);
  expect(apart(lamp(8), BODY)).toBeGreaterThan(60);
  expect(apart(lamp(20), BODY)).toBeLessThan(45);
  // Beside the lamp nothing is covered.
  expect(apart(pixel(16, leftOn(8) + 90, TOP + 35), [53, 80, 110])).toBeLessThan(60);
  kept(hand, 3);
});

test('12: colour spreads with the brightness of another clip, the subject in colour always, and the picture zooms', async ({ page }) => {
  const hand = new Hand(page);
  await openFirstOf(hand, footage().walker, footage().spread);
  await hand.isolate();
  await bench(hand, 'Compose');
  await addTo(hand, 'behind Subject 1', /^Monochrome/);
  await hand.choose('Matte', /tide/i);
  await hand.saved();
  await hand.choose('Shows', 'Where it is dark');
  await hand.saved();
  await hand.click(page.getByRole('region', { name: 'The whole picture' }).getByRole('button', { name: /^Framing/ }));
  await hand.saved();
  await hand.number('Scale', 120);
  const pixel = await written(hand, page);
  /** A place of the plate as it is seen: a fifth farther from the middle. */
  const seen = (frame: number, x: number, y: number) => pixel(frame, Math.round(160 + 1.2 * (x - 160)), Math.round(90 + 1.2 * (y - 90)));
  // On frame 4 the white reaches 80 px from the corner, on frame 20 it reaches 240.
  expect(spread(seen(4, 48, 24))).toBeGreaterThan(30);
  expect(spread(seen(4, 220, 40))).toBeLessThan(12);
  expect(spread(seen(20, 120, 40))).toBeGreaterThan(30);
  for (const frame of [4, 12]) expect(apart(seen(frame, leftOn(frame) + 35, TOP + 12), BODY)).toBeLessThan(45);
  kept(hand, 12);
});

test('13: wiped by what passes: the second shot comes in behind it, as fast as it goes', async ({ page }) => {
  const hand = new Hand(page);
  await openFirstOf(hand, footage().walker, footage().other);
  await hand.isolate();
  await bench(hand, 'Compose');
  await addTo(hand, 'behind Subject 1', /^Wipe/);
  await hand.choose('Footage', /meadow/i);
  await hand.saved();
  // The middle of what passes is at 55 px of 320 on the first frame, at 216 on the last.
  await hand.click('Let done change over time: key it on this frame');
  await hand.number('Done', 17);
  await goTo(hand, 23);
  await hand.number('Done', 67.5);
  const pixel = await written(hand, page);
  for (const frame of [4, 12, 20]) {
    expect(apart(pixel(frame, Math.max(2, leftOn(frame) - 12), TOP + 35), MEADOW)).toBeLessThan(40);
    expect(apart(pixel(frame, Math.min(317, leftOn(frame) + 84), TOP + 45), MEADOW)).toBeGreaterThan(30);
    expect(apart(pixel(...onThing(frame, 35, 12)), BODY)).toBeLessThan(45);
  }
  kept(hand, 13);
});

/** Goes to another shot of the production by the list of commands: two actions. */
async function openShot(hand: Hand, name: string): Promise<void> {
  await hand.press('Control+k');
  await hand.type(`Shot ${name}`);
  await hand.page.keyboard.press('Enter');
  await expect(hand.page).toHaveTitle(new RegExp(name));
  await hand.saved();
}

test('14: the same thing twice: isolated in one take, put into the other with no file between, right there when it is mended here', async ({
  page,
  context,
}) => {
  const hand = new Hand(page);
  await openFirstOf(hand, footage().walker, footage().again);
  await hand.isolate();
  await bench(hand, 'Edge');
  await hand.number('Feather out', 0);
  await hand.number('Grow', -1);
  const first = page.url();
  await openShot(hand, 'harbour_again');
  await bench(hand, 'Compose');
  await addTo(hand, 'to front', /^Footage/);
  await hand.choose('Footage', 'harbour_walker: Subject 1');
  await hand.saved();
  const second = page.url();
  const pixel = await written(hand, page);
  for (const frame of [1, 12, 22]) {
    expect(apart(pixel(...onThing(frame, 35, 12)), BODY), `the first, frame ${frame}`).toBeLessThan(45);
    // Lower down it is the other one, as it was filmed.
    expect(apart(pixel(frame, 240 - 7 * frame + 60, TOP + 45 + 65), BODY), `the second, frame ${frame}`).toBeLessThan(45);
    // No glow round it: beside the edge the wall is as it is elsewhere.
    expect(apart(pixel(frame, leftOn(frame) - 4, TOP + 5), [53, 80, 110]), `beside, frame ${frame}`).toBeLessThan(55);
  }
  kept(hand, 14);
  // Mended in another window, it is right here at once.
  await page.goto(second);
  await hand.saved();
  await goTo(hand, 2);
  const looked = async () => apart(await seenAt(page, leftOn(2) + 35, TOP + 12), BODY);
  await expect.poll(looked, { timeout: 20_000 }).toBeLessThan(45);
  const other = await context.newPage();
  await other.goto(first);
  await other.getByRole('button', { name: /^Switch Peel.* off$/ }).click();
  await expect(other.getByLabel('Saving')).toHaveText('Saved');
  await expect.poll(looked, { timeout: 20_000 }).toBeGreaterThan(60);
});

test('4: only the thing breaks up: a curve round it, dragged to fit every few frames, the plate untouched behind', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await hand.next('Draw round it');
  await hand.polygon(corners(0));
  await hand.click(page.getByRole('radio', { name: 'Change curves' }));
  // By its inside, on three frames; keys are made by that.
  let from = leftOn(0);
  for (const frame of [8, 16, 23]) {
    await goTo(hand, frame);
    await hand.drag([
      [from + 35, TOP + 40],
      [leftOn(frame) + 35, TOP + 40],
    ]);
    await hand.saved();
    from = leftOn(frame);
  }
  await bench(hand, 'Compose');
  await addTo(hand, 'inside Subject 1', /^Break-up/);
  await hand.number('Shift', 30);
  await hand.number('Bands', 100);
  const pixel = await written(hand, page);
  for (const frame of [4, 12, 20]) {
    // Of the thing much is not where it was; of the wall all is.
    const rows = Array.from({ length: 33 }, (_, k) => [2 + 2 * k, apart(pixel(frame, leftOn(frame) + 4, TOP + 2 + 2 * k), BODY)]);
    expect(rows.filter(([, far]) => far > 45).length, `frame ${frame}`).toBeGreaterThan(6);
    expect(apart(pixel(frame, Math.max(3, leftOn(frame) - 14), 30), [53, 80, 110])).toBeLessThan(60);
    expect(apart(pixel(frame, 310, 165), [53, 80, 110])).toBeLessThan(60);
  }
  kept(hand, 4);
});

test('20: cut in two: the upper half lifted off, a beam fixed to it, flames behind, all else going out of focus', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await hand.isolate();
  await bench(hand, 'Compose');
  await hand.click('Starts');
  await hand.type('cut in two');
  await page.keyboard.press('Enter');
  await hand.click('Lay out');
  await hand.saved();
  await addTo(hand, 'to front', /^Beam/);
  await hand.choose('First end', 'Fixed to Upper half');
  await hand.saved();
  await addTo(hand, 'behind Subject 1', /^Flames/);
  await addTo(hand, 'behind Subject 1', /^Lens blur/);
  // Out of focus from frame 16 on.
  await goTo(hand, 16);
  await hand.press('b');
  await goTo(hand, 23);
  await hand.press('n');
  await hand.click('Marked range');
  await hand.saved();
  const pixel = await written(hand, page);
  // Lifted by an eighth of the height: where there was wall over the thing there is the thing, and its foot is where it was.
  expect(apart(pixel(2, leftOn(2) + 10, TOP - 10), BODY)).toBeGreaterThan(60);
  expect(apart(pixel(20, leftOn(20) + 10, TOP - 10), BODY)).toBeLessThan(45);
  expect(apart(pixel(20, leftOn(20) + 6, TOP + 62), BODY)).toBeLessThan(45);
  // The place between the halves is clean of it.
  expect(apart(pixel(20, leftOn(20) + 10, TOP + 20), BODY)).toBeGreaterThan(45);
  // The beam, and its first end, which went up with the half.
  expect(Math.max(...pixel(4, 220, 90))).toBeGreaterThan(150);
  expect([Math.max(...pixel(20, 100, 71)) > 150, Math.max(...pixel(20, 100, 90)) > 150]).toEqual([true, false]);
  // Flames: something far redder than the wall, low in the picture; and the grain of the wall is gone once it is out of focus.
  const low = (frame: number) => Array.from({ length: 40 }, (_, k) => pixel(frame, 100 + 3 * k, 165)).filter(([r, , b]) => r > b + 60).length;
  expect(low(6)).toBeGreaterThan(5);
  const grain = (frame: number) => {
    const row = Array.from({ length: 36 }, (_, k) => pixel(frame, 282 + k, 15)[2]);
    return row.slice(1).reduce((sum, v, k) => sum + Math.abs(v - row[k]), 0) / row.length;
  };
  expect(grain(20)).toBeLessThan(0.5 * grain(10));
  kept(hand, 20);
});

/** The meadow is greener than blue, the wall bluer than green. */
const isGreen = ([, g, b]: number[]): boolean => g > b;

test('7: a ready-made shape as the way from one shot to the next: it opens from nothing to beyond the picture', async ({ page }) => {
  const hand = new Hand(page);
  await openFirstOf(hand, footage().walker, footage().other);
  await hand.click(page.getByRole('radio', { name: 'Ready-made shapes' }));
  await hand.chooseByKeys(page.getByLabel('Shape', { exact: true }), 'Heart');
  await hand.drag([
    [130, 60],
    [190, 120],
  ]);
  await hand.saved();
  await bench(hand, 'Compose');
  await addTo(hand, 'to front', /^Way to footage/);
  await hand.choose('Footage', /meadow/i);
  await hand.choose('Way', /outline, opens/);
  await hand.choose('Made from', /^Subject 1: /);
  await hand.saved();
  await hand.number('Begins', 6);
  await hand.number('Softness', 10);
  const pixel = await written(hand, page);
  const isMeadow = (frame: number, x: number, y: number) => isGreen(pixel(frame, x, y));
  expect([isMeadow(5, 160, 90), isMeadow(5, 10, 10)]).toEqual([false, false]);
  // It opens from its middle, and the corners come last.
  expect([isMeadow(9, 160, 85), isMeadow(9, 8, 8), isMeadow(9, 310, 170)]).toEqual([true, false, false]);
  for (const [x, y] of [
    [8, 8],
    [310, 8],
    [8, 170],
    [310, 170],
    [160, 90],
  ])
    expect(isMeadow(20, x, y), `${x},${y}`).toBe(true);
  kept(hand, 7);
});

test('8: isolated by strokes, held on top while two shots push past, joined and written as one', async ({ page }) => {
  const hand = new Hand(page);
  await openFirstOf(hand, footage().walker, footage().other);
  await hand.isolate();
  // Back by the name of the production, over the shot's.
  await hand.click(page.getByRole('link', { name: 'Harbour walker', exact: true }));
  await hand.click('Join shots …');
  const dialog = page.getByRole('dialog', { name: 'Join shots' });
  for (const name of [/walker/, /meadow/]) await hand.click(dialog.getByRole('checkbox', { name }));
  await hand.chooseByKeys(dialog.getByLabel('Way'), 'One pushes');
  await hand.chooseByKeys(dialog.getByLabel('Stays on top'), 'harbour_walker');
  await expect(dialog.getByText('A shot of 36 frames')).toBeVisible();
  await hand.click(dialog.getByRole('button', { name: 'Join', exact: true }));
  const joined = page.getByRole('list', { name: 'Shots' }).getByRole('link', { name: /walker to meadow/ });
  await hand.click(joined);
  await hand.saved();
  const pixel = await written(hand, page);
  // Before: the wall; after: the meadow; between, both go to the right, and the thing goes its own way over both.
  expect([isGreen(pixel(6, 300, 20)), isGreen(pixel(30, 300, 20))]).toEqual([false, true]);
  expect([isGreen(pixel(17, 40, 20)), isGreen(pixel(17, 300, 20))]).toEqual([true, false]);
  for (const frame of [2, 14, 17, 21]) expect(apart(pixel(...onThing(frame, 35, 12)), BODY), `frame ${frame}`).toBeLessThan(45);
  kept(hand, 8);
});

test('15: an outline draws itself, alone and see-through', async ({ page }) => {
  const hand = new Hand(page);
  await outlineAndTrack(hand);
  await bench(hand, 'Compose');
  await addTo(hand, 'to front', /^Line/);
  await hand.choose('Made from', /Spline/);
  await hand.saved();
  await hand.click('Let to change over time: key it on this frame');
  await hand.number('To', 0);
  await goTo(hand, 20);
  await hand.number('To', 100);
  await hand.number('Glow', 6);
  await bench(hand, 'Output');
  const pixel = await hand.write('Elements alone, ProRes 4444', 'rgba');
  // Nothing at first; on the last frames there is a line on all four sides, and nothing in the middle or far off.
  const alpha = (frame: number, x: number, y: number) => pixel(frame, leftOn(frame) + x, TOP + y)[3];
  expect([alpha(0, 35, 0), alpha(0, 0, 35), alpha(0, 35, 70)].every((a) => a < 8)).toBe(true);
  expect([alpha(22, 35, 0), alpha(22, 0, 35), alpha(22, 35, 70), alpha(22, 70, 35)].every((a) => a > 200)).toBe(true);
  expect([pixel(22, 20, 20)[3], alpha(22, 35, 35)]).toEqual([0, 0]);
  kept(hand, 15);
});

test('18: a part of one thing on another place, multiplied, and its colours made like those under it', async ({ page }) => {
  const hand = new Hand(page);
  await openFirstOf(hand, footage().walker, footage().other);
  await hand.isolate();
  await bench(hand, 'Compose');
  await addTo(hand, 'to backdrop', /^Footage/);
  await hand.choose('Footage', /meadow/i);
  await hand.saved();
  await addTo(hand, 'to front', /^Cut-out/);
  await hand.choose('Made from', /^Subject 1$/);
  await hand.saved();
  await hand.number('X', 250);
  await hand.number('Scale', 60);
  await hand.click('Add an effect to Cut-out 1');
  await hand.click(page.getByRole('option', { name: /^Match colour/ }));
  await hand.saved();
  await hand.click('Match on this frame');
  await expect(page.getByRole('button', { name: 'Undo: Match colour' })).toBeVisible();
  await hand.saved();
  const pixel = await written(hand, page);
  // What was amber has the green of the meadow; where it is dark in itself it is darker than that.
  const middle = (x: number, y: number) => pixel(0, Math.round(250 + 0.6 * (leftOn(0) + x - 160)), Math.round(90 + 0.6 * (TOP + y - 90)));
  const [r, g, b] = middle(35, 12);
  expect(g).toBeGreaterThan(r);
  expect(g).toBeGreaterThan(b);
  expect(apart(pixel(...onThing(0, 35, 12)), BODY)).toBeLessThan(45);
  kept(hand, 18);
});

test('5: through the window: what is behind it follows it, and an empty border is found and covered', async ({ page }) => {
  const hand = new Hand(page);
  await openFirstOf(hand, footage().walker, footage().other);
  await hand.next('Draw round it');
  await hand.polygon(corners(0));
  await hand.next(/^Track it through/);
  await expect(page.locator('[data-outcome]')).toContainText('Followed on', { timeout: 60_000 });
  await bench(hand, 'Compose');
  await addTo(hand, 'inside Subject 1', /^Footage/);
  await hand.choose('Footage', /meadow/i);
  await hand.saved();
  await hand.number('Scale', 40);
  // From the middle of the picture it does not reach all of the opening; the program says where.
  await expect(page.getByText(/^An empty border shows on/)).toBeVisible({ timeout: 30_000 });
  await hand.click('Cover');
  await hand.saved();
  await expect(page.getByText(/An empty border shows/)).toHaveCount(0, { timeout: 30_000 });
  await hand.choose('Follows', /Track|Region/);
  await hand.saved();
  const pixel = await written(hand, page);
  for (const frame of [0, 6, 12, 18, 23])
    for (const [x, y] of [
      [6, 6],
      [64, 6],
      [6, 64],
      [64, 64],
      [35, 35],
    ])
      expect(apart(pixel(...onThing(frame, x, y)), MEADOW), `frame ${frame} at ${x}, ${y}`).toBeLessThan(40);
  expect(apart(pixel(12, leftOn(12) + 90, TOP + 35), MEADOW)).toBeGreaterThan(30);
  kept(hand, 5);
});

test('a treatment goes to another shot and, as a preset, to another production; two subjects are joined into one', async ({ page }) => {
  const hand = new Hand(page);
  await openFirstOf(hand, footage().walker, footage().other);
  const boxes: [number, number][][] = [
    [
      [20, 20],
      [90, 80],
    ],
    [
      [200, 90],
      [300, 160],
    ],
  ];
  for (const [i, box] of boxes.entries()) {
    if (i > 0) await hand.click('Add a subject');
    await hand.click(page.getByRole('radio', { name: 'Ready-made shapes' }));
    await hand.drag(box);
    await hand.saved();
  }
  await page.getByRole('button', { name: 'More for Subject 1' }).hover();
  await hand.click(page.getByRole('button', { name: 'More for Subject 1' }));
  await hand.click(page.getByRole('menuitem', { name: 'New subject: with Subject 2' }));
  await hand.saved();
  await bench(hand, 'Compose');
  await addTo(hand, 'inside Subject 1 and Subject 2', /^Solid/);
  await addTo(hand, 'to front', /^Title/);
  await hand.click('Add an effect to Title 1');
  await hand.click(page.getByRole('option', { name: /^Glow/ }));
  await hand.saved();
  await hand.click(page.getByRole('textbox', { name: 'Words' }));
  await page.keyboard.press('Control+a');
  await hand.type('TIDE');
  await page.keyboard.press('Control+Enter');
  await hand.saved();
  // Kept under a name, with words and effects.
  await hand.click('Presets of title 1');
  await hand.click(page.getByRole('menuitem', { name: 'Save as preset …' }));
  await page.getByRole('dialog').getByLabel('Name').fill('Tide title');
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('is in the library, for all productions')).toBeVisible();
  // Copied to the other shot as it is.
  await page.getByRole('button', { name: 'Title 1', exact: true }).hover();
  await hand.click(page.getByRole('region', { name: 'Lanes' }).getByRole('button', { name: 'More for Title 1' }));
  await hand.click(page.getByRole('menuitem', { name: 'Copy elsewhere …' }));
  await page.getByRole('checkbox', { name: /meadow/i }).check();
  await page.getByRole('dialog').getByRole('button', { name: 'Copy' }).click();
  await expect(page.getByText(/^Copied to meadow/i)).toBeVisible();
  const pixel = await written(hand, page);
  // The joined subject is filled in both places, beside the letters.
  for (const [x, y] of [
    [24, 24],
    [296, 157],
  ])
    expect(apart(pixel(0, x, y), [46, 92, 107])).toBeLessThan(30);
  await page.goto(address());
  await page
    .getByRole('link', { name: /meadow/i })
    .first()
    .click();
  await bench(hand, 'Compose');
  await hand.click(page.getByRole('region', { name: 'Lanes' }).getByRole('button', { name: 'Title 1', exact: true }));
  await expect(page.getByRole('textbox', { name: 'Words' })).toHaveValue('TIDE');
  await expect(page.getByRole('region', { name: 'Effects of Title 1' }).getByRole('listitem')).toHaveCount(1);
  // In a production of its own the preset is offered, and gives all of it.
  await hand.openWith(footage().empty);
  await bench(hand, 'Compose');
  await addTo(hand, 'to front', /^Title/);
  await hand.click('Presets of title 1');
  await hand.click(page.getByRole('menuitem', { name: 'Tide title', exact: true }).last());
  await hand.saved();
  await expect(page.getByRole('textbox', { name: 'Words' })).toHaveValue('TIDE');
  await expect(page.getByRole('region', { name: 'Effects of Title 1' }).getByRole('listitem')).toHaveCount(1);
});
