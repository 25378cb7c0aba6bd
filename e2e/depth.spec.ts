/** What is behind, in front and beyond: a subject that leaves its outline, shots that push, and what follows what, on written pixels. */
import { expect, test } from '@playwright/test';
import { addTo, apart, bench, corners, footage, goTo, Hand, leftOn, SIDE, TOP, WIDTH } from './hand.ts';
import { address } from './workbench.ts';

const BODY = [217, 139, 43];
const MEADOW = [47, 125, 79];

/** Gives a card one colour: the field opens a picker of the system, which only takes values. */
async function flat(hand: Hand, colour: string): Promise<void> {
  await hand.choose('Colours', '1');
  await hand.page.getByLabel('Colour 1', { exact: true }).fill(colour);
  await hand.press('Tab');
  await hand.saved();
}
async function openWith(hand: Hand, first: RegExp, ...files: string[]): Promise<void> {
  await hand.page.goto(address());
  await expect(hand.page.getByRole('heading', { level: 1 })).toBeVisible();
  await hand.bring(...files);
  const links = hand.page.getByRole('list', { name: 'Shots' }).getByRole('link');
  await expect(links).toHaveCount(files.length, { timeout: 60_000 });
  await hand.click(links.filter({ hasText: first }));
  await hand.saved();
}
const written = async (hand: Hand) => {
  await bench(hand, 'Output');
  await expect(hand.page).toHaveURL(/\/output/);
  return hand.write('Composed, H.264');
};

test('only the subject breaks up: its bands leave the outline, and the clean plate is where they were', async ({ page }) => {
  const hand = new Hand(page);
  const { walker, empty } = footage();
  await openWith(hand, /walker/, walker, empty);
  await hand.next('Draw round it');
  await hand.polygon(corners(0));
  await bench(hand, 'Compose');
  await addTo(hand, 'inside Subject 1', /^Break-up/);
  await expect(page.getByRole('switch', { name: 'May leave the outline' })).toBeChecked();
  await hand.choose('Clean plate', /empty/);
  await hand.saved();
  for (const [label, value] of [
    ['Bands', 100],
    ['Height', 30],
    ['Shift', 120],
  ] as const)
    await hand.number(label, value);
  // Twice there and back: once more it is off, and then on.
  await hand.click(page.getByRole('switch', { name: 'May leave the outline' }));
  await hand.saved();
  await hand.press('Control+z');
  await expect(page.getByRole('switch', { name: 'May leave the outline' })).toBeChecked();
  await hand.saved();
  const pixel = await written(hand);
  const rows = Array.from({ length: SIDE - 8 }, (_, i) => TOP + 4 + i);
  const isBody = (x: number, y: number) => apart(pixel(0, x, y), BODY) < 45;
  const beyond = rows.reduce((n, y) => n + Array.from({ length: WIDTH - 110 }, (_, i) => i + 105).filter((x) => isBody(x, y)).length, 0);
  const left = rows.reduce((n, y) => n + Array.from({ length: SIDE - 8 }, (_, i) => leftOn(0) + 4 + i).filter((x) => !isBody(x, y)).length, 0);
  expect(beyond).toBeGreaterThan(60);
  expect(left).toBeGreaterThan(200);
  // Nothing is darker than the darkest of the wall and of the thing.
  const light = rows.flatMap((y) => Array.from({ length: WIDTH - 8 }, (_, i) => pixel(0, i + 4, y).reduce((sum, v) => sum + v)));
  expect(Math.min(...light)).toBeGreaterThan(110);
  // Away from its rows the plate is as it was filmed.
  expect(apart(pixel(0, 200, 30), pixel(0, 200, 31))).toBeLessThan(90);
});

test('two shots push past each other under motion blur, and nothing of what is behind shows between them', async ({ page }) => {
  const hand = new Hand(page);
  const { walker, other } = footage();
  await openWith(hand, /walker/, walker, other);
  await bench(hand, 'Compose');
  for (const from of [WIDTH / 2, WIDTH * 1.5]) {
    await goTo(hand, 0);
    await addTo(hand, 'to front', /^Footage/);
    await hand.choose('Footage', /meadow/);
    await hand.saved();
    await hand.number('X', from);
    await hand.click('Let x change over time: key it on this frame');
    await hand.saved();
    await goTo(hand, 8);
    await hand.number('X', from - WIDTH);
    await hand.number('Motion blur', 360);
  }
  const pixel = await written(hand);
  for (const frame of [2, 4, 6]) {
    const off = Array.from({ length: WIDTH / 2 - 6 }, (_, i) => {
      // Grain evened out over a few rows; of the wall's blue, or of the thing, nothing is left.
      const column = [40, 60, 80, 100, 120].map((y) => pixel(frame, 6 + 2 * i, y));
      return apart(
        [0, 1, 2].map((k) => column.reduce((sum, p) => sum + p[k], 0) / column.length),
        MEADOW,
      );
    });
    expect(Math.max(...off), `frame ${frame}`).toBeLessThan(14);
  }
});

