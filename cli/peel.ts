/** Finding a subject in footage from strokes, without a browser or a database. */
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { z } from 'zod';
import { REASONS } from '../core/peel/doubt.ts';
import { type FrameStroke, peelShot, StrokesError } from '../core/peel/peel-shot.ts';
import { seenAt } from '../core/peel/settings.ts';
import { finishedAlpha } from '../core/peel/soft-edge.ts';
import { type StrokesFile, strokesFromFile } from '../core/peel/strokes-file.ts';
import { readConfig } from '../server/config.ts';
import { closeStoresOf } from '../server/footage/frame-store.ts';
import { ingest } from '../server/footage/ingest.ts';
import { frameName, mattePicture } from '../server/outputs/write-output.ts';
import { atPlateSize, storedPicture } from '../server/peel/carry-peel.ts';
import { bitsOf, type CliOptions, framesWithin, readJson, WrongCall } from './call.ts';
import { probeFootage } from './footage.ts';

async function readStrokes(file: string): Promise<StrokesFile & { file: string }> {
  try {
    return { file, ...strokesFromFile(await readJson(file, 'file of strokes')) };
  } catch (error) {
    if (!(error instanceof z.ZodError)) throw error;
    const { path: where, message } = error.issues[0];
    throw new WrongCall(`${file} does not hold strokes: ${message}${where.length > 0 ? ` (at ${where.join('.')})` : ''}`);
  }
}

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
  return all;
}

export async function peelCommand(options: CliOptions): Promise<void> {
  const { footage, strokes: files, out, quality } = options;
  if (!footage || !files || !out)
    throw new WrongCall('Say what to look at: ./mottrel cli peel --footage FILE --strokes FILE.json --out DIR [--quality draft|fine]');
  if (quality !== 'draft' && quality !== 'fine') throw new WrongCall(`--quality takes draft or fine, not "${quality}".`);
  const bits = bitsOf(options);
  // Wrong files are told before the footage is read.
  const painted = await Promise.all(files.map(readStrokes));
  const original = await probeFootage(footage);
  const work = await mkdtemp(path.join(os.tmpdir(), 'mottrel-peel-'));
  const store = path.join(work, 'frames');
  try {
    const plate = await ingest({ ...original, storeDir: store, maxFrames: readConfig().limits.frames }, { onProgress: () => {} });
    const [first, last] = framesWithin(options.frames, 0, plate.frames - 1);
    const strokes = strokesFor(painted, plate);
    await mkdir(out, { recursive: true });
    const source = {
      plate,
      frame: async (frame: number) => seenAt(quality, await storedPicture(store, frame)),
    };
    const began = performance.now();
    const report: { frame: number; doubt: number; reasons: string[]; anchor: boolean }[] = [];
    const total = last - first + 1;
    for await (const { frame, mask, zone, picture, anchor, doubt, reasons } of peelShot(source, strokes, first, last)) {
      const matte = { width: picture.width, height: picture.height, data: finishedAlpha(mask, picture, zone) };
      await mattePicture(await atPlateSize(matte, quality, store, frame, plate), bits)
        .png({ compressionLevel: 1 })
        .toFile(path.join(out, frameName('matte', frame)));
      report.push({ frame, doubt, reasons: reasons.map((r) => REASONS[r]), anchor: anchor === frame });
      if (process.stderr.isTTY) process.stderr.write(`\r${report.length} of ${total}`);
    }
    if (process.stderr.isTTY) process.stderr.write('\n');
    const secondsPerFrame = Math.round((performance.now() - began) / total) / 1000;
    report.sort((a, b) => a.frame - b.frame);
    await writeFile(path.join(out, 'report.json'), `${JSON.stringify({ frames: report, secondsPerFrame }, null, 2)}\n`);
    console.log(`Wrote ${total} mattes to ${path.resolve(out)} (${secondsPerFrame.toFixed(3)} s a frame)`);
  } catch (error) {
    throw error instanceof StrokesError ? new WrongCall(error.message) : error;
  } finally {
    await closeStoresOf(store);
    await rm(work, { recursive: true, force: true });
  }
}
