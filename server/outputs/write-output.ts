/**
 * Writes an output, range by range. Every finished range is a file (or files) of its own, so a run that was stopped or killed
 * goes on after the last whole one. Used alike by the job threads and the command line.
 */
import { once } from 'node:events';
import { access, mkdir, readdir, rename, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { renderPicture } from '../../core/compose/render-picture.ts';
import { followedMotion } from '../../core/document/follow.ts';
import type { Follow, ShotDocument } from '../../core/document/schema.ts';
import { type Gray, matteTo8, matteTo16, type Rgba } from '../../core/image/picture.ts';
import { seenThrough } from '../../core/image/warp.ts';
import { renderCutout } from '../../core/matte/cutout.ts';
import { renderMatte } from '../../core/matte/render-matte.ts';
import type { MatteSources } from '../../core/matte/sources.ts';
import { frameToSeconds } from '../../core/time/rate.ts';
import { run, writeRaw } from '../footage/ffmpeg.ts';
import { inputArguments } from '../footage/read-plate.ts';
import { Problem, Stopped } from '../problem.ts';
import { Originals } from './originals.ts';
import { fileStem, type OutputSpec } from './spec.ts';
import type { OutputTask } from './task.ts';

export interface OutputControl {
  /** Frames finished so far, of the whole output. */
  onProgress(done: number): void;
  signal?: AbortSignal;
}

/** Frames in one movie segment. */
const SEGMENT = 24;

const exists = (file: string) =>
  access(file).then(
    () => true,
    () => false,
  );

export const frameName = (stem: string, number: number): string => `${stem}.${String(number).padStart(4, '0')}.png`;

/** A matte as a gray picture of 8 or 16 bits, to be written. */
export function mattePicture(matte: Gray, bits: 8 | 16): Sharp {
  const raw = { width: matte.width, height: matte.height, channels: 1 } as const;
  return bits === 8 ? sharp(matteTo8(matte), { raw }).toColourspace('b-w') : sharp(matteTo16(matte), { raw }).toColourspace('grey16');
}

/** The picture with what a track follows held still; itself where nothing is to be held. */
function heldStill<P extends Gray | Rgba>(picture: P, document: ShotDocument, hold: Follow | undefined, frame: number): P {
  if (!hold) return picture;
  const motion = followedMotion(document, hold, frame);
  if (!motion) throw new Problem('no-track', 'The track that this output holds still is no longer in the shot.', 409);
  return seenThrough(picture, motion);
}

/** Writes a matte as gray PNG of 8 or 16 bits. */
export async function writeMattePng(
  document: ShotDocument,
  subject: string,
  frame: number,
  bits: 8 | 16,
  file: string,
  sources: MatteSources,
  hold?: Follow,
): Promise<void> {
  const { width, height } = document.plate;
  const matte = await renderMatte(document, subject, frame, sources, { width, height });
  const image = mattePicture(heldStill(matte, document, hold, frame), bits);
  const unfinished = `${file}.part`;
  await writeFile(unfinished, await image.png({ compressionLevel: 1, palette: false }).toBuffer());
  await rename(unfinished, file);
}

async function writeMattes(task: OutputTask, spec: Extract<OutputSpec, { kind: 'matte-png' }>, control: OutputControl): Promise<string[]> {
  const subject = task.document.cast.find((s) => s.id === spec.subject);
  if (!subject) throw new Problem('no-subject', 'The subject of this output is no longer in the shot.', 409);
  const names: string[] = [];
  const sources = new Originals(task, control.signal);
  try {
    for (let frame = spec.first; frame <= spec.last; frame++) {
      if (control.signal?.aborted) throw new Stopped();
      const name = frameName(`${fileStem(subject.name)}-matte`, frame + task.document.plate.firstNumber);
      const file = path.join(task.directory, name);
      if (!(await exists(file))) await writeMattePng(task.document, spec.subject, frame, spec.bits, file, sources, spec.hold);
      names.push(name);
      control.onProgress(frame - spec.first + 1);
    }
  } finally {
    await sources.close();
  }
  return names;
}

/** Straight 16-bit RGBA (or premultiplied) for ProRes. */
function toRgba64(picture: Rgba, premultiplied: boolean): Buffer {
  const out = new Uint16Array(picture.data.length);
  const { data } = picture;
  for (let i = 0; i < data.length; i += 4) {
    const a = data[i + 3];
    const k = premultiplied ? 65535 : a > 0 ? 65535 / a : 0;
    out[i] = Math.min(65535, data[i] * k + 0.5);
    out[i + 1] = Math.min(65535, data[i + 1] * k + 0.5);
    out[i + 2] = Math.min(65535, data[i + 2] * k + 0.5);
    out[i + 3] = a * 65535 + 0.5;
  }
  return Buffer.from(out.buffer);
}

function toRgb24(picture: Rgba): Buffer {
  const out = Buffer.allocUnsafe((picture.data.length / 4) * 3);
  for (let i = 0, p = 0; p < out.length; i += 4, p += 3) {
    out[p] = Math.max(0, Math.min(255, picture.data[i] * 255 + 0.5));
    out[p + 1] = Math.max(0, Math.min(255, picture.data[i + 1] * 255 + 0.5));
    out[p + 2] = Math.max(0, Math.min(255, picture.data[i + 2] * 255 + 0.5));
  }
  return out;
}

const COLOUR_TAGS = ['-color_primaries', 'bt709', '-color_trc', 'bt709', '-colorspace', 'bt709', '-color_range', 'tv'];

/** Encoders that look at the frames, not at the options, need the tags there. */
const SET_TAGS = 'setparams=color_primaries=bt709:color_trc=bt709:colorspace=bt709:range=tv';

interface Movie {
  extension: 'mov' | 'mp4';
  pixels: string;
  encode: string[];
  render(frame: number): Promise<Buffer>;
}

function movieOf(task: OutputTask, plate: Originals): Movie {
  const { document, spec } = task;
  const size = { width: document.plate.width, height: document.plate.height };
  const held = (picture: Rgba, frame: number) => heldStill(picture, document, spec.hold, frame);
  if (spec.kind === 'cutout-prores') {
    if (!document.cast.some((s) => s.id === spec.subject)) throw new Problem('no-subject', 'The subject of this output is no longer in the shot.', 409);
    return {
      extension: 'mov',
      pixels: 'rgba64le',
      encode: [
        '-vf',
        `scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd,${SET_TAGS}`,
        '-pix_fmt',
        'yuva444p10le',
        '-c:v',
        'prores_ks',
        '-profile:v',
        '4444',
        '-alpha_bits',
        '16',
        '-vendor',
        'apl0',
        ...COLOUR_TAGS,
      ],
      render: async (frame) => toRgba64(held(await renderCutout(document, spec.subject, frame, plate, size), frame), spec.alpha === 'premultiplied'),
    };
  }
  return {
    extension: 'mp4',
    pixels: 'rgb24',
    // No B-frames, so that segments join without gaps in their time stamps; odd sizes repeat their last row or column.
    encode: [
      '-vf',
      `pad=ceil(iw/2)*2:ceil(ih/2)*2,scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_inp,${SET_TAGS}`,
      '-pix_fmt',
      'yuv420p',
      '-c:v',
      'libx264',
      '-preset',
      'medium',
      '-crf',
      '14',
      '-bf',
      '0',
      '-threads',
      '2',
      ...COLOUR_TAGS,
    ],
    render: async (frame) => toRgb24(held(await renderPicture(document, frame, plate, size), frame)),
  };
}

async function writeMovie(task: OutputTask, control: OutputControl): Promise<string[]> {
  const { document, spec, directory } = task;
  const { width, height, rate } = document.plate;
  const plate = new Originals(task, control.signal);
  const movie = movieOf(task, plate);
  const segments: string[] = [];
  try {
    for (let first = spec.first; first <= spec.last; first += SEGMENT) {
      const last = Math.min(spec.last, first + SEGMENT - 1);
      const segment = path.join(directory, `segment-${String(first).padStart(7, '0')}.${movie.extension}`);
      segments.push(segment);
      if (!(await exists(segment))) {
        const making = `${segment}.part`;
        const { child, finished } = writeRaw([
          '-y',
          '-f',
          'rawvideo',
          '-pix_fmt',
          movie.pixels,
          '-s',
          `${width}x${height}`,
          '-r',
          `${rate.num}/${rate.den}`,
          '-i',
          '-',
          ...movie.encode,
          '-movflags',
          '+write_colr',
          '-f',
          movie.extension,
          making,
        ]);
        try {
          for (let frame = first; frame <= last; frame++) {
            if (control.signal?.aborted) throw new Stopped();
            const bytes = await movie.render(frame);
            if (!child.stdin.write(bytes)) await Promise.race([once(child.stdin, 'drain'), finished]);
            control.onProgress(frame - spec.first + 1);
          }
          child.stdin.end();
          const { code, stderr } = await finished;
          if (code !== 0)
            throw new Problem(
              'encode-failed',
              `The movie could not be written. ${/No space left/.test(stderr) ? 'The disk is full.' : stderr.split('\n')[0]}`,
              500,
            );
        } catch (error) {
          child.kill('SIGKILL');
          await finished.catch(() => {});
          await rm(making, { force: true });
          throw control.signal?.aborted ? new Stopped() : error;
        }
        await rename(making, segment);
      }
      control.onProgress(last - spec.first + 1);
    }
  } finally {
    await plate.close();
  }
  const what = spec.kind === 'cutout-prores' ? `${fileStem(document.cast.find((s) => s.id === spec.subject)?.name ?? 'subject')}-cutout` : 'composed';
  const name = `${fileStem(document.name)}-${what}.${movie.extension}`;
  await joinSegments(task, segments, path.join(directory, name));
  for (const segment of segments) await rm(segment);
  return [name];
}

async function joinSegments(task: OutputTask, segments: string[], target: string): Promise<void> {
  const { document, spec, directory, footage } = task;
  const list = path.join(directory, 'segments.txt');
  await writeFile(list, segments.map((s) => `file '${path.basename(s)}'\n`).join(''));
  const { rate } = document.plate;
  const sound =
    spec.kind === 'composed-mp4' && spec.sound && footage?.probe.hasSound
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
    ...COLOUR_TAGS,
    '-video_track_timescale',
    String(rate.num),
    '-movflags',
    '+faststart+write_colr',
    '-f',
    path.extname(target).slice(1),
    making,
  ]);
  if (code !== 0) throw new Problem('encode-failed', `The movie could not be joined. ${stderr.split('\n')[0]}`, 500);
  await rm(list);
  await rename(making, target);
}

