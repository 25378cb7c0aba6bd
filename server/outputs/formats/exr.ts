/** OpenEXR: half or float numbers, colours in linear light, premultiplied as the format wants it. */
import { once } from 'node:events';
import { mkdir, readdir, readFile, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import writeFileAtomic from 'write-file-atomic';
import { toLinear } from '../../../core/image/light.ts';
import type { FrameRange } from '../../../core/time/ranges.ts';
import { toTimecode } from '../../../core/time/timecode.ts';
import { firstFault, writeRaw } from '../../footage/ffmpeg.ts';
import { Problem, Stopped } from '../../problem.ts';
import type { Chosen, Encoding } from '../encoding.ts';
import { exists } from '../exists.ts';
import { withAttributes } from '../exr-attributes.ts';
import { SEGMENT } from '../format.ts';
import { Originals } from '../originals.ts';
import { frameName, pictureNames } from '../pictures.ts';
import { grayFloat, planesFloat } from '../pixels.ts';
import type { OutputSource } from '../source.ts';
import type { OutputTask } from '../task.ts';

const PIXELS = { gray: 'grayf32le', alpha: 'gbrapf32le', opaque: 'gbrpf32le' } as const;

async function bytesOf(task: OutputTask, source: OutputSource, { light }: Pick<Chosen, 'light'>, frame: number, sources: Originals): Promise<Buffer> {
  if (source.carries === 'gray') return grayFloat(await source.render(task, frame, sources));
  const picture = await source.render(task, frame, sources);
  if (light === 'linear') toLinear(picture);
  return planesFloat(picture, source.carries === 'alpha' ? 4 : 3);
}

/** Writes a stretch of frames by one encoder into a folder of its own, and moves them when they are whole. */
async function writeStretch(
  task: OutputTask,
  source: OutputSource,
  chosen: Chosen,
  frames: readonly number[],
  sources: Originals,
  told: (n: number) => void,
  signal?: AbortSignal,
) {
  const { width, height, rate } = task.document.plate;
  const making = path.join(task.directory, `exr-${frames[0]}.part`);
  await rm(making, { recursive: true, force: true });
  await mkdir(making);
  const { child, finished } = writeRaw([
    ...['-y', '-f', 'rawvideo', '-pix_fmt', PIXELS[source.carries], '-s', `${width}x${height}`, '-r', `${rate.num}/${rate.den}`, '-i', '-'],
    ...['-c:v', 'exr', '-compression', 'zip16', '-format', chosen.numbers, '-f', 'image2', '-start_number', '0', path.join(making, '%07d.exr')],
  ]);
  try {
    for (const [i, frame] of frames.entries()) {
      if (signal?.aborted) throw new Stopped();
      if (!child.stdin.write(await bytesOf(task, source, chosen, frame, sources))) await Promise.race([once(child.stdin, 'drain'), finished]);
      told(i);
    }
    child.stdin.end();
    const { code, stderr } = await finished;
    if (code !== 0)
      throw new Problem('encode-failed', `The pictures could not be written. ${/No space left/.test(stderr) ? 'The disk is full.' : firstFault(stderr)}`, 500);
    const made = (await readdir(making)).sort();
    if (made.length !== frames.length) throw new Problem('encode-failed', `Only ${made.length} of ${frames.length} pictures were written.`, 500);
    for (const [i, frame] of frames.entries()) {
      const file = path.join(making, made[i]);
      const bytes = withAttributes(await readFile(file), {
        rate,
        timecode: toTimecode(frame + task.document.plate.firstNumber, rate),
        frame: frame + task.document.plate.firstNumber,
      });
      await writeFileAtomic(`${file}.whole`, bytes);
      await rename(`${file}.whole`, path.join(task.directory, frameName(task, source, 'exr', frame)));
    }
  } catch (error) {
    child.kill('SIGKILL');
    await finished.catch(() => {});
    throw signal?.aborted ? new Stopped() : error;
  } finally {
    await rm(making, { recursive: true, force: true });
  }
}

export const exr: Encoding = {
  id: 'exr',
  label: 'EXR sequence',
  single: false,
  extension: 'exr',
  carries: ['gray', 'alpha', 'opaque'],
  options: (carries) => ({
    numbers: {
      kind: 'choice',
      label: 'Numbers',
      options: [
        { value: 'half', label: 'Half (16 bit)' },
        { value: 'float', label: 'Float (32 bit)' },
      ],
      start: 'half',
    },
    ...(carries === 'gray'
      ? {}
      : {
          light: {
            kind: 'choice',
            label: 'Colours',
            options: [
              { value: 'linear', label: 'Linear light' },
              { value: 'plate', label: 'As in the plate' },
            ],
            start: 'linear',
          },
        }),
  }),
  colour: (carries) =>
    carries === 'gray' ? 'linear coverage, 0 outside, 1 inside' : 'linear light by a power of 2.2, or the plate’s own values; premultiplied',
  async writeRange(task, source, chosen, { first, last }: FrameRange, control) {
    const sources = new Originals(task, control.signal);
    try {
      for (let begin = first; begin <= last; begin += SEGMENT) {
        const all = Array.from({ length: Math.min(SEGMENT, last - begin + 1) }, (_, k) => begin + k);
        const there = await Promise.all(all.map((frame) => exists(path.join(task.directory, frameName(task, source, 'exr', frame)))));
        const left = all.filter((_, i) => !there[i]);
        const before = begin - first + all.length - left.length;
        if (left.length > 0) await writeStretch(task, source, chosen, left, sources, (n) => control.onProgress(before + n), control.signal);
        control.onProgress(begin - first + all.length);
      }
    } finally {
      await sources.close();
    }
  },
  finish: async (task, source) => pictureNames(task, source, 'exr'),
  readBack: (carries, { numbers }) => ({ pixels: PIXELS[carries], within: numbers === 'half' ? 0.0005 : 0.000001 }),
  expected: bytesOf,
};
