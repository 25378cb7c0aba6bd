/** Outputs handed over as they are wanted: several in one pass, named and sized, kept as a preset, and the same of another shot. */
import { execFileSync } from 'node:child_process';
import path from 'node:path';
import { expect, type Locator, type Page, test } from '@playwright/test';
import { ffmpeg, ffprobe, rawFrames } from '../tests/services.ts';
import { address, choose, drawBox, freshShot, settled, temporary } from './workbench.ts';

/** Puts text into a field as a hand does: a click, all of it marked, and typed over. */
async function put(field: Locator, text: string): Promise<void> {
  await field.click();
  await field.page().keyboard.press('ControlOrMeta+a');
  await field.page().keyboard.type(text);
}

/** A file of what is fetched. */
async function fetched(page: Page, name: 'Zip' | 'Fetch'): Promise<{ folder: string; files: string[] }> {
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name }).first().click()]);
  const folder = temporary();
  const file = path.join(folder, download.suggestedFilename());
  await download.saveAs(file);
  if (name === 'Fetch') return { folder, files: [path.basename(file)] };
  const unpack = 'import zipfile,sys; z=zipfile.ZipFile(sys.argv[1]); z.extractall(sys.argv[2]); print("\\n".join(sorted(z.namelist())))';
  return { folder, files: execFileSync('python3', ['-c', unpack, file, folder], { encoding: 'utf8' }).trim().split('\n') };
}

test('a half-size matte and a noted movie in one pass, kept as a preset, and both of another shot', async ({ page }) => {
  await freshShot(page, 'courier-on-the-quay.mp4', 'Two at once');
  await drawBox(page, 400, 200, 600, 400);
  await page.getByRole('link', { name: 'Output', exact: true }).click();
  await choose(page, 'What', 'Matte, PNG sequence');
  await put(page.getByLabel('First frame', { exact: true }), '10');
  await put(page.getByLabel('Last frame', { exact: true }), '15');
  await page.getByText('Size, handles, names').click();
  await choose(page, 'Size', 'Half, 480×270');
  await put(page.getByLabel('Handles'), '2');
  await page.getByLabel('File name').click();
  // A name that leads elsewhere is refused while it is typed.
  await page.keyboard.type('../{shot}');
  await expect(page.getByRole('alert')).toContainText('It names no folder');
  await expect(page.getByRole('button', { name: /^Write/ }).first()).toBeDisabled();
  await page.keyboard.press('ControlOrMeta+a');
  await page.keyboard.type('{shot}_{what}_v2');
  await put(page.getByLabel('First number'), '1001');
  await expect(page.locator('[data-names]')).toHaveText('courier-on-the-quay_matte_v2.1001.png … courier-on-the-quay_matte_v2.1010.png');
  await expect(page.getByRole('button', { name: 'Write 10 frames' })).toBeEnabled();
  await page.getByRole('button', { name: 'Add to the list' }).click();

  await choose(page, 'What', 'Composed, H.264');
  await page.getByRole('switch', { name: 'Note' }).click();
  await choose(page, 'Size', /^Full/);
  await page.getByRole('button', { name: 'Add to the list' }).click();
  const list = page.getByRole('region', { name: 'List of outputs' });
  await expect(list.getByRole('listitem')).toHaveCount(2);
  // Twice the same, and taken off again.
  await page.getByRole('button', { name: 'Add to the list' }).click();
  await list.getByRole('button', { name: 'Take Composed, H.264 off the list' }).last().click();

  await page.getByRole('button', { name: 'Presets of outputs' }).click();
  await page.getByRole('menuitem', { name: 'Save as preset …' }).click();
  await put(page.getByRole('textbox', { name: 'Name', exact: true }), 'Hand over');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('The preset Hand over is in the library')).toBeVisible();

  await list.getByRole('button', { name: 'Write the list' }).click();
  await expect(page.getByText('2 outputs in one pass')).toBeVisible();
  await expect(page.getByRole('link', { name: 'Zip' })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText('Checked: 10 frames')).toHaveCount(2);
  const { folder, files } = await fetched(page, 'Zip');
  const mattes = files.filter((f) => f.endsWith('.png'));
  expect(mattes).toHaveLength(10);
  expect(mattes[0]).toBe('1-matte-png/courier-on-the-quay_matte_v2.1001.png');
  const matte = rawFrames(path.join(folder, mattes[4]), 'gray');
  expect(matte.length).toBe(480 * 270);
  // Within the box that was drawn, and outside.
  expect(matte[150 * 480 + 250]).toBe(255);
  expect(matte[10 * 480 + 10]).toBe(0);
  const movie = files.find((f) => f.endsWith('.mp4')) as string;
  expect(movie).toBe('2-composed-mp4/courier-on-the-quay_composed_v2.mp4');
  expect(ffprobe(path.join(folder, movie))).toMatchObject({ frames: 10, stream: { width: 960, height: 540 } });
  // The band of the note is dark, with light letters.
  const picture = rawFrames(path.join(folder, movie), 'gray').subarray(0, 960 * 540);
  const band = picture.subarray(960 * 516);
  expect(band.reduce((a, b) => a + b, 0) / band.length).toBeLessThan(80);
  expect(band.reduce((a, b) => Math.max(a, b), 0)).toBeGreaterThan(190);

  // The other shot has a subject of its own; after a reload the preset is there.
  const production = page.getByRole('link', { name: 'Two at once' });
  await production.click();
  await page.getByLabel('Footage files').setInputFiles(path.join('demo', 'clips', 'dune-kite.mp4'));
  const other = page.getByRole('link', { name: 'dune-kite' });
  await other.click({ timeout: 60_000 });
  await settled(page);
  await drawBox(page, 400, 200, 600, 400);
  await production.click();
  await page.getByRole('link', { name: 'courier-on-the-quay' }).click();
  await settled(page);
  await page.getByRole('link', { name: 'Output', exact: true }).click();
  await page.getByRole('button', { name: 'Presets of outputs' }).click();
  await page.getByRole('menuitem', { name: 'Hand over', exact: true }).last().click();
  await expect(list.getByRole('listitem')).toHaveCount(2);
  await list.getByRole('button', { name: 'The same of other shots …' }).click();
  await page.getByRole('checkbox', { name: /dune-kite/ }).check();
  await page.getByRole('button', { name: 'Write 1 shot' }).click();
  await expect(page.getByText('1 shot is being written.')).toBeVisible();
  await production.click();
  await other.click();
  await page.getByRole('link', { name: 'Output', exact: true }).click();
  await expect(page.getByText('Checked: 60 frames')).toHaveCount(2, { timeout: 120_000 });
});

