/** The sound of footage as it is played, and its waveform: held to sound whose times are known. */

import { execFileSync } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { bringIn, ffmpeg, openTestServices, type TestServices } from '../../tests/services.ts';

let services: TestServices;
const plates: Record<string, string> = {};

async function made(name: string, ...args: string[]): Promise<void> {
  const file = path.join(services.dir, name);
  ffmpeg(...args, file);
  const { shotId } = await bringIn(services, [{ name, bytes: await readFile(file) }]);
  plates[name] = (await services.shots.shot(shotId)).plate.id;
}

const PICTURE = ['-f', 'lavfi', '-i', 'testsrc2=s=64x36:r=24:d=4'];
/** A tone from 2 s to 3 s, silence round it. */
const TONE = "aevalsrc='if(between(t,2,3),0.8*sin(2*PI*440*t),0)':s=44100:d=4";

beforeAll(async () => {
  services = await openTestServices();
  await made('tone.mp4', ...PICTURE, '-f', 'lavfi', '-i', TONE, '-pix_fmt', 'yuv420p', '-c:a', 'aac');
  // The sound begins a second after the picture, and ends a second before it.
  await made(
    'late.mkv',
    ...PICTURE,
    '-itsoffset',
    '1',
    '-f',
    'lavfi',
    '-i',
    "aevalsrc='0.8*sin(2*PI*440*t)':s=48000:d=2",
    '-pix_fmt',
    'yuv420p',
    '-c:a',
    'flac',
  );
  await made('quiet.mp4', ...PICTURE, '-pix_fmt', 'yuv420p');
});
afterAll(() => services.end());

/** Seconds at which it is first and last loud, of samples that come so often a second. */
function loudFrom(samples: ArrayLike<number>, perSecond: number, loud: number): [number, number] {
  const at = Array.from(samples, (v, i) => (Math.abs(v) > loud ? i : -1)).filter((i) => i >= 0);
  return [at[0] / perSecond, ((at.at(-1) ?? 0) + 1) / perSecond];
}

const CASES: [string, number, number][] = [
  ['tone.mp4', 2, 3],
  ['late.mkv', 1, 3],
];

it.each(CASES)('of %s is heard from %i s to %i s', async (name, from, to) => {
  const file = await services.shots.soundOf(plates[name], 'sound');
  const bytes = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-ac', '1', '-ar', '48000', '-f', 's16le', '-'], { maxBuffer: 1 << 28 });
  const samples = new Int16Array(bytes.buffer, bytes.byteOffset, bytes.length / 2);
  const [begin, end] = loudFrom(samples, 48_000, 4000);
  expect(Math.abs(begin - from)).toBeLessThan(0.02);
  expect(Math.abs(end - to)).toBeLessThan(0.02);
});

it.each(CASES)('of %s is drawn from %i s to %i s, four parts a frame', async (name, from, to) => {
  const loudest = await readFile(await services.shots.soundOf(plates[name], 'waveform'));
  expect(loudest).toHaveLength(4 * 96);
  const [begin, end] = loudFrom(loudest, 96, 60);
  expect(Math.abs(begin - from)).toBeLessThan(0.03);
  expect(Math.abs(end - to)).toBeLessThan(0.03);
  // 0.8 of full scale.
  expect(Math.abs(Math.max(...loudest) - 0.8 * 255)).toBeLessThan(20);
});

it('is made once however many ask for it, and footage without sound says so', async () => {
  const files = await Promise.all(Array.from({ length: 8 }, () => services.shots.soundOf(plates['tone.mp4'], 'sound')));
  expect(new Set(files).size).toBe(1);
  await expect(services.shots.soundOf(plates['quiet.mp4'], 'sound')).rejects.toThrow('This footage has no sound.');
  await expect(services.shots.soundOf(plates['quiet.mp4'], 'waveform')).rejects.toThrow('This footage has no sound.');
  await expect(services.shots.soundOf('../../etc', 'sound')).rejects.toThrow();
});
