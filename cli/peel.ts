/** Finding a subject in footage from strokes, without a browser or a database. */
import { mkdir, writeFile } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import path from 'node:path';
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import type { Quality } from '../core/peel/settings.ts';
import { StrokesError } from '../core/peel/shot/peel-shot.ts';
import { allAnchors, anchorsIn } from '../core/peel/strokes/anchors.ts';
import { stretches } from '../core/peel/strokes/plan.ts';
import { type FrameStroke, startsFrom } from '../core/peel/strokes/strokes.ts';
import { type StrokesFile, strokesFromFile } from '../core/peel/strokes/strokes-file.ts';
import { PROGRAM } from '../server/root.ts';
import { framesWithin, readParsed, WrongCall } from './call.ts';
import { withFrames } from './footage.ts';
import { type PeelEnd, type PeelReport, type PeelTask, peelFrames } from './peel-frames.ts';

const readStrokes = async (file: string) => ({ file, ...(await readParsed(file, 'strokes', strokesFromFile)) });

/** The strokes of all files, each checked against the footage. */
function strokesFor(files: readonly (StrokesFile & { file: string })[], plate: { width: number; height: number; frames: number }): FrameStroke[] {
  const all: FrameStroke[] = [];
  for (const { file, width, height, frames, strokes } of files) {
    if (width !== plate.width || height !== plate.height)
      throw new WrongCall(`${file} is for footage of ${width}×${height}, but this is ${plate.width}×${plate.height}.`);
    if (frames !== plate.frames) throw new WrongCall(`${file} is for footage of ${frames} frames, but this has ${plate.frames}.`);
    const beyond = strokes.find((s) => s.frame >= plate.frames);
    if (beyond) throw new WrongCall(`A stroke is on frame ${beyond.frame}, but the footage ends with frame ${plate.frames - 1}.`);
    all.push(...strokes);
  }
  // The frame that is painted first is cut from its strokes; those of the others mend what is carried there.
  const start = all.find(startsFrom)?.frame;
  return all.map((s) => ({ ...s, mends: s.frame !== start }));
}

/** Frames of a stretch from which on it is worth a thread of its own. */
const WORTH_A_THREAD = 12;

/** Both sides of a painted frame at the same time where that is worth it. */
async function inThreads(task: PeelTask, onFrame: () => void): Promise<PeelReport[]> {
  const parts = stretches(allAnchors(anchorsIn(task.strokes, []), []), task.first, task.last);
  if (availableParallelism() < parts.length || parts.some((p) => p.last - p.first < WORTH_A_THREAD)) return peelFrames(task, onFrame);
  const pool = new Piscina({
    filename: path.join(PROGRAM, 'peel-worker.js'),
    maxThreads: parts.length,
  });
  try {
    const ends = await Promise.all(
      parts.map((part): Promise<PeelEnd> => {
        const { port1, port2 } = new MessageChannel();
        port1.on('message', onFrame);
        return pool.run({ task: { ...task, ...part }, port: port2 }, { transferList: [port2] });
      }),
    );
    return ends.flatMap((end) => {
      if ('wrong' in end) throw new StrokesError(end.wrong);
      return end.report;
    });
  } finally {
    await pool.destroy();
  }
}

export interface PeelOptions {
  footage: string;
  strokes: string[];
  out: string;
  quality: Quality;
  bits: string;
  frames?: string;
}

export async function peelCommand({ footage, strokes: files, out, quality, bits, frames }: PeelOptions): Promise<void> {
  // Wrong files are told before the footage is read.
  const painted = await Promise.all(files.map(readStrokes));
  await withFrames(footage, async (plate, store) => {
    const [first, last] = framesWithin(frames, 0, plate.frames - 1);
    const strokes = strokesFor(painted, plate);
    await mkdir(out, { recursive: true });
    const began = performance.now();
    const total = last - first + 1;
    let done = 0;
    const report = await inThreads({ plate, store, out, strokes, quality, bits: bits === '8' ? 8 : 16, first, last }, () => {
      done++;
      if (process.stderr.isTTY) process.stderr.write(`\r${done} of ${total}`);
    });
    if (process.stderr.isTTY) process.stderr.write('\n');
    const secondsPerFrame = Math.round((performance.now() - began) / total) / 1000;
    report.sort((a, b) => a.frame - b.frame);
    await writeFile(path.join(out, 'report.json'), `${JSON.stringify({ frames: report, secondsPerFrame }, null, 2)}\n`);
    console.log(`Wrote ${total} mattes to ${path.resolve(out)} (${secondsPerFrame.toFixed(3)} s a frame)`);
  }).catch((error) => {
    throw error instanceof StrokesError ? new WrongCall(error.message) : error;
  });
}
