/** The sound of footage, to be played with its picture, and how loud it is over time. Made when somebody first asks for it. */
import { mkdir, rename, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { framesPerSecond } from '../../core/time/rate.ts';
import { InTurn } from '../in-turn.ts';
import { Problem } from '../problem.ts';
import { exists } from './exists.ts';
import { firstFault, readRaw, run } from './ffmpeg.ts';
import type { Probe } from './probe.ts';
import { inputArguments } from './read-plate.ts';

/** Where it lies, beside the frames of a plate. */
export const soundDirectory = (plateDir: string): string => path.join(plateDir, 'sound');

interface OfPlate {
  plateDir: string;
  originals: string;
  probe: Probe;
  frames: number;
}

const making = new InTurn();

/** Makes a file once, however many ask for it. */
async function once({ plateDir, probe }: OfPlate, name: string, make: (file: string) => Promise<void>): Promise<string> {
  if (!probe.hasSound) throw new Problem('no-sound', 'This footage has no sound.', 404);
  const file = path.join(soundDirectory(plateDir), name);
  await making.do(file, async () => {
    if (await exists(file)) return;
    await mkdir(path.dirname(file), { recursive: true });
    await make(`${file}.part`);
    await rename(`${file}.part`, file);
  });
  return file;
}

/** Sound that begins later than the picture has silence before it. */
const FROM_THE_BEGINNING = 'aresample=async=1:first_pts=0';

/** The sound as a file that browsers play and jump about in: Opus in Ogg. */
export const soundFile = (plate: OfPlate): Promise<string> =>
  once(plate, 'sound.ogg', async (file) => {
    const { code, stderr } = await run('ffmpeg', [
      ...['-v', 'error', '-nostdin', '-y'],
      ...inputArguments(plate.probe, plate.originals),
      ...['-vn', '-map', '0:a:0', '-af', FROM_THE_BEGINNING, '-ac', '2', '-ar', '48000', '-c:a', 'libopus', '-b:a', '160k', '-f', 'ogg', file],
    ]);
    if (code !== 0) throw new Problem('sound-unread', `The sound of this footage could not be read. ${firstFault(stderr)}`, 500);
  });

const RATE = 8000;
/** Of each frame, as far as that is not too many. */
const PARTS = 4;
const MOST = 100_000;

/** How loud it is: the highest of each part of the shot, parts of the same length, one byte each. */
export const waveformFile = (plate: OfPlate): Promise<string> =>
  once(plate, 'waveform.bin', async (file) => {
    const count = Math.min(MOST, plate.frames * PARTS);
    const perPart = ((plate.frames / framesPerSecond(plate.probe.rate)) * RATE) / count;
    const loudest = new Uint8Array(count);
    const { child, errors } = readRaw([
      ...inputArguments(plate.probe, plate.originals),
      ...['-vn', '-map', '0:a:0', '-af', FROM_THE_BEGINNING, '-ac', '1', '-ar', String(RATE), '-f', 's16le', '-'],
    ]);
    const ended = new Promise<number | null>((resolve) => child.once('close', resolve));
    let rest: Buffer = Buffer.alloc(0);
    let at = 0;
    for await (const chunk of child.stdout as AsyncIterable<Buffer>) {
      const bytes = rest.length > 0 ? Buffer.concat([rest, chunk]) : chunk;
      for (let i = 0; i + 1 < bytes.length; i += 2, at++) {
        const part = Math.floor(at / perPart);
        if (part < count) loudest[part] = Math.max(loudest[part], Math.min(255, Math.abs(bytes.readInt16LE(i)) >> 7));
      }
      rest = bytes.subarray(bytes.length & ~1);
    }
    if ((await ended) !== 0) throw new Problem('sound-unread', `The sound of this footage could not be read. ${firstFault(errors())}`, 500);
    await writeFile(file, loudest);
  });
