import { execFileSync } from 'node:child_process';
import path from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import { address, at, freshShot, matteBytes, settled, temporary } from './workbench.ts';

/** Presses Tab until what has the focus is named so. */
async function tabTo(page: Page, name: RegExp, key = 'Tab'): Promise<void> {
  for (let i = 0; i < 120; i++) {
    const focused = await page.evaluate(() => {
      const e = document.activeElement as HTMLElement | null;
      return `${e?.getAttribute('aria-label') ?? ''}|${e?.id ? (document.querySelector(`label[for="${e.id}"]`)?.textContent ?? '') : ''}|${e?.textContent ?? ''}`;
    });
    if (name.test(focused)) return;
    await page.keyboard.press(key);
  }
  throw new Error(`Tab never came to ${name}.`);
}
const press = async (page: Page, key: string, times = 1) => {
  for (let i = 0; i < times; i++) await page.keyboard.press(key);
};

test('the whole job without a pointer: isolate, key, soften, an effect, write', async ({ page }) => {
  // Bringing footage in ends in the file dialog of the system, which a test cannot steer; the rest is keys alone.
  const shotId = await freshShot(page, 'courier-on-the-quay.mp4', 'Keys only');
  await page.goto(`${address()}/shots/${shotId}/isolate?frame=10`);
  await settled(page);

  // A square of 100 px drawn from the middle: D, arrows with Shift by 10 px, Enter.
  await press(page, 'd');
  await press(page, 'Enter');
  await press(page, 'Shift+ArrowRight', 10);
  await press(page, 'Enter');
  await press(page, 'Shift+ArrowDown', 10);
  await press(page, 'Enter');
  await press(page, 'Shift+ArrowLeft', 10);
  await press(page, 'Enter');
  await press(page, 'Shift+Enter');
  await expect(page.getByText('Curve 1')).toContainText('4 points, 1 key');
  await settled(page);

  // Twenty frames on, the whole curve 50 px to the right.
  await press(page, 'Period', 20);
  await expect(page.getByLabel('Frame', { exact: true })).toHaveValue('30');
  await press(page, 'a');
  for (let i = 0; i < 5; i++) {
    await press(page, 'Shift+ArrowRight');
    await settled(page);
  }
  await expect(page.getByText('Curve 1')).toContainText('2 keys');

  // The edge bench, by Tab and Enter; feather out of 6 px.
  await tabTo(page, /\|Edge$/, 'Shift+Tab');
  await press(page, 'Enter');
  await expect(page.getByRole('heading', { name: /^Edge/ })).toBeVisible();
  await tabTo(page, /\|Feather out\|/);
  await page.keyboard.type('6');
  await press(page, 'Enter');
  await settled(page);

  // A monochrome behind the subject.
  await tabTo(page, /\|Compose$/, 'Shift+Tab');
  await press(page, 'Enter');
  await tabTo(page, /^Add behind Subject 1/);
  await press(page, 'Enter');
  await expect(page.getByRole('dialog', { name: 'Add behind Subject 1' })).toBeVisible();
  await page.keyboard.type('Mono');
  await expect(page.getByRole('option', { name: /^Monochrome/ })).toHaveAttribute('aria-selected', 'true');
  await press(page, 'Enter');
  await settled(page);
  await expect(page.getByRole('heading', { name: 'Settings: Monochrome' })).toBeVisible();

  // Write the mattes and fetch the zip.
  await tabTo(page, /\|Output$/, 'Shift+Tab');
  await press(page, 'Enter');
  await tabTo(page, /Composed, H\.264/);
  await press(page, 'Enter');
  // One types once the list is there.
  await expect(page.getByRole('option', { name: 'Matte, PNG sequence' })).toBeVisible();
  await page.keyboard.type('Matte');
  await expect(page.getByRole('option', { name: 'Matte, PNG sequence' })).toBeFocused();
  await press(page, 'Enter');
  await tabTo(page, /^First frame/);
  await page.keyboard.type('10');
  await tabTo(page, /^Last frame/);
  await page.keyboard.type('30');
  await press(page, 'Enter');
  await expect(page.getByRole('link', { name: 'Zip' })).toBeVisible({ timeout: 60_000 });
  await tabTo(page, /Zip$/);
  const [download] = await Promise.all([page.waitForEvent('download'), press(page, 'Enter')]);
  const folder = temporary();
  await download.saveAs(path.join(folder, 'out.zip'));
  execFileSync('python3', ['-c', 'import zipfile,sys; zipfile.ZipFile(sys.argv[1]).extractall(sys.argv[2])', path.join(folder, 'out.zip'), folder]);
  const matte = (frame: number) => matteBytes(path.join(folder, `subject-1-matte.00${frame}.png`));
  expect([at(matte(10), 530, 320), at(matte(10), 590, 320)]).toEqual([255, 0]);
  expect([at(matte(30), 590, 320), at(matte(30), 520, 320)]).toEqual([255, 0]);
  expect(at(matte(20), 510, 320)).toBe(255);
});
