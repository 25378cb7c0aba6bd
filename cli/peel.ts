/** Finding a subject in footage from strokes, without a browser or a database. */
import { mkdir, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { REASONS } from '../core/peel/doubt.ts';
import { type FrameStroke, peelShot, StrokesError } from '../core/peel/peel-shot.ts';
import { seenAt } from '../core/peel/settings.ts';
import { finishedAlpha } from '../core/peel/soft-edge.ts';
import { startsFrom } from '../core/peel/strokes.ts';
import { type StrokesFile, strokesFromFile } from '../core/peel/strokes-file.ts';
import { OneBehind } from '../server/one-behind.ts';
import { frameName, mattePicture } from '../server/outputs/write-output.ts';
import { atPlateSize, storedPicture } from '../server/peel/carry-peel.ts';
import { bitsOf, type CliOptions, framesWithin, readParsed, WrongCall } from './call.ts';
import { withFrames } from './footage.ts';

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

export async function peelCommand(options: CliOptions): Promise<void> {
  const { footage, strokes: files, out, quality } = options;
  if (!footage || !files || !out)
    throw new WrongCall('Say what to look at: ./mottrel cli peel --footage FILE --strokes FILE.json --out DIR [--quality draft|fine]');
  if (quality !== 'draft' && quality !== 'fine') throw new WrongCall(`--quality takes draft or fine, not "${quality}".`);
  const bits = bitsOf(options);
  // Wrong files are told before the footage is read.
  const painted = await Promise.all(files.map(readStrokes));
  await withFrames(footage, async (plate, store) => {
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
    const writing = new OneBehind();
    for await (const { frame, mask, zone, picture, anchor, doubt, reasons } of peelShot(source, strokes, first, last)) {
      const matte = { width: picture.width, height: picture.height, data: finishedAlpha(mask, picture, zone) };
      const large = await atPlateSize(matte, quality, store, frame, plate);
      await writing.add(async () => {
        await mattePicture(large, bits)
          .png({ compressionLevel: 1 })
          .toFile(path.join(out, frameName('matte', frame)));
        report.push({ frame, doubt, reasons: reasons.map((r) => REASONS[r]), anchor: anchor === frame });
        if (process.stderr.isTTY) process.stderr.write(`\r${report.length} of ${total}`);
      });
    }
    await writing.done();
    if (process.stderr.isTTY) process.stderr.write('\n');
    const secondsPerFrame = Math.round((performance.now() - began) / total) / 1000;
    report.sort((a, b) => a.frame - b.frame);
    await writeFile(path.join(out, 'report.json'), `${JSON.stringify({ frames: report, secondsPerFrame }, null, 2)}\n`);
    console.log(`Wrote ${total} mattes to ${path.resolve(out)} (${secondsPerFrame.toFixed(3)} s a frame)`);
  }).catch((error) => {
    throw error instanceof StrokesError ? new WrongCall(error.message) : error;
  });
}