test('what is put behind an opening follows its curve, keyed by hand; a circle is not offered; a curve that is taken away lets it stand', async ({ page }) => {
  const hand = new Hand(page);
  await hand.openWith(footage().walker);
  await hand.next('Draw round it');
  await hand.polygon(corners(0));
  // By hand, at the end of the shot: a whole curve is dragged, which makes a key there.
  await goTo(hand, 23);
  await hand.click(page.getByRole('radio', { name: 'Change curves' }));
  await hand.drag([
    [leftOn(0) + SIDE / 2, TOP + SIDE / 2],
    [leftOn(23) + SIDE / 2, TOP + SIDE / 2],
  ]);
  await hand.saved();
  await goTo(hand, 0);
  await bench(hand, 'Compose');
  await addTo(hand, 'to front', /^Card/);
  for (const [label, value] of [
    ['Width', 20],
    ['Height', 20],
    ['X', leftOn(0) + 35],
    ['Y', TOP + 35],
  ] as const)
    await hand.number(label, value);
  await flat(hand, '#d02090');
  await hand.choose('Follows', /Spline/);
  await hand.saved();
  // Another one is fixed to it, above it.
  await addTo(hand, 'to front', /^Card/);
  for (const [label, value] of [
    ['Width', 12],
    ['Height', 12],
    ['X', leftOn(0) + 35],
    ['Y', 20],
  ] as const)
    await hand.number(label, value);
  await flat(hand, '#d02090');
  await hand.choose('Follows', 'Card 1');
  await hand.saved();
  await hand.click(page.getByRole('region', { name: 'Lanes' }).getByRole('button', { name: 'Card 1', exact: true }));
  await hand.click(page.getByRole('combobox', { name: 'Follows' }));
  await expect(page.getByRole('option', { name: 'Card 2' })).toHaveCount(0);
  await expect(page.getByRole('option', { name: 'Nothing' })).toBeVisible();
  await hand.press('Escape');
  const pixel = await written(hand);
  const isCard = (frame: number, x: number, y: number) => apart(pixel(frame, x, y), [208, 32, 144]) < 60;
  for (const frame of [0, 11, 23]) {
    expect(isCard(frame, leftOn(frame) + 35, TOP + 35), `frame ${frame}`).toBe(true);
    expect(isCard(frame, leftOn(frame) + 35, 20), `fixed to it, frame ${frame}`).toBe(true);
  }
  // The curve goes, in one step that is taken back whole.
  await bench(hand, 'Isolate');
  await hand.click(page.getByRole('button', { name: 'More for Spline 1' }));
  await hand.click(page.getByRole('menuitem', { name: 'Delete' }));
  await hand.saved();
  await bench(hand, 'Compose');
  await hand.click(page.getByRole('region', { name: 'Lanes' }).getByRole('button', { name: 'Card 1', exact: true }));
  // Nothing is left that it could follow.
  await expect(page.getByRole('combobox', { name: 'Follows' })).toHaveCount(0);
  await hand.press('Control+z');
  await expect(page.getByRole('combobox', { name: 'Follows' })).toContainText(/Spline/);
});

test('pictures mix in linear light where the shot asks for it, and a speed and the ends of a range are set', async ({ page }) => {
  const hand = new Hand(page);
  const { walker, other } = footage();
  await openWith(hand, /walker/, walker, other);
  await bench(hand, 'Compose');
  await addTo(hand, 'to front', /^Card/);
  for (const [label, value] of [
    ['Width', 400],
    ['Height', 400],
    ['Opacity', 50],
  ] as const)
    await hand.number(label, value);
  await flat(hand, '#ffffff');
  const wall = async (pixel: Awaited<ReturnType<typeof written>>) => {
    const all = [10, 14, 18, 22].map((y) => pixel(3, 250, y)[0]);
    return all.reduce((a, b) => a + b) / all.length;
  };
  const plain = await wall(await written(hand));
  await bench(hand, 'Compose');
  await hand.choose('Mixes in', 'Linear light');
  await hand.saved();
  await bench(hand, 'Output');
  // What was written before is listed first, so that the new one is told from it.
  await expect(page.getByRole('link', { name: /^(Zip|Fetch)$/ })).toHaveCount(1);
  const lit = await wall(await hand.write('Composed, H.264'));
  // Half of white over 53: 154 by values, and brighter in light: ((1 + (53/255)^2.2) / 2)^(1/2.2) of 255.
  expect(Math.abs(plain - 154)).toBeLessThan(9);
  expect(Math.abs(lit - 190)).toBeLessThan(9);

  await bench(hand, 'Compose');
  await addTo(hand, 'to front', /^Footage/);
  await hand.choose('Footage', /meadow/);
  await hand.number('Speed', 50);
  await hand.number('To frame', 5);
  await hand.choose('At its ends', 'To and fro');
  await hand.choose('Between frames', 'Both, mixed');
  await hand.saved();
  await page.reload();
  await hand.click(page.getByRole('region', { name: 'Lanes' }).getByRole('button', { name: 'meadow', exact: true }));
  await expect(page.getByRole('combobox', { name: 'At its ends' })).toContainText('To and fro');
  await expect(page.getByRole('textbox', { name: 'Speed', exact: true })).toHaveValue('50');
});
