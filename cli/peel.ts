/** Finding a subject in footage from strokes, without a browser or a database. */
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { z } from 'zod';
import { type FrameStroke, peelShot, StrokesError } from '../core/peel/peel-shot.ts';
import { settledMask } from '../core/peel/soft-edge.ts';
import { strokesFromFile } from '../core/peel/strokes-file.ts';
import { readConfig } from '../server/config.ts';
import { closeStoresOf, readStoredFrame } from '../server/footage/frame-store.ts';
import { ingest } from '../server/footage/ingest.ts';
import { frameName, mattePicture } from '../server/outputs/write-output.ts';
import { bitsOf, type CliOptions, framesWithin, readJson, WrongCall } from './call.ts';
import { probeFootage } from './footage.ts';

async function readStrokes(file: string): Promise<FrameStroke[]> {
  try {
    return strokesFromFile(await readJson(file, 'file of strokes'));
  } catch (error) {
    if (!(error instanceof z.ZodError)) throw error;
    const { path: where, message } = error.issues[0];
    throw new WrongCall(`${file} does not hold strokes: ${message}${where.length > 0 ? ` (at ${where.join('.')})` : ''}`);
  }
}

export async function peelCommand(options: CliOptions): Promise<void> {
  const { footage, strokes: strokesFile, out } = options;
  if (!footage || !strokesFile || !out) throw new WrongCall('Say what to look at: ./mottrel cli peel --footage FILE --strokes FILE.json --out DIR');
  const bits = bitsOf(options);
  const strokes = await readStrokes(strokesFile);
  const original = await probeFootage(footage);
  const work = await mkdtemp(path.join(os.tmpdir(), 'mottrel-peel-'));
  const store = path.join(work, 'frames');
  try {
    const plate = await ingest({ ...original, storeDir: store, maxFrames: readConfig().limits.frames }, { onProgress: () => {} });
    const [first, last] = framesWithin(options.frames, 0, plate.frames - 1);
    const beyond = strokes.find((s) => s.frame >= plate.frames);
    if (beyond) throw new WrongCall(`A stroke is on frame ${beyond.frame}, but the footage ends with frame ${plate.frames - 1}.`);
    await mkdir(out, { recursive: true });
    const source = {
      plate,
      async frame(frame: number) {
        const { data, info } = await sharp(await readStoredFrame(store, 'proxy', frame))
          .ensureAlpha()
          .raw()
          .toBuffer({ resolveWithObject: true });
        return { width: info.width, height: info.height, data };
      },
    };
    const began = performance.now();
    const report: object[] = [];
    const total = last - first + 1;
    for await (const { frame, mask, picture, anchor, doubt, reasons } of peelShot(source, strokes, first, last)) {
      const matte = { width: picture.width, height: picture.height, data: settledMask(mask, picture) };
      await mattePicture(matte, bits)
        .resize(plate.width, plate.height, { kernel: 'cubic', fit: 'fill' })
        .png({ compressionLevel: 1 })
        .toFile(path.join(out, frameName('peel-matte', frame)));
      report.push({ frame, anchor, doubt, reasons });
      if (process.stderr.isTTY) process.stderr.write(`\r${report.length} of ${total}`);
    }
    if (process.stderr.isTTY) process.stderr.write('\n');
    const frames = report.sort((a, b) => (a as { frame: number }).frame - (b as { frame: number }).frame);
    await writeFile(path.join(out, 'peel.json'), `${JSON.stringify({ footage: original.probe.input, frames }, null, 2)}\n`);
    console.log(`Wrote ${total} mattes to ${path.resolve(out)} (${((performance.now() - began) / 1000 / total).toFixed(3)} s a frame)`);
  } catch (error) {
    throw error instanceof StrokesError ? new WrongCall(error.message) : error;
  } finally {
    await closeStoresOf(store);
    await rm(work, { recursive: true, force: true });
  }
}
