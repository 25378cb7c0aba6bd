/** Finding a subject in footage from strokes, without a browser or a database. */
import { mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { z } from 'zod';
import { matteTo8, matteTo16 } from '../core/image/picture.ts';
import { labPicture } from '../core/peel/lab.ts';
import { type FrameStroke, peelShot, StrokesError } from '../core/peel/peel-shot.ts';
import { settledMask } from '../core/peel/soft-edge.ts';
import { strokesFromFile } from '../core/peel/strokes-file.ts';
import { readConfig } from '../server/config.ts';
import { closeStoresOf, readStoredFrame } from '../server/footage/frame-store.ts';
import { ingest } from '../server/footage/ingest.ts';
import { probeFile } from '../server/footage/probe.ts';
import { type CliOptions, WrongCall } from './call.ts';

async function readStrokes(file: string): Promise<FrameStroke[]> {
  const text = await readFile(file, 'utf8').catch(() => {
    throw new WrongCall(`There is no file of strokes ${file}.`);
  });
  try {
    return strokesFromFile(JSON.parse(text));
  } catch (error) {
    if (error instanceof SyntaxError) throw new WrongCall(`${file} is not a JSON file.`);
    if (!(error instanceof z.ZodError)) throw error;
    const { path: where, message } = error.issues[0];
    throw new WrongCall(`${file} does not hold strokes: ${message}${where.length > 0 ? ` (at ${where.join('.')})` : ''}`);
  }
}

function rangeOf(text: string | undefined, frames: number): [number, number] {
  if (!text) return [0, frames - 1];
  const match = /^(\d+)(?:-(\d+))?$/.exec(text);
  const [a, b] = [Number(match?.[1]), Number(match?.[2] ?? match?.[1])];
  if (!match || a > b || b >= frames) throw new WrongCall(`--frames takes A-B within 0-${frames - 1}, not "${text}".`);
  return [a, b];
}

export async function peelCommand(options: CliOptions): Promise<void> {
  const { footage, strokes: strokesFile, out, bits } = options;
  if (!footage || !strokesFile || !out) throw new WrongCall('Say what to look at: ./mottrel cli peel --footage FILE --strokes FILE.json --out DIR');
  if (bits !== '8' && bits !== '16') throw new WrongCall(`--bits takes 8 or 16, not "${bits}".`);
  const strokes = await readStrokes(strokesFile);
  const full = path.resolve(footage);
  const { limits } = readConfig();
  const probe = { ...(await probeFile(full, path.basename(full), limits)), input: path.basename(full) };
  const work = await mkdtemp(path.join(os.tmpdir(), 'mottrel-peel-'));
  const store = path.join(work, 'frames');
  try {
    const plate = await ingest({ probe, originals: path.dirname(full), storeDir: store, maxFrames: limits.frames }, { onProgress: () => {} });
    const [first, last] = rangeOf(options.frames, plate.frames);
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
    for await (const { frame, mask, width, height, anchor, doubt, reasons } of peelShot(source, strokes, first, last)) {
      const matte = { width, height, data: settledMask(mask, labPicture(await source.frame(frame))) };
      const raw = { width, height, channels: 1 } as const;
      const picture = bits === '8' ? sharp(matteTo8(matte), { raw }).toColourspace('b-w') : sharp(matteTo16(matte), { raw }).toColourspace('grey16');
      await picture
        .resize(plate.width, plate.height, { kernel: 'cubic', fit: 'fill' })
        .png({ compressionLevel: 1 })
        .toFile(path.join(out, `peel-matte.${String(frame).padStart(4, '0')}.png`));
      report.push({ frame, anchor, doubt, reasons });
      if (process.stderr.isTTY) process.stderr.write(`\r${report.length} of ${total}`);
    }
    if (process.stderr.isTTY) process.stderr.write('\n');
    const frames = report.sort((a, b) => (a as { frame: number }).frame - (b as { frame: number }).frame);
    await writeFile(path.join(out, 'peel.json'), `${JSON.stringify({ footage: path.basename(full), frames }, null, 2)}\n`);
    console.log(`Wrote ${total} mattes to ${path.resolve(out)} (${((performance.now() - began) / 1000 / total).toFixed(3)} s a frame)`);
  } catch (error) {
    throw error instanceof StrokesError ? new WrongCall(error.message) : error;
  } finally {
    await closeStoresOf(store);
    await rm(work, { recursive: true, force: true });
  }
}
