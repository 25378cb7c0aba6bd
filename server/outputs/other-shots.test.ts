/** Outputs of a shot that shows something of another: what is there now is what is written. */
import { readdir, readFile } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Edit } from '../../core/document/edits.ts';
import { newSpline } from '../../core/document/part-kinds/spline.ts';
import { newPath, newSubject } from '../../core/document/records.ts';
import type { Made } from '../../core/document/schema.ts';
import { newLaneEffect } from '../../core/effects/lane-effect.ts';
import { newElement } from '../../core/elements/index.ts';
import { corner } from '../../core/path/path.ts';
import { bringIn, ended, ffmpeg, openTestServices, rawFrames, type TestServices } from '../../tests/services.ts';

const SIZE = { width: 96, height: 64 };
const FRAMES = 30;
let services: TestServices;
let grey: { shotId: string; plateId: string };
let red: { shotId: string; plateId: string };
let steps = 0;

const change = (shotId: string, edits: Edit[]) =>
  services.changes.apply(shotId, { role: 'do', page: 'p', change: { id: `step-${++steps}`, label: 'Step', edits } });

beforeAll(async () => {
  services = await openTestServices();
  const clip = async (colour: string) => {
    const file = path.join(services.dir, `${colour}.mkv`);
    ffmpeg('-f', 'lavfi', '-i', `color=${colour}:s=96x64:r=24`, '-frames:v', String(FRAMES), '-pix_fmt', 'bgr0', '-c:v', 'ffv1', file);
    return bringIn(services, [{ name: `${colour}.mkv`, bytes: await readFile(file) }]);
  };
  grey = await clip('0x606060');
  red = await clip('0xc02020');
  const subject = newSubject('left', 'Left');
  subject.parts.push(newSpline('p', 'Half', [newPath('q', 0, [corner(0, 0), corner(48, 0), corner(48, 64), corner(0, 64)], true)]));
  await change(red.shotId, [{ kind: 'insert', parent: 'cast', index: 0, record: subject }]);
});
afterAll(() => services.end());

/** Lets the grey shot show something of a shot. */
async function show(made: Made): Promise<void> {
  const { document } = await services.changes.load(grey.shotId);
  const shown = { id: red.plateId, ...SIZE, frames: FRAMES, alpha: made.subject !== null, made };
  if (document.lanes.length === 0) {
    const record = { ...newElement(document, 'shown', 'front', null, 'footage'), footage: shown };
    await change(grey.shotId, [{ kind: 'insert', parent: 'lanes', index: 0, record }]);
  } else await change(grey.shotId, [{ kind: 'assign', id: 'shown', values: { footage: shown } }]);
}

const write = (spec = { kind: 'composed-mp4', sound: false, first: 0, last: FRAMES - 1 }) => services.outputs.request(services.queue, grey.shotId, spec);

/** A pixel of a frame of what was written. */
async function pixels(jobId: string): Promise<(frame: number, x: number) => number[]> {
  const job = await ended(services, jobId);
  expect(job.message).toBeNull();
  const dir = services.outputs.directory(jobId);
  const movie = (await readdir(dir)).find((name) => name.endsWith('.mp4')) as string;
  const got = rawFrames(path.join(dir, movie), 'rgb24', 'scale=in_color_matrix=bt709:in_range=tv:out_range=pc');
  return (frame, x) => [...got.subarray(3 * ((frame * SIZE.height + 32) * SIZE.width + x), 3 * ((frame * SIZE.height + 32) * SIZE.width + x) + 3)];
}
const near = (is: number[], wanted: number[]) => expect(Math.max(...is.map((v, i) => Math.abs(v - wanted[i]))), `${is}`).toBeLessThan(14);
const [GREY, RED, GREEN] = [
  [0x60, 0x60, 0x60],
  [0xc0, 0x20, 0x20],
  [0, 255, 0],
];

it('a subject of another shot is written as it is cut out there when the output is asked for', async () => {
  await show({ shot: red.shotId, subject: 'left' });
  const before = await write();
  // What is changed there afterwards is not in what was asked for.
  await change(red.shotId, [{ kind: 'assign', id: 'p', values: { inverted: true } }]);
  const after = await write();
  const [first, second] = [await pixels(before), await pixels(after)];
  for (const frame of [0, 25]) {
    near(first(frame, 20), RED);
    near(first(frame, 76), GREY);
    near(second(frame, 20), GREY);
    near(second(frame, 76), RED);
  }
});

it('the finished picture of another shot has its lanes', async () => {
  await show({ shot: red.shotId, subject: null });
  const made = newLaneEffect('b', 'inside', 'left', 'solid');
  await change(red.shotId, [{ kind: 'insert', parent: 'lanes', index: 0, record: { ...made, settings: { colour: { constant: [0, 1, 0] } } } }]);
  const pixel = await pixels(await write());
  near(pixel(12, 20), RED);
  near(pixel(12, 76), GREEN);
});

it('two shots that show each other are refused in words, and so is one that is gone', async () => {
  const { document } = await services.changes.load(red.shotId);
  const back = newElement(document, 'back', 'front', null, 'footage');
  const footage = { id: grey.plateId, ...SIZE, frames: FRAMES, alpha: false, made: { shot: grey.shotId, subject: null } };
  await change(red.shotId, [{ kind: 'insert', parent: 'lanes', index: 0, record: { ...back, footage } }]);
  expect(await ended(services, await write())).toMatchObject({ state: 'failed', message: expect.stringMatching(/shows it in turn: choose other footage/) });
  await services.shots.setDeleted(red.shotId, true);
  await expect(write()).rejects.toThrow(/A shot that this one shows is no longer there\. Bring it back/);
});

it('neighbours say what of a shot can be shown', async () => {
  await services.shots.setDeleted(red.shotId, false);
  expect(await services.shots.neighbours(grey.shotId)).toEqual([
    {
      ...{ id: red.shotId, name: expect.any(String), plateId: red.plateId, frames: FRAMES, ...SIZE, rate: { num: 24, den: 1 }, alpha: false, hasSound: false },
      ...{ subjects: [{ id: 'left', name: 'Left' }], finished: FRAMES },
    },
  ]);
});
