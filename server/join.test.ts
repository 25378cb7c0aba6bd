/** Shots that are joined: the new shot comes in, shows the others as they are now, and is written as one, with their sound. */
import { readdir, readFile } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { newSpline } from '../core/document/part-kinds/spline.ts';
import { newPath, newSubject } from '../core/document/records.ts';
import { corner } from '../core/path/path.ts';
import { bringIn, ended, ffmpeg, ffprobe, openTestServices, rawFrames, type TestServices, until } from '../tests/services.ts';

const SIZE = { width: 96, height: 64 };
let services: TestServices;
let productionId: string;
const shots: { shotId: string; plateId: string }[] = [];

beforeAll(async () => {
  services = await openTestServices();
  productionId = await services.shots.createProduction('Joined');
  for (const [name, colour, frequency] of [
    ['grey', '0x606060', 400],
    ['red', '0xc02020', 0],
    ['green', '0x20a040', 1000],
  ] as const) {
    const file = path.join(services.dir, `${name}.mkv`);
    const sound = frequency > 0 ? ['-f', 'lavfi', '-i', `sine=f=${frequency}:r=48000:d=0.834`, '-c:a', 'pcm_s16le'] : [];
    ffmpeg('-f', 'lavfi', '-i', `color=${colour}:s=96x64:r=24`, ...sound, '-frames:v', '20', '-pix_fmt', 'bgr0', '-c:v', 'ffv1', file);
    shots.push(await bringIn(services, [{ name: `${name}.mkv`, bytes: await readFile(file) }]));
  }
  const subject = newSubject('left', 'Left');
  subject.parts.push(newSpline('p', 'Part', [newPath('q', 0, [corner(0, 0), corner(30, 0), corner(30, 64), corner(0, 64)], true)]));
  await services.changes.apply(shots[0].shotId, {
    role: 'do',
    page: 'p',
    change: { id: 'a', label: 'Subject', edits: [{ kind: 'insert', parent: 'cast', index: 0, record: subject }] },
  });
});
afterAll(() => services.end());

const join = (more: object = {}) =>
  services.joinShots(productionId, { name: 'All of them', shots: shots.map((s) => s.shotId), way: 'push', takes: 6, held: null, ...more });

/** Waits until a shot is in, and writes all of it. */
async function written(shotId: string): Promise<string> {
  await until(async () => (await services.shots.shots(productionId)).find((s) => s.id === shotId)?.state === 'ready', 60_000);
  const { document } = await services.changes.load(shotId);
  const jobId = await services.outputs.request(services.queue, shotId, { kind: 'composed-mp4', sound: true, first: 0, last: document.plate.frames - 1 });
  const job = await ended(services, jobId);
  expect(job.message).toBeNull();
  const dir = services.outputs.directory(jobId);
  return path.join(dir, (await readdir(dir)).find((name) => name.endsWith('.mp4')) as string);
}

it('is as long as all without what they share, and pushes from one to the next with somebody on top', async () => {
  const { shotId } = await join({ held: { shot: shots[0].shotId, subject: 'left' } });
  const file = await written(shotId);
  // Its own plate is black: the first of the others stands for it in the list.
  const listed = await services.shots.shots(productionId);
  expect(listed.map((s) => s.cover)).toEqual([...shots.map((s) => s.plateId), shots[0].plateId]);
  const { width, height } = SIZE;
  const got = rawFrames(file, 'rgb24', 'scale=in_color_matrix=bt709:in_range=tv:out_range=pc');
  expect(got.length / (width * height * 3)).toBe(20 + 14 + 14);
  const pixel = (frame: number, x: number) => [...got.subarray(3 * ((frame * height + 31) * width + x), 3 * ((frame * height + 31) * width + x) + 3)];
  const near = (is: number[], wanted: number[]) => expect(Math.max(...is.map((v, i) => Math.abs(v - wanted[i]))), `${is}`).toBeLessThan(16);
  const [grey, red, green] = [
    [0x60, 0x60, 0x60],
    [0xc0, 0x20, 0x20],
    [0x20, 0xa0, 0x40],
  ];
  for (const x of [10, 80]) {
    near(pixel(13, x), grey);
    near(pixel(20, x), red);
    near(pixel(27, x), red);
    near(pixel(34, x), green);
    near(pixel(47, x), green);
  }
  // In the middle of the first way: the red one comes from the left, and what stays on top is grey still.
  near(pixel(17, 40), red);
  near(pixel(17, 85), grey);
  near(pixel(17, 10), grey);
  // The second way has nobody on top: its left side is green in the middle of it.
  near(pixel(30, 10), green);
});

it('has the sound of each where it is seen, and none where it has none', async () => {
  const { shotId } = await join({ name: 'With sound' });
  const file = await written(shotId);
  expect(ffprobe(file).audio).toBe(true);
  const samples = path.join(services.dir, 'joined.raw');
  ffmpeg('-i', file, '-vn', '-ac', '1', '-ar', '48000', '-f', 's16le', samples);
  const raw = await readFile(samples);
  const sound = new Int16Array(raw.buffer, raw.byteOffset, raw.length >> 1);
  /** Crossings of zero in a second, over half a dozen frames; and the loudest of it. */
  const heard = (frame: number) => {
    const part = sound.subarray(frame * 2000, (frame + 6) * 2000);
    let crossings = 0;
    for (let i = 1; i < part.length; i++) if (part[i - 1] < 0 !== part[i] < 0) crossings++;
    return { pitch: crossings * 2, loudest: part.reduce((most, v) => Math.max(most, Math.abs(v)), 0) };
  };
  expect(Math.abs(heard(4).pitch - 400) / 400).toBeLessThan(0.06);
  expect(heard(21).loudest).toBeLessThan(60);
  expect(Math.abs(heard(38).pitch - 1000) / 1000).toBeLessThan(0.06);
});

it('is refused in words where it cannot be, and leaves nothing behind', async () => {
  const before = (await services.shots.shots(productionId)).length;
  await expect(join({ shots: [shots[0].shotId] })).rejects.toThrow(/two shots/);
  await expect(join({ shots: [shots[0].shotId, 'gone'] })).rejects.toThrow(/no longer there/);
  await expect(join({ takes: 10 })).rejects.toThrow(/"red" is too short for ways of 10 frames/);
  await expect(join({ held: { shot: shots[1].shotId, subject: 'left' } })).rejects.toThrow(/not a subject/);
  await expect(join({ way: 'spiral' })).rejects.toThrow();
  expect((await services.shots.shots(productionId)).length).toBe(before);
  expect(await readdir(path.join(services.dir, 'uploads'))).toEqual([]);
});
