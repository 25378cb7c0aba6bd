/**
 * Movies, written segment by segment: every finished one is a file of its own, so a run that was stopped or killed goes on after the last
 * whole one.
 */
import { once } from 'node:events';
import { rename, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import type { FrameRange } from '../../core/time/ranges.ts';
import { frameToSeconds } from '../../core/time/rate.ts';
import { exists } from '../footage/exists.ts';
import { firstFault, run, writeRaw } from '../footage/ffmpeg.ts';
import { inputArguments } from '../footage/read-plate.ts';
import { Problem } from '../problem.ts';
import { writtenSize } from './delivered.ts';
import { SEGMENT } from './format.ts';
import type { FrameWriter } from './frame-writer.ts';
import type { Originals } from './originals.ts';
import type { OutputTask } from './task.ts';
import { timedSound, timesOfOutput, writtenFrames } from './timed.ts';

/** Tags of what was converted to them; gray alone has none but its range. */
const tagsOf = ({ pixels }: Movie, isFull: boolean): string[] =>
  pixels === 'gray16le' && isFull ? ['-color_range', 'pc'] : ['-color_primaries', 'bt709', '-color_trc', 'bt709', '-colorspace', 'bt709', '-color_range', 'tv'];

/** ffmpeg's names of what movies are put into. */
const CONTAINERS = { mov: 'mov', mp4: 'mp4', mkv: 'matroska', webm: 'webm' } as const;
export type Container = keyof typeof CONTAINERS;
const isIsoFile = (extension: Container) => extension === 'mov' || extension === 'mp4';

export interface Movie {
  /** Of its file. */
  name: string;
  extension: Container;
  /** Whether its values go over the full range, as they were rendered. */
  isFull: boolean;
  /** How ffmpeg calls the form of the bytes that are rendered. */
  pixels: string;
  /** Options of the encoder; those that say which colours it has are added. */
  encode: string[];
  /** Whether the plate's own sound goes with it. */
  sound?: boolean;
  render(frame: number, plate: Originals): Promise<Buffer>;
}

const segmentOf = ({ directory }: OutputTask, { extension }: Movie, first: number): string =>
  path.join(directory, `segment-${String(first).padStart(7, '0')}.${extension}`);

/** Writes the segments of a range of frames, which begins where segments do, as far as they are not there. */
export function segmentWriter(task: OutputTask, movie: Movie, range: FrameRange): FrameWriter {
  const { width, height } = writtenSize(task);
  const { rate } = task.document.plate;
  const all = writtenFrames(task);
  // Where there is one range, frames are rendered by one thread, and the encoder has another.
  const threads = range.first === all.first && range.last === all.last ? '2' : '1';
  let encoder: (ReturnType<typeof writeRaw> & { segment: string }) | null = null;
  const begin = (segment: string) => ({
    segment,
    ...writeRaw([
      ...['-y', '-f', 'rawvideo', '-pix_fmt', movie.pixels, '-s', `${width}x${height}`, '-r', `${rate.num}/${rate.den}`, '-i', '-'],
      ...movie.encode,
      ...['-threads', threads],
      ...tagsOf(movie, movie.isFull),
      ...(isIsoFile(movie.extension) ? ['-movflags', '+write_colr'] : []),
      ...['-f', CONTAINERS[movie.extension], `${segment}.part`],
    ]),
  });
  return {
    async write(frame, sources) {
      if ((frame - range.first) % SEGMENT === 0) {
        const segment = segmentOf(task, movie, frame);
        encoder = (await exists(segment)) ? null : begin(segment);
      }
      if (!encoder) return;
      const { child, finished, segment } = encoder;
      if (!child.stdin.write(await movie.render(frame, sources))) await Promise.race([once(child.stdin, 'drain'), finished]);
      if (frame < range.last && (frame + 1 - range.first) % SEGMENT !== 0) return;
      child.stdin.end();
      const { code, stderr } = await finished;
      if (code !== 0)
        throw new Problem('encode-failed', `The movie could not be written. ${/No space left/.test(stderr) ? 'The disk is full.' : firstFault(stderr)}`, 500);
      encoder = null;
      await rename(`${segment}.part`, segment);
    },
    async drop() {
      if (!encoder) return;
      encoder.child.kill('SIGKILL');
      await encoder.finished.catch(() => {});
      await rm(`${encoder.segment}.part`, { force: true });
      encoder = null;
    },
  };
}

/** Joins the segments of all frames of the task; gives the name of the movie. */
export async function joinSegments(task: OutputTask, movie: Movie): Promise<string[]> {
  const { first, last } = writtenFrames(task);
  const segments = Array.from({ length: Math.ceil((last - first + 1) / SEGMENT) }, (_, k) => segmentOf(task, movie, first + k * SEGMENT));
  await join(task, segments, movie, path.join(task.directory, movie.name));
  for (const segment of segments) await rm(segment);
  return [movie.name];
}

async function join(task: OutputTask, segments: string[], movie: Movie, target: string): Promise<void> {
  const wanted = movie.sound === true;
  const { document, spec, directory, footage } = task;
  const list = path.join(directory, 'segments.txt');
  await writeFile(list, segments.map((s) => `file '${path.basename(s)}'\n`).join(''));
  const { rate } = document.plate;
  const times = timesOfOutput(task);
  const along = wanted && footage?.probe.hasSound && times && document.timing?.sound ? await timedSound(task, times, footage) : null;
  const sound = along
    ? { input: along.input, map: ['-map', '0:v:0', '-map', '1:a:0', '-c:a', 'aac', '-b:a', '256k'] }
    : wanted && footage?.probe.hasSound && !times
      ? {
          input: [
            '-ss',
            frameToSeconds(spec.first, rate).toFixed(6),
            '-t',
            frameToSeconds(spec.last - spec.first + 1, rate).toFixed(6),
            ...inputArguments(footage.probe, footage.originals),
          ],
          map: ['-map', '0:v:0', '-map', '1:a:0', '-c:a', 'aac', '-b:a', '256k'],
        }
      : { input: [], map: ['-map', '0:v:0'] };
  const making = `${target}.part`;
  const { code, stderr } = await run('ffmpeg', [
    '-v',
    'error',
    '-nostdin',
    '-y',
    '-protocol_whitelist',
    'file',
    '-f',
    'concat',
    '-safe',
    '1',
    '-i',
    list,
    ...sound.input,
    ...sound.map,
    '-c:v',
    'copy',
    ...tagsOf(movie, movie.isFull),
    // Where times are in milliseconds, those of segments would add up their roundings.
    ...(isIsoFile(movie.extension)
      ? ['-video_track_timescale', String(rate.num), '-movflags', '+faststart+write_colr']
      : ['-bsf:v', `setts=ts=round(N*${rate.den}/(${rate.num}*TB))`, '-r', `${rate.num}/${rate.den}`]),
    '-f',
    CONTAINERS[movie.extension],
    making,
  ]);
  await along?.done();
  if (code !== 0) throw new Problem('encode-failed', `The movie could not be joined. ${firstFault(stderr)}`, 500);
  await rm(list);
  await rename(making, target);
}