test('a list that cannot be written stays as it is, and says why', async ({ page }) => {
  await freshShot(page, 'dune-kite.mp4', 'Refused list');
  await page.getByRole('link', { name: 'Output', exact: true }).click();
  await choose(page, 'What', 'Composed, H.264');
  await page.getByRole('button', { name: 'Add to the list' }).click();
  await choose(page, 'What', 'All mattes, EXR sequence');
  await page.getByRole('button', { name: 'Add to the list' }).click();
  const list = page.getByRole('region', { name: 'List of outputs' });
  await list.getByRole('button', { name: 'Write the list' }).click();
  await expect(page.getByText('There is no subject in this shot yet.')).toBeVisible();
  await expect(list.getByRole('listitem')).toHaveCount(2);
  await expect(page.getByText('None yet. Choose what to write above')).toBeVisible();
});

test('the sound of the plate plays with its picture, jumps with it, is quiet backwards, and is heard on frames that are stepped to', async ({ page }) => {
  const file = path.join(temporary(), 'harbour-bell.mp4');
  const tone = "aevalsrc='if(between(t,2,3),0.8*sin(2*PI*440*t),0)':s=48000:d=6";
  ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=24:d=6', '-f', 'lavfi', '-i', tone, '-pix_fmt', 'yuv420p', '-c:a', 'aac', file);
  await page.goto(address());
  await page.getByRole('button', { name: 'New production' }).click();
  await put(page.getByLabel('Name'), 'Bell');
  await page.getByRole('button', { name: 'Make it' }).click();
  await page.getByRole('link', { name: 'Bell', exact: true }).last().click();
  await expect(page.getByRole('heading', { level: 1, name: 'Bell' })).toBeVisible();
  await page.getByLabel('Footage files').setInputFiles(file);
  await page.getByRole('link', { name: 'harbour-bell' }).click({ timeout: 60_000 });
  await settled(page);

  // Loud from a third to a half of the shot.
  await expect(page.getByRole('img', { name: 'Waveform of the sound' })).toBeVisible();
  await expect(page.locator('[data-waveform]')).toHaveAttribute('data-waveform', '576');
  const points = (await page.locator('[data-waveform] polygon').getAttribute('points')) as string;
  const heights = points
    .split(' ')
    .slice(0, 2 * 576)
    .map((p) => 1 - Number(p.split(',')[1]));
  const loud = heights.flatMap((h, i) => (h > 0.3 ? [i / 2 / 576] : []));
  expect(Math.abs(loud[0] - 1 / 3)).toBeLessThan(0.02);
  expect(Math.abs((loud.at(-1) as number) - 1 / 2)).toBeLessThan(0.02);

  const audio = page.locator('audio[data-sound]');
  const heard = () => audio.evaluate((a: HTMLAudioElement) => ({ paused: a.paused, time: a.currentTime, ready: a.readyState }));
  const frame = async () => Number(await page.getByLabel('Frame', { exact: true }).inputValue());
  expect((await heard()).paused).toBe(true);
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect.poll(async () => (await heard()).time, { timeout: 15_000 }).toBeGreaterThan(0.7);
  // Where the picture is, within what is noticed, whatever a look at both takes.
  const apart = await page.evaluate(() => {
    const sound = document.querySelector<HTMLAudioElement>('audio[data-sound]') as HTMLAudioElement;
    const shown = document.querySelector<HTMLInputElement>('input[aria-label="Frame"]') as HTMLInputElement;
    return sound.currentTime - shown.valueAsNumber / 24;
  });
  expect(apart).toBeGreaterThan(-0.15);
  expect(apart).toBeLessThan(0.25);
  // The Ribbon is pressed far ahead: the sound is there too.
  const ribbon = page.getByRole('slider', { name: 'Ribbon: the whole shot' });
  await page.getByRole('button', { name: 'Pause' }).click();
  await expect.poll(async () => (await heard()).paused).toBe(true);
  const box = await ribbon.boundingBox();
  if (!box) throw new Error('There is no Ribbon.');
  await page.mouse.click(box.x + box.width * 0.6, box.y + box.height - 8);
  expect(Math.abs((await frame()) - 86)).toBeLessThan(3);
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect.poll(async () => (await heard()).time).toBeGreaterThan(3.6);
  await page.getByRole('button', { name: 'Play backwards' }).click();
  await expect.poll(async () => (await heard()).paused).toBe(true);
  await page.getByRole('button', { name: 'Pause' }).click();

  // Stepping is silent until it is asked for.
  await page.getByRole('button', { name: 'Frame after' }).click();
  expect((await heard()).paused).toBe(true);
  await page.getByRole('button', { name: 'Sound while stepping' }).click();
  await page.evaluate(() => {
    const sound = document.querySelector<HTMLAudioElement>('audio[data-sound]') as HTMLAudioElement;
    sound.addEventListener('playing', () => {
      sound.dataset.played = String(Number(sound.dataset.played ?? 0) + 1);
    });
  });
  await page.getByRole('button', { name: 'Frame after' }).click();
  await expect(audio).toHaveAttribute('data-played', '1');
  await expect.poll(async () => (await heard()).paused).toBe(true);
  expect(Math.abs((await heard()).time - (await frame()) / 24)).toBeLessThan(0.3);

  // Turned off, it stays so after a reload.
  await page.getByRole('button', { name: 'Sound with the picture' }).click();
  await page.reload();
  await settled(page);
  await expect(page.getByRole('button', { name: 'Sound with the picture' })).toHaveAttribute('aria-pressed', 'false');
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect.poll(frame).toBeGreaterThan(3);
  expect((await heard()).paused).toBe(true);
});