/** Writes the output of `task`; gives the names of its files. Throws a Problem with code "stopped" where the signal asked it to stop. */
export async function writeOutput(task: OutputTask, control: OutputControl): Promise<string[]> {
  const { spec, document } = task;
  if (spec.last >= document.plate.frames) throw new Problem('out-of-range', `This shot ends at frame ${document.plate.frames - 1}.`, 422);
  await mkdir(task.directory, { recursive: true });
  const files = spec.kind === 'matte-png' ? await writeMattes(task, spec, control) : await writeMovie(task, control);
  for (const name of await readdir(task.directory)) if (name.endsWith('.part')) await rm(path.join(task.directory, name));
  const { width, height, rate, firstNumber } = document.plate;
  const sidecar = {
    madeBy: 'Mottrel',
    output: spec,
    files: files.length > 1 ? { first: files[0], last: files.at(-1), count: files.length } : files[0],
    picture: { width, height, rate: `${rate.num}/${rate.den}`, frames: spec.last - spec.first + 1, firstNumber: spec.first + firstNumber },
    alpha: spec.kind === 'cutout-prores' ? spec.alpha : undefined,
    colour: spec.kind === 'matte-png' ? 'linear coverage, 0 outside, full inside' : 'BT.709, limited range',
    document,
  };
  await writeFile(path.join(task.directory, 'output.json'), `${JSON.stringify(sidecar, null, 2)}\n`);
  return [...files, 'output.json'];
}
