import { mkdir, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { newImported } from '../../core/document/part-kinds/imported.ts';
import { newDocument, newSubject } from '../../core/document/records.ts';
import { rawFrames, temporaryDirectory } from '../../tests/services.ts';
import { readConfig } from '../config.ts';
import { probeFile } from '../footage/probe.ts';
import type { Original } from './task.ts';
import { writeOutput } from './write-output.ts';

const SIZE = { width: 64, height: 36 };
let dir: string;
beforeAll(async () => {
  dir = await temporaryDirectory();
});
afterAll(() => rm(dir, { recursive: true, force: true }));

/** A gray of 16 bits, told apart from one of 8: its steps are finer. */
const ramp = (frame: number) => Uint16Array.from({ length: SIZE.width * SIZE.height }, (_, i) => (i % SIZE.width) * 1000 + frame * 37 + 5);

async function still(name: string, frame: number): Promise<Original> {
  const file = path.join(dir, name);
  await writeFile(
    file,
    await sharp(ramp(frame), { raw: { ...SIZE, channels: 1 } })
      .toColourspace('grey16')
      .png()
      .toBuffer(),
  );
  return { probe: { ...(await probeFile(file, name, readConfig().limits)), input: name }, originals: dir };
}

const shot = (more: object = {}) => {
  const document = newDocument('Tide', { ...SIZE, frames: 6, rate: { num: 24, den: 1 }, firstNumber: 0 });
  const subject = newSubject('s', 'Water');
  subject.parts.push({ ...newImported('m', 'Luma', 'foot', 1), ...more });
  document.cast.push(subject);
  return document;
};

const read = (folder: string, frame: number) => {
  const raw = rawFrames(path.join(folder, `water-matte.000${frame}.png`), 'gray16le');
  return new Uint16Array(raw.buffer, raw.byteOffset, raw.length / 2);
};

it('takes a gray picture of 16 bits as the matte of every frame, and gives it back with all of them', async () => {
  const original = await still('matte.png', 0);
  const directory = path.join(dir, 'out');
  await mkdir(directory);
  const task = {
    document: shot(),
    spec: { kind: 'matte-png' as const, subject: 's', bits: 16 as const, first: 0, last: 2 },
    directory,
    others: { foot: original },
  };
  await writeOutput(task, { onProgress: () => {} });
  for (const frame of [0, 2]) {
    const got = read(directory, frame);
    const wanted = ramp(0);
    for (let i = 0; i < wanted.length; i++) expect(Math.abs(got[i] - wanted[i])).toBeLessThanOrEqual(2);
  }
});

it('lies where its offset puts a sequence, inverted where asked, and is empty outside it', async () => {
  const original = await still('second.png', 1);
  const directory = path.join(dir, 'moved');
  await mkdir(directory);
  const document = shot({ length: 2, offset: { constant: 3 }, inverted: true });
  const task = { document, spec: { kind: 'matte-png' as const, subject: 's', bits: 16 as const, first: 2, last: 3 }, directory, others: { foot: original } };
  await writeOutput(task, { onProgress: () => {} });
  expect(Math.min(...read(directory, 2))).toBe(65535);
  expect(Math.abs(read(directory, 3)[10] - (65535 - ramp(1)[10]))).toBeLessThanOrEqual(2);
});

it('begins where the keys of its frame say', async () => {
  const original = await still('keyed.png', 0);
  const directory = path.join(dir, 'keyed');
  await mkdir(directory);
  // Its first frame lies on 3 by the first key and on 4 by the second.
  const offset = { keys: [1, 4].map((frame) => ({ frame, value: frame === 1 ? 3 : 4, ease: 'hold' as const })) };
  const document = shot({ length: 2, offset });
  const task = { document, spec: { kind: 'matte-png' as const, subject: 's', bits: 16 as const, first: 1, last: 4 }, directory, others: { foot: original } };
  await writeOutput(task, { onProgress: () => {} });
  expect(Math.max(...read(directory, 2))).toBe(0);
  expect(Math.abs(read(directory, 4)[10] - ramp(0)[10])).toBeLessThanOrEqual(2);
});

it('says so where its footage is gone', async () => {
  const directory = path.join(dir, 'gone');
  await mkdir(directory);
  const task = { document: shot(), spec: { kind: 'matte-png' as const, subject: 's', bits: 8 as const, first: 0, last: 0 }, directory };
  await expect(writeOutput(task, { onProgress: () => {} })).rejects.toThrow(/Footage that this shot uses is no longer here/);
});
