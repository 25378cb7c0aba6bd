import AxeBuilder from '@axe-core/playwright';
import { expect, type Page, test } from '@playwright/test';
import { address, drawBox, drawPolygon, freshShot, goToFrame, settled, viewer } from './workbench.ts';

async function clean(page: Page, without: string[] = []): Promise<void> {
  const { violations } = await new AxeBuilder({ page }).disableRules(without).analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(', ')}`)).toEqual([]);
}

test('no screen has a violation that axe knows of', async ({ page }) => {
  await page.goto(address());
  await expect(page.getByRole('heading', { name: 'Productions' })).toBeVisible();
  await clean(page);
  await page.getByRole('button', { name: 'New production' }).click();
  await clean(page);
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'Low Tide Post' }).click();
  await expect(page.getByRole('heading', { name: 'Low Tide Post' })).toBeVisible();
  await clean(page);
  await page.getByRole('button', { name: 'Join shots …' }).click();
  await page.getByRole('dialog', { name: 'Join shots' }).getByRole('checkbox').first().check();
  await clean(page, ['region']);
  await page.keyboard.press('Escape');
  await page.goto(`${address()}/shortcuts`);
  await clean(page);
  await page.goto(`${address()}/deleted`);
  await clean(page);
  await page.goto(`${address()}/help`);
  await page.getByLabel('Search the help').fill('feather');
  await expect(page.getByRole('link', { name: 'The edge' })).toBeVisible();
  await clean(page);
  for (const name of ['by-strokes', 'by-hand', 'composing', 'quality']) {
    await page.goto(`${address()}/help/${name}`);
    await clean(page);
  }
  await page.goto(`${address()}/shots/nowhere/isolate`);
  await clean(page);

  await page.goto(address());
  await page.getByRole('link', { name: 'Low Tide Post' }).click();
  await page.getByRole('list', { name: 'Shots' }).getByRole('link', { name: 'Storm lantern' }).click();
  await settled(page);
  await clean(page);
  await page.getByRole('button', { name: 'Body', exact: true }).click();
  await clean(page);
  await page.getByRole('button', { name: /^Reach/ }).click();
  // An open menu lies outside the landmarks, as menus do.
  await clean(page, ['region']);
  await page.keyboard.press('Escape');
  for (const bench of ['Edge', 'Compose', 'Output']) {
    await page.getByRole('link', { name: bench, exact: true }).click();
    if (bench === 'Compose') await page.getByRole('button', { name: 'Gaussian blur', exact: true }).click();
    await settled(page);
    await clean(page);
    if (bench !== 'Compose') continue;
    await page.getByRole('button', { name: 'Starts' }).click();
    await clean(page, ['region']);
    await page.keyboard.type('lamp that blinks');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('dialog', { name: 'Lamp that blinks' })).toBeVisible();
    await clean(page, ['region']);
    await page.keyboard.press('Escape');
  }
});

test('tracks, what follows them, and their chart have none, and are worked by keys', async ({ page }) => {
  await freshShot(page, 'ferry-ramp.mp4', 'Track by keys');
  await viewer(page).focus();
  await page.keyboard.press('Shift+M');
  // The cross-hair goes from the middle to the sign, and a point is set there.
  for (let i = 0; i < 5; i++) await page.keyboard.press('Shift+ArrowLeft');
  for (let i = 0; i < 2; i++) await page.keyboard.press('Shift+ArrowUp');
  await page.keyboard.press('Enter');
  const list = page.getByRole('region', { name: 'Tracks' });
  await expect(list.getByRole('button', { name: /^Point 1/ })).toHaveAttribute('aria-pressed', 'true');
  const settings = page.getByRole('region', { name: 'Settings' });
  await settings.getByRole('button', { name: 'Track one frame on' }).focus();
  await page.keyboard.press('Enter');
  await expect(list.getByText('2 of 60 frames')).toBeVisible({ timeout: 30_000 });
  await viewer(page).focus();
  await page.keyboard.press('ArrowDown');
  await expect(settings.locator('[data-place]')).toContainText('set by hand');
  await settled(page);
  await page.getByRole('button', { name: 'Chart of the track over time' }).click();
  await expect(page.getByRole('region', { name: 'Track over time' })).toBeVisible();
  await page.mouse.move(5, 5);
  await viewer(page).focus();
  await clean(page);
  await drawBox(page, 400, 200, 500, 300);
  await page.getByRole('region', { name: 'Track', exact: true }).getByRole('combobox', { name: 'Follows' }).click();
  await page.getByRole('option', { name: 'Point 1' }).click();
  await settled(page);
  await page.mouse.move(5, 5);
  await viewer(page).focus();
  await clean(page);
});

test('a Peel with its strokes, carried, has none', async ({ page }) => {
  await page.goto(address());
  await page.getByRole('link', { name: 'Low Tide Post' }).click();
  await page.getByRole('list', { name: 'Shots' }).getByRole('link', { name: 'Courier on the quay' }).click();
  await settled(page);
  await goToFrame(page, 40);
  await page.getByRole('button', { name: 'Trike and rider', exact: true }).click();
  await page.getByRole('radio', { name: 'Brush of Peel' }).click();
  await clean(page);
  await page.getByRole('button', { name: 'Carry one frame on' }).click();
  await expect(page.getByText('84 of 84 frames found')).toBeVisible({ timeout: 30_000 });
  await goToFrame(page, 41);
  // The hint of a button that has the focus lies outside the landmarks.
  await viewer(page).focus();
  await clean(page);
});

test('an untouched shot, the list of commands, a guide, what has no effect and an open curve have none either', async ({ page }) => {
  await freshShot(page, 'empty-quay.mp4', 'Axe');
  await clean(page);
  await page.keyboard.press('Control+k');
  await expect(page.getByRole('dialog', { name: 'Commands' })).toBeVisible();
  // An open dialog lies outside the landmarks, as dialogs do.
  await clean(page, ['region']);
  await page.keyboard.type('guide by strokes');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: /^Guide/ })).toBeVisible();
  await clean(page);
  await drawPolygon(page, [
    [200, 200],
    [300, 200],
    [250, 300],
  ]);
  await clean(page);
  await page.getByRole('button', { name: 'Not now' }).hover();
  await page.getByRole('link', { name: 'Output', exact: true }).click();
  await clean(page);
});
