/**
 * Whole jobs from footage to what is written, by pointer and keyboard, with their actions counted: docs/jobs.md tells the same numbers,
 * and is held to them here.
 */
import { expect, test } from '@playwright/test';
import { addTo, apart, bench, FRAMES, footage, Hand, leftOn, TOP } from './hand.ts';
import { BODY, kept, MEADOW, mark, onThing, openFirstOf, outlineAndTrack, STRIPE, written } from './job-work.ts';

test('2: the subject rises out of the ground, hidden by what is in front of it, eased, with motion blur', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await hand.isolate();
  await hand.click('Add a subject');
  await hand.click(page.getByRole('radio', { name: 'Ready-made shapes' }));
  await hand.drag([
    [-6, 130],
    [326, 186],
  ]);
  await hand.saved();
  await bench(hand, 'Compose');
  await hand.click('Starts');
  await hand.type('rising');
  await page.keyboard.press('Enter');
  await hand.choose('Subject', 'Subject 1');
  await hand.click('Lay out');
  await hand.saved();
  // The cut-out is selected: it rises behind the ground, beside where it was filmed.
  await hand.choose('Lane', 'Behind Subject 2');
  await hand.saved();
  await hand.number('X', 250);
  await hand.click('Curves over time');
  await hand.click(page.getByRole('application', { name: /^Value over frames/ }));
  await hand.press('n');
  await hand.click(page.getByRole('button', { name: 'Ease both', exact: true }));
  await hand.saved();
  const pixel = await written(hand, page);
  const copy = (frame: number, y: number) => apart(pixel(frame, Math.min(318, leftOn(frame) + 90 + 12), y), BODY);
  // Under the ground at first, and up from half of the shot on; on the way it is lower than it would be at an even speed.
  expect(copy(0, 126)).toBeGreaterThan(40);
  expect(copy(14, 72)).toBeLessThan(45);
  expect(copy(4, 118)).toBeGreaterThan(40);
  expect(copy(10, 85)).toBeLessThan(45);
  // Where it was filmed there is the wall, and what is in front is the plate still.
  expect(apart(pixel(...onThing(4, 35, 12)), [53, 80, 110])).toBeLessThan(60);
  expect(copy(14, 150)).toBeGreaterThan(40);
  kept(hand, 2);
});

test('6: blur what must not be seen, tracked', async ({ page }) => {
  const hand = new Hand(page);
  await outlineAndTrack(hand);
  await bench(hand, 'Compose');
  await addTo(hand, 'inside Subject 1', /^Gaussian blur/);
  await hand.number('Across', 30);
  await hand.number('Down', 30);
  const pixel = await written(hand, page);
  // The stripe has gone into the body, and the grid on the wall is as it was.
  for (const frame of [2, 12, 20]) {
    expect(apart(pixel(...onThing(frame, 35, 31)), STRIPE)).toBeGreaterThan(25);
    const grid = [-3, -2, -1, 0, 1, 2, 3].map((d) => pixel(frame, 300, 150 + d)[1]);
    expect(Math.max(...grid) - Math.min(...grid)).toBeGreaterThan(15);
  }
  kept(hand, 6);
});

test('9: stepping out from behind a pole, by a still mask and a quiet frame of the same take', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await hand.click(page.getByRole('radio', { name: 'Ready-made shapes' }));
  hand.actions++;
  await page.getByLabel('Shape', { exact: true }).selectOption('half-plane');
  await hand.drag([
    [160, 90],
    [260, 90],
  ]);
  await hand.saved();
  await bench(hand, 'Compose');
  await addTo(hand, 'inside Subject 1', /^Footage/);
  await hand.choose('Footage', 'This shot');
  await hand.choose('Shows', 'The frame below');
  const pixel = await written(hand, page);
  // What has come to the right of the pole is not there, what is to the left is.
  expect(apart(pixel(...onThing(12, 20, 12)), BODY)).toBeLessThan(40);
  expect(apart(pixel(12, 168, TOP + 12), BODY)).toBeGreaterThan(80);
  expect(apart(pixel(...onThing(22, 35, 12)), BODY)).toBeGreaterThan(80);
  kept(hand, 9);
});

test('10: a door opens onto another place, keyed by hand', async ({ page }) => {
  const hand = new Hand(page);
  await openFirstOf(hand, footage().walker, footage().other);
  await hand.next('Draw round it');
  await hand.polygon([
    [240, 20],
    [250, 20],
    [250, 160],
    [240, 160],
  ]);
  await hand.press('End');
  // The right side swings open: both of its points, in a box, dragged.
  await hand.drag([
    [246, 10],
    [262, 170],
  ]);
  await hand.drag([
    [250, 20],
    [310, 20],
  ]);
  await hand.saved();
  await bench(hand, 'Compose');
  await addTo(hand, 'inside Subject 1', /^Footage/);
  await hand.choose('Footage', 'meadow');
  const pixel = await written(hand, page);
  expect(apart(pixel(FRAMES - 1, 290, 90), MEADOW)).toBeLessThan(40);
  expect(apart(pixel(0, 290, 90), MEADOW)).toBeGreaterThan(40);
  expect(apart(pixel(12, 262, 90), MEADOW)).toBeLessThan(40);
  kept(hand, 10);
});

