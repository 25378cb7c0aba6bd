/** What stays with a production and a shot: presets of effects, snapshots, and pictures brought in as mattes. */
import { execFileSync } from 'node:child_process';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import { at, choose, freshShot, goToFrame, mattesOf, setNumber, settled, shapeOf, shown, temporary, viewer } from './workbench.ts';

test('a preset of an effect is used on another effect of its kind, and deleted', async ({ page }) => {
  await freshShot(page, 'empty-quay.mp4', 'Presets');
  await shapeOf(page, 'ellipse', [300, 150], [700, 450]);
  await page.getByRole('link', { name: 'Compose', exact: true }).click();
  const add = async (lane: string) => {
    await page
      .getByRole('button', { name: `Add ${lane} Ellipse` })
      .or(page.getByRole('button', { name: `Add ${lane} Subject 1` }))
      .click();
    await page.getByRole('option', { name: /^Gaussian blur/ }).click();
    await settled(page);
  };
  await add('behind');
  await setNumber(page, 'Mix', '40');
  await page.getByRole('button', { name: 'Presets of gaussian blur' }).click();
  await page.getByRole('menuitem', { name: 'Save as preset …' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Far away');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await add('inside');
  await expect(page.getByRole('textbox', { name: 'Mix', exact: true })).toHaveValue('100');
  await page.getByRole('button', { name: 'Presets of gaussian blur' }).click();
  await page.getByRole('menuitem', { name: 'Far away', exact: true }).click();
  await expect(page.getByRole('textbox', { name: 'Mix', exact: true })).toHaveValue('40');
  await expect(page.getByRole('button', { name: 'Undo: Use preset Far away' })).toBeVisible();
  await page.getByRole('button', { name: 'Presets of gaussian blur' }).click();
  await page.getByRole('menuitem', { name: 'Delete the preset Far away' }).click();
  await expect(page.getByText('No presets of this kind yet.')).toBeVisible();
});

test('a keyed edge is kept as a preset and used in another shot of the production', async ({ page }) => {
  await freshShot(page, 'empty-quay.mp4', 'Edges for all');
  await shapeOf(page, 'rectangle', [300, 150], [700, 450]);
  await page.getByRole('link', { name: 'Edge', exact: true }).click();
  await setNumber(page, 'Feather in', '40');
  await setNumber(page, 'Feather out', '40');
  await page.getByRole('button', { name: 'Let falloff change over time: key it on this frame' }).click();
  await goToFrame(page, 10);
  await choose(page, 'Falloff', 'Linear');
  await settled(page);
  await expect(page.getByRole('combobox', { name: 'Falloff' })).toHaveText(/Linear/);
  await goToFrame(page, 9);
  await expect(page.getByRole('combobox', { name: 'Falloff' })).toHaveText(/Smooth/);
  // A quarter into the band, linear and smooth fall-off are far apart.
  const quarter = (matte: Buffer) => at(matte, 280, 300);
  const written = await mattesOf(page, 9, 10);
  expect(quarter(written(9))).toBeLessThan(50);
  expect(quarter(written(10))).toBeGreaterThan(58);
  await page.getByRole('link', { name: 'Edge', exact: true }).click();
  await page.getByRole('button', { name: 'Presets of edge' }).click();
  await page.getByRole('menuitem', { name: 'Save as preset …' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Soft then even');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByRole('link', { name: 'Edges for all' }).click();
  await page.getByLabel('Footage files').setInputFiles(path.join('demo', 'clips', 'storm-lantern.mp4'));
  await page
    .getByRole('list', { name: 'Shots' })
    .getByRole('link', { name: /storm-lantern/ })
    .click({ timeout: 60_000 });
  await settled(page);
  await shapeOf(page, 'ellipse', [300, 150], [700, 450]);
  await page.getByRole('link', { name: 'Edge', exact: true }).click();
  await page.getByRole('button', { name: 'Presets of edge' }).click();
  await page.getByRole('menuitem', { name: 'Soft then even', exact: true }).click();
  await settled(page);
  await expect(page.getByRole('textbox', { name: 'Feather in', exact: true })).toHaveValue('40.0');
  await goToFrame(page, 10);
  await expect(page.getByRole('combobox', { name: 'Falloff' })).toHaveText(/Linear/);
});

test('a snapshot stays with the shot over a reload, and the matte is compared with it', async ({ page }) => {
  await freshShot(page, 'empty-quay.mp4', 'Snapshots');
  await shapeOf(page, 'rectangle', [300, 150], [700, 450]);
  await page.getByRole('radio', { name: 'Matte', exact: true }).click();
  await page.getByLabel('How the matte is shown').selectOption('difference');
  await page.getByRole('button', { name: 'Snapshot …' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Square');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByText('The snapshot Square is kept')).toBeVisible();
  await page.getByRole('link', { name: 'Edge', exact: true }).click();
  await setNumber(page, 'Grow', '20');
  await page.reload();
  await settled(page);
  await page.getByRole('radio', { name: 'Matte', exact: true }).click();
  await page.getByLabel('How the matte is shown').selectOption('difference');
  await page.getByLabel('Compared with').selectOption({ label: 'Square' });
  // Bright only where the rim has grown: at its left, halfway down.
  const rim = async (x: number) => (await shown(page, x, 270))[0];
  await expect.poll(() => rim(290)).toBeGreaterThan(150);
  expect(await rim(330)).toBeLessThan(140);
  await page.getByRole('button', { name: 'Delete this snapshot' }).click();
  await expect(page.getByLabel('Compared with')).toHaveValue('back:1');
});

test('a gray picture chosen from disk becomes a part of the subject', async ({ page }) => {
  await freshShot(page, 'empty-quay.mp4', 'Picture as matte');
  await shapeOf(page, 'rectangle', [100, 100], [200, 200]);
  const file = path.join(temporary(), 'dune.png');
  execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'nullsrc=s=960x540,format=gray,geq=lum=255*gte(X\\,480)', '-frames:v', '1', file]);
  await page.getByRole('button', { name: 'More for Subject 1' }).click();
  await page.getByRole('menuitem', { name: /^Bring in/ }).click();
  await page.getByLabel('Pictures of a matte').setInputFiles(file);
  await expect(page.getByRole('region', { name: 'Cast' }).getByRole('button', { name: 'dune', exact: true })).toBeVisible({ timeout: 30_000 });
  await settled(page);
  const matte = (await mattesOf(page, 3, 3))(3);
  expect([at(matte, 150, 150), at(matte, 300, 300), at(matte, 700, 300)]).toEqual([255, 0, 255]);
  // What is no picture is refused in words, and nothing is added.
  await page.getByRole('link', { name: 'Isolate', exact: true }).click();
  await viewer(page).focus();
  await page.getByRole('button', { name: 'More for Subject 1' }).click();
  await page.getByRole('menuitem', { name: /^Bring in/ }).click();
  await page.getByLabel('Pictures of a matte').setInputFiles({ name: 'letter.png', mimeType: 'image/png', buffer: Buffer.from('no picture') });
  await expect(page.locator('[data-sonner-toast]').getByText(/letter\.png/)).toBeVisible();
  // Sending can be called off, and the dialog takes the next picture.
  await page.route('**/uploads/*/0?name=slow.png', () => {});
  await page.getByLabel('Pictures of a matte').setInputFiles({ name: 'slow.png', mimeType: 'image/png', buffer: Buffer.alloc(1000) });
  await expect(page.getByRole('progressbar', { name: 'Sending slow.png' })).toBeVisible();
  await page.getByRole('button', { name: 'Cancel bringing it in' }).click();
  await expect(page.getByText('"slow.png" was cancelled')).toBeVisible();
  await expect(page.getByLabel('Pictures of a matte')).toBeEnabled();
});
