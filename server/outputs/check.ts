/** Holding what was written to what it should be: how many frames, how large, how fast, and what is on some of them. */
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import { z } from 'zod';
import { randomFrom } from '../../core/math/random.ts';
import { framesPerSecond, rateText } from '../../core/time/rate.ts';
import { readRaw, run } from '../footage/ffmpeg.ts';
import { Problem } from '../problem.ts';
import { writtenSize } from './delivered.ts';
import type { ReadBack } from './encoding.ts';
import { formatOf } from './formats/index.ts';
import { Originals } from './originals.ts';
import { bytesPerPixel, meanDifference } from './pixels.ts';
import type { OutputTask } from './task.ts';
import { writtenFrames } from './timed.ts';

export const checkedSchema = z.strictObject({
  frames: z.number().int(),
  /** Frames, as the plate numbers them, that were read back and held to what was rendered. */
  readBack: z.array(z.number().int()),
  /** The largest mean difference of one of them, as a share of white. */
  furthest: z.number(),
  /** Seconds of sound; null: it has none. */
  sound: z.number().nullable(),
});
export type Checked = z.infer<typeof checkedSchema>;

/** Frames that are read back beside the first, the middle and the last. */
const MORE = 10;

const wrong = (what: string) =>
  new Problem('check-failed', `What was written is not right: ${what}. Nothing of it was kept as an output; write it again.`, 500);

/** Which frames are read back, rising: the same for the same output. */
function chosenFrames(first: number, last: number): number[] {
  const random = randomFrom(last - first + 1);
  const more = Array.from({ length: MORE }, () => first + Math.floor(random() * (last - first + 1)));
  return [...new Set([first, Math.floor((first + last) / 2), last, ...more])].sort((a, b) => a - b);
}

const streamSchema = z.looseObject({
  codec_type: z.string().optional(),
  width: z.number().optional(),
  height: z.number().optional(),
  r_frame_rate: z.string().optional(),
  nb_read_packets: z.string().optional(),
  duration: z.string().optional(),
  tags: z.record(z.string(), z.string()).optional(),
});

/** What a movie says of itself, and how many frames there are in it. @throws Problem where that is not what it should be */
async function checkMovie(task: OutputTask, file: string, frames: number): Promise<number | null> {
  const { code, stdout } = await run('ffprobe', ['-v', 'error', '-count_packets', '-show_streams', '-show_format', '-of', 'json', file]);
  if (code !== 0) throw wrong('the movie cannot be read');
  const { streams, format } = z
    .looseObject({ streams: z.array(streamSchema), format: z.looseObject({ duration: z.string().optional() }) })
    .parse(JSON.parse(stdout));
  const picture = streams.find((s) => s.codec_type === 'video');
  const { width, height } = writtenSize(task);
  const { rate } = task.document.plate;
  const there = Number(picture?.nb_read_packets ?? 0);
  if (there !== frames) throw wrong(`the movie has ${there} frames, not ${frames}`);
  // Odd sides may have been made even.
  const isSize = (side: number, should: number) => side === should || side === should + (should % 2);
  if (!isSize(picture?.width ?? 0, width) || !isSize(picture?.height ?? 0, height))
    throw wrong(`it is ${picture?.width}×${picture?.height}, not ${width}×${height}`);
  const [num, den] = (picture?.r_frame_rate ?? '0/1').split('/').map(Number);
  // One frame alone has no rate.
  if (frames > 1 && Math.abs(num / den / framesPerSecond(rate) - 1) > 0.002) throw wrong(`its rate is ${(num / den).toFixed(3)}, not ${rateText(rate)}`);
  const sound = streams.find((s) => s.codec_type === 'audio');
  return sound ? Number(sound.duration ?? format.duration ?? 0) : null;
}

/** Frames of what was written, by their places in it, rising. */
async function* framesRead(task: OutputTask, files: readonly string[], isMovie: boolean, places: readonly number[], back: ReadBack): AsyncGenerator<Buffer> {
  const { width, height } = writtenSize(task);
  const size = width * height * bytesPerPixel(back.pixels);
  const read = async (input: string[], filters: string[], count: number): Promise<Buffer> => {
    const graph = [...filters, ...(back.filters ?? []), `crop=${width}:${height}:0:0`, `format=${back.pixels}`].join(',');
    const { child } = readRaw([
      ...(back.open ?? []),
      ...input,
      '-an',
      '-vf',
      graph,
      '-vsync',
      'passthrough',
      '-frames:v',
      String(count),
      '-f',
      'rawvideo',
      '-',
    ]);
    const parts: Buffer[] = [];
    for await (const part of child.stdout as AsyncIterable<Buffer>) parts.push(part);
    return Buffer.concat(parts);
  };
  if (!isMovie) {
    for (const place of places) {
      const file = ['-i', path.join(task.directory, files[place])];
      const layers: Buffer[] = [];
      for (const layer of back.layers ?? [null]) layers.push(await read(layer === null ? file : ['-layer', layer, ...file], [], 1));
      yield Buffer.concat(layers);
    }
    return;
  }
  const wanted = places.map((n) => `eq(n\\,${n})`).join('+');
  const all = await read(['-i', path.join(task.directory, files[0])], [`select='${wanted}'`], places.length);
  for (const [i] of places.entries()) yield all.subarray(i * size, (i + 1) * size);
}

/** @param files names of what was written, in order. @throws Problem "check-failed" */
export async function checkOutput(task: OutputTask, files: readonly string[]): Promise<Checked> {
  const format = formatOf(task.spec);
  const { first, last } = writtenFrames(task);
  const frames = last - first + 1;
  if (!format.single && files.length !== frames) throw wrong(`there are ${files.length} pictures for ${frames} frames`);
  const sound = format.single ? await checkMovie(task, path.join(task.directory, files[0]), frames) : null;
  if (task.spec.sound === true && task.spec.timed !== true && task.footage?.probe.hasSound && sound === null) throw wrong('the movie has no sound');
  const back = format.readBack(task);
  const chosen = chosenFrames(first, last);
  const sources = new Originals(task);
  let furthest = 0;
  let at = 0;
  try {
    for await (const bytes of framesRead(
      task,
      files,
      format.single,
      chosen.map((f) => f - first),
      back,
    )) {
      const frame = chosen[at++];
      const far = meanDifference(bytes, await format.expected(task, frame, sources), back.pixels);
      if (!(far <= back.within))
        throw wrong(`frame ${frame + task.document.plate.firstNumber} was read back as another picture than the one that was rendered`);
      furthest = Math.max(furthest, far);
    }
  } finally {
    await sources.close();
  }
  if (at !== chosen.length) throw wrong(`only ${at} of ${chosen.length} frames could be read back`);
  return { frames, readBack: chosen.map((f) => f + task.document.plate.firstNumber), furthest: Math.round(furthest * 1e6) / 1e6, sound };
}

/** SHA-256 of each file, as lines that `sha256sum -c` takes. */
export async function hashList(directory: string, files: readonly string[]): Promise<string> {
  const lines: string[] = [];
  for (const name of files) {
    const hash = createHash('sha256');
    await pipeline(createReadStream(path.join(directory, name)), hash);
    lines.push(`${hash.digest('hex')}  ${name}\n`);
  }
  return lines.join('');
}
