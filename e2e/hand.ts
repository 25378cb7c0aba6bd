/**
 * A person at the screen: pointer and keyboard alone, the focus where the last click left it, and every action counted. A click, a
 * drag, a key, a text that is typed, and a file that is chosen are one action each.
 */
import { mkdtempSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { expect, type Locator, type Page } from '@playwright/test';
import { ffmpeg, rawFrames } from '../tests/services.ts';
import { address } from './workbench.ts';

/** Of the footage that is made for these tests. */
export const WIDTH = 320;
const HEIGHT = 180;
export const FRAMES = 24;

/** Left edge of the thing that moves, on a frame. */
export const leftOn = (frame: number): number => 20 + 7 * frame;
/** Its top and its sides. */
export const TOP = 60;
export const SIDE = 70;

/** Its four corners on a frame. */
export const corners = (frame: number): [number, number][] => {
  const left = leftOn(frame);
  return [
    [left, TOP],
    [left + SIDE, TOP],
    [left + SIDE, TOP + SIDE],
    [left, TOP + SIDE],
  ];
};

interface Footage {
  walker: string;
  again: string;
  empty: string;
  other: string;
  spread: string;
}
let made: Footage | null = null;

/**
 * Footage of nobody's: a striped thing that crosses a wall with grain; a second take of it, lower and the other way; the wall alone;
 * another place; and white that spreads over black. Each file is made once.
 */
export function footage(): Footage {
  if (made) return made;
  const dir = mkdtempSync(path.join(os.tmpdir(), 'mottrel-footage-'));
  const file = (name: string) => path.join(dir, name);
  const seconds = FRAMES / 24;
  const wall = `color=0x35506e:s=${WIDTH}x${HEIGHT}:r=24:d=${seconds},noise=alls=14,drawgrid=w=40:h=30:t=2:c=0x5d7691`;
  const thing = `color=0xd98b2b:s=${SIDE}x${SIDE}:r=24:d=${seconds},drawbox=x=0:y=24:w=${SIDE}:h=14:c=0x7c1f1f:t=fill,drawbox=x=24:y=46:w=20:h=18:c=0xf2e3c0:t=fill`;
  const encode = ['-frames:v', String(FRAMES), '-pix_fmt', 'yuv444p', '-crf', '8'];
  ffmpeg('-f', 'lavfi', '-i', `${wall}[w];${thing}[t];[w][t]overlay=x='20+7*n':y=${TOP}`, ...encode, file('harbour_walker.mp4'));
  ffmpeg('-f', 'lavfi', '-i', `${wall}[w];${thing}[t];[w][t]overlay=x='240-7*n':y=${TOP + 45}`, ...encode, file('harbour_again.mp4'));
  ffmpeg('-f', 'lavfi', '-i', wall, ...encode, file('harbour_empty.mp4'));
  ffmpeg('-f', 'lavfi', '-i', `color=0x2f7d4f:s=${WIDTH}x${HEIGHT}:r=24:d=${seconds},noise=alls=8`, ...encode, file('meadow.mp4'));
  // A disc of white that grows by ten pixels a frame from the left upper corner.
  const disc = `nullsrc=s=${WIDTH}x${HEIGHT}:r=24:d=${seconds},format=gray,geq=lum='if(lt(hypot(X,Y),40+10*N),235,16)'`;
  ffmpeg('-f', 'lavfi', '-i', disc, ...encode, file('tide_spreads.mp4'));
  made = {
    walker: file('harbour_walker.mp4'),
    again: file('harbour_again.mp4'),
    empty: file('harbour_empty.mp4'),
    other: file('meadow.mp4'),
    spread: file('tide_spreads.mp4'),
  };
  return made;
}

export class Hand {
  actions = 0;
  readonly page: Page;
  constructor(page: Page) {
    this.page = page;
  }

  private readonly button = (name: string | RegExp): Locator => this.page.getByRole('button', { name });

  /** Presses a button by its name, or whatever is pointed at. */
  async click(what: string | RegExp | Locator): Promise<void> {
    this.actions++;
    await (typeof what === 'string' || what instanceof RegExp ? this.button(what) : what).click();
  }

  async press(key: string): Promise<void> {
    this.actions++;
    await this.page.keyboard.press(key);
  }

  /** Types where the focus is. */
  async type(text: string): Promise<void> {
    this.actions++;
    await this.page.keyboard.type(text);
  }

  /** Drops files on the page, which the file field stands in for. */
  async bring(...files: string[]): Promise<void> {
    this.actions++;
    await this.page.getByLabel('Footage files').setInputFiles(files);
  }

  /** Chooses in a field of the settings: two presses. */
  async choose(label: string, option: string | RegExp): Promise<void> {
    this.actions += 2;
    await this.page.getByRole('combobox', { name: label }).click();
    await this.page.getByRole('option', { name: option }).click();
  }

  /** Chooses in a list of the browser's own: a press, and the first letters. */
  async chooseByKeys(list: Locator, letters: string): Promise<void> {
    await this.click(list);
    await this.type(letters);
    await this.page.keyboard.press('Enter');
  }

  /** Puts a number into a field: a click and what is typed, with Enter. */
  async number(label: string, value: number): Promise<void> {
    await this.click(this.page.getByRole('textbox', { name: label, exact: true }));
    await this.type(String(value));
    await this.page.keyboard.press('Enter');
    await this.saved();
  }

  /** From plate pixels to the screen while the plate fits the viewer. */
  async at(x: number, y: number): Promise<[number, number]> {
    const box = await this.page.locator('[data-viewer]').boundingBox();
    if (!box) throw new Error('There is no viewer.');
    const scale = Math.min((box.width - 16) / WIDTH, (box.height - 16) / HEIGHT);
    return [box.x + (box.width - WIDTH * scale) / 2 + x * scale, box.y + (box.height - HEIGHT * scale) / 2 + y * scale];
  }

  /** Drags over the picture, through places of the plate; with a key held where one is named. */
  async drag(points: [number, number][], held?: 'Alt' | 'Shift'): Promise<void> {
    this.actions++;
    const { mouse, keyboard } = this.page;
    if (held) await keyboard.down(held);
    await mouse.move(...(await this.at(...points[0])));
    await mouse.down();
    for (const p of points.slice(1)) await mouse.move(...(await this.at(...p)), { steps: 5 });
    await mouse.up();
    if (held) await keyboard.up(held);
  }

  async clickAt(x: number, y: number, held?: 'Alt'): Promise<void> {
    this.actions++;
    if (held) await this.page.keyboard.down(held);
    await this.page.mouse.click(...(await this.at(x, y)));
    if (held) await this.page.keyboard.up(held);
  }

  /** Clicks the corners of a closed curve, the first one again at the end. */
  async polygon(points: [number, number][]): Promise<void> {
    for (const [x, y] of [...points, points[0]]) await this.clickAt(x, y);
    await this.saved();
  }

  /** Does the next step that is offered, which is to be this one. */
  async next(label: string | RegExp): Promise<void> {
    const button = this.page.getByRole('region', { name: 'Next step' }).getByRole('button', { name: label });
    await expect(button).toBeVisible({ timeout: 90_000 });
    await this.click(button);
  }

  /** The next step that is offered, looked at only. */
  offered(label: string | RegExp): Promise<void> {
    return expect(this.page.getByRole('region', { name: 'Next step' }).getByRole('button', { name: label })).toBeVisible({ timeout: 90_000 });
  }

  async saved(): Promise<void> {
    await expect(this.page.getByLabel('Saving')).toHaveText('Saved');
  }

  /** Opens the start page, brings footage in, and waits for the shot to open by itself. */
  async openWith(file: string): Promise<void> {
    await this.page.goto(address());
    await expect(this.page.getByRole('heading', { level: 1 })).toBeVisible();
    await this.bring(file);
    await expect(this.page.getByRole('heading', { level: 2, name: 'Cast' })).toBeVisible({ timeout: 60_000 });
    await this.saved();
  }

  /** Isolates the thing that moves: strokes on the frame that is open, then carried. */
  async isolate(): Promise<void> {
    await this.next('Paint the subject');
    const left = leftOn(0);
    await this.drag([
      [left + 10, TOP + 10],
      [left + 60, TOP + 12],
    ]);
    await this.drag([
      [left + 10, TOP + 31],
      [left + 60, TOP + 31],
    ]);
    await this.clickAt(left + 34, TOP + 55);
    await this.drag(
      [
        [6, 20],
        [200, 30],
        [300, 150],
      ],
      'Alt',
    );
    await this.next(/^Carry through/);
    await expect(this.page.getByText(`${FRAMES} of ${FRAMES} frames found`)).toBeVisible({ timeout: 90_000 });
  }

  /** Writes from the Output bench, and gives the frames that were written, RGB. */
  async write(kind: string, pixels: 'rgb24' | 'gray' | 'rgba' = 'rgb24'): Promise<(frame: number, x: number, y: number) => number[]> {
    // What is offered already needs no choosing.
    if (!(await this.page.getByRole('combobox', { name: 'What' }).textContent())?.includes(kind)) await this.choose('What', kind);
    const ready = this.page.getByRole('link', { name: /^(Zip|Fetch)$/ });
    const before = await ready.count();
    await this.click(this.page.getByRole('region', { name: 'Output' }).getByRole('button', { name: /^Write/ }));
    await expect(ready).toHaveCount(before + 1, { timeout: 90_000 });
    this.actions++;
    // The newest comes first.
    const [download] = await Promise.all([this.page.waitForEvent('download'), ready.first().click()]);
    const file = path.join(mkdtempSync(path.join(os.tmpdir(), 'mottrel-written-')), download.suggestedFilename());
    await download.saveAs(file);
    const raw = rawFrames(file, pixels);
    const depth = pixels === 'rgb24' ? 3 : pixels === 'rgba' ? 4 : 1;
    return (frame, x, y) => {
      const i = ((frame * HEIGHT + y) * WIDTH + x) * depth;
      return [...raw.subarray(i, i + depth)];
    };
  }
}

/** How far two colours are apart, the channel that is most so. */
export const apart = (a: readonly number[], b: readonly number[]): number => Math.max(...a.map((v, i) => Math.abs(v - b[i])));

/** Puts something into a lane. */
export const addTo = async (hand: Hand, where: string, kind: RegExp) => {
  await hand.click(`Add ${where}`);
  await hand.click(hand.page.getByRole('option', { name: kind }));
  await hand.saved();
};
export const bench = (hand: Hand, name: string) => hand.click(hand.page.getByRole('link', { name, exact: true }));

/** By the list of commands: two actions. */
export async function goTo(hand: Hand, frame: number): Promise<void> {
  await hand.press('Control+k');
  await hand.type(String(frame));
  await hand.page.keyboard.press('Enter');
  await expect(hand.page.getByLabel('Frame', { exact: true })).toHaveValue(String(frame));
}