test('11: one click isolates; what a click would take is seen before; something behind it', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await hand.next('Paint the subject');
  await hand.click('Show what a click takes');
  await hand.clickAt(leftOn(0) + 20, TOP + 12);
  await hand.clickAt(leftOn(0) + 20, TOP + 31);
  await hand.clickAt(leftOn(0) + 34, TOP + 55);
  await hand.clickAt(250, 60, 'Alt');
  await hand.saved();
  await hand.next(/^Carry through/);
  await hand.next('Soften the edge');
  await expect(page.getByRole('textbox', { name: 'Feather out', exact: true })).toBeFocused();
  await hand.type('1');
  await page.keyboard.press('Enter');
  await hand.next('Put something behind it');
  await hand.click(page.getByRole('option', { name: /^Solid/ }));
  await hand.saved();
  const pixel = await written(hand, page);
  for (const frame of [2, 12, 22]) {
    expect(apart(pixel(...onThing(frame, 35, 12)), BODY)).toBeLessThan(45);
    const beside = frame < 12 ? 300 : 8;
    expect(apart(pixel(frame, beside, 90), [46, 92, 107])).toBeLessThan(30);
  }
  kept(hand, 11);
});

test('16: disturbance in bursts behind the subject', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await hand.isolate();
  await bench(hand, 'Compose');
  await addTo(hand, 'behind Subject 1', /^Break-up/);
  for (const [first, last] of [
    [4, 7],
    [15, 18],
  ]) {
    await mark(hand, first, last);
    await hand.click(/^(And marked|Marked) range$/);
    await hand.saved();
  }
  const pixel = await written(hand, page);
  // Blocks of the wall over the thing, grain evened out, that are not what they are on the first frame.
  const block = (frame: number, left: number, top: number) => {
    let sum = 0;
    for (let y = top; y < top + 4; y++) for (let x = left; x < left + 4; x++) sum += pixel(frame, x, y)[0];
    return sum / 16;
  };
  const changed = (frame: number) => {
    let n = 0;
    for (let y = 0; y < TOP - 8; y += 4) for (let x = 200; x < 316; x += 4) if (Math.abs(block(frame, x, y) - block(0, x, y)) > 9) n++;
    return n;
  };
  const [quiet, first, between, second] = [2, 5, 11, 16].map(changed);
  expect(Math.min(first, second)).toBeGreaterThan(3 * Math.max(quiet, between) + 20);
  for (const frame of [5, 16]) expect(apart(pixel(...onThing(frame, 35, 12)), BODY)).toBeLessThan(45);
  kept(hand, 16);
});

test('19: a boundary on the ground, outlined, tracked, with a line outside its edge', async ({ page }) => {
  const hand = new Hand(page);
  await outlineAndTrack(hand);
  await bench(hand, 'Compose');
  await addTo(hand, 'inside Subject 1', /^Exposure/);
  await hand.number('Exposure', 0.5);
  await addTo(hand, 'to front', /^Line/);
  await hand.choose('Made from', /^Subject 1$/);
  await hand.number('Width', 6);
  await hand.number('Offset', 6);
  const pixel = await written(hand, page);
  for (const frame of [2, 12]) {
    // The line has the colour of light, outside the edge; the inside is brighter than it was.
    expect(pixel(frame, leftOn(frame) + 35, TOP - 6)[0]).toBeGreaterThan(180);
    expect(pixel(...onThing(frame, 35, 12))[1]).toBeGreaterThan(BODY[1] + 8);
  }
  kept(hand, 19);
});

test('21: only the subject keeps its colour, and a cut-out with alpha is written as well', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await hand.isolate();
  await bench(hand, 'Compose');
  await addTo(hand, 'behind Subject 1', /^Monochrome/);
  await addTo(hand, 'behind Subject 1', /^Exposure/);
  await hand.number('Exposure', -1);
  const pixel = await written(hand, page);
  const spread = (c: number[]) => Math.max(...c) - Math.min(...c);
  for (const frame of [2, 12, 22]) {
    expect(apart(pixel(...onThing(frame, 35, 12)), BODY)).toBeLessThan(45);
    expect(spread(pixel(frame, frame < 12 ? 300 : 8, 95))).toBeLessThan(14);
  }
  const cut = await hand.write('Cut-out, ProRes 4444', 'rgba');
  expect(cut(...onThing(12, 35, 12))[3]).toBeGreaterThan(240);
  expect(cut(12, 8, 95)[3]).toBeLessThan(15);
  kept(hand, 21);
});
