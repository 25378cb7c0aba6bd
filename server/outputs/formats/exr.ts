/** OpenEXR: half or float numbers, colours in linear light, premultiplied as the format wants it. */
import { once } from 'node:events';
import { mkdir, readdir, readFile, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import writeFileAtomic from 'write-file-atomic';
import { toLinear } from '../../../core/image/light.ts';
import type { FrameRange } from '../../../core/time/ranges.ts';
import { exists } from '../../footage/exists.ts';
import { firstFault, writeRaw } from '../../footage/ffmpeg.ts';
import { Problem } from '../../problem.ts';
import { fileNameOf, pictureNames, writtenSize } from '../delivered.ts';
import type { Chosen, Encoding } from '../encoding.ts';
import { factsOf, withAttributes } from '../exr-attributes.ts';
import { SEGMENT } from '../format.ts';
import type { FrameWriter } from '../frame-writer.ts';
import type { Originals } from '../originals.ts';
import { grayFloat, planesFloat } from '../pixels.ts';
import type { OutputSource } from '../source.ts';
import type { OutputTask } from '../task.ts';

/** Bits of each number. */
export const NUMBERS = {
  kind: 'choice',
  label: 'Numbers',
  options: [
    { value: 'half', label: 'Half (16 bit)' },
    { value: 'float', label: 'Float (32 bit)' },
  ],
  start: 'half',
} as const;

const PIXELS = { gray: 'grayf32le', alpha: 'gbrapf32le', opaque: 'gbrpf32le' } as const;

async function bytesOf(task: OutputTask, source: OutputSource, { light }: Pick<Chosen, 'light'>, frame: number, sources: Originals): Promise<Buffer> {
  if (source.carries === 'gray') return grayFloat(await source.render(task, frame, sources));
  const picture = await source.render(task, frame, sources);
  if (light === 'linear') toLinear(picture);
  return planesFloat(picture, source.carries === 'alpha' ? 4 : 3);
}

/** Writes stretches of frames, each by one encoder into a folder of its own, and moves them when they are whole. */
function stretchWriter(task: OutputTask, source: OutputSource, chosen: Chosen, range: FrameRange): FrameWriter {
  const { width, height } = writtenSize(task);
  const { rate } = task.document.plate;
  const fileOf = (frame: number): string => path.join(task.directory, fileNameOf(task, source, 'exr', frame));
  let stretch: (ReturnType<typeof writeRaw> & { making: string; frames: number[] }) | null = null;
  const begin = async (frame: number) => {
    const making = path.join(task.directory, `exr-${frame}.part`);
    await rm(making, { recursive: true, force: true });
    await mkdir(making);
    const encoder = writeRaw([
      ...['-y', '-f', 'rawvideo', '-pix_fmt', PIXELS[source.carries], '-s', `${width}x${height}`, '-r', `${rate.num}/${rate.den}`, '-i', '-'],
      ...['-c:v', 'exr', '-compression', 'zip16', '-format', chosen.numbers, '-f', 'image2', '-start_number', '0', path.join(making, '%07d.exr')],
    ]);
    return { ...encoder, making, frames: [] };
  };
  const end = async () => {
    if (!stretch) return;
    const { child, finished, making, frames } = stretch;
    child.stdin.end();
    const { code, stderr } = await finished;
    if (code !== 0)
      throw new Problem('encode-failed', `The pictures could not be written. ${/No space left/.test(stderr) ? 'The disk is full.' : firstFault(stderr)}`, 500);
    const made = (await readdir(making)).sort();
    if (made.length !== frames.length) throw new Problem('encode-failed', `Only ${made.length} of ${frames.length} pictures were written.`, 500);
    for (const [i, frame] of frames.entries()) {
      const file = path.join(making, made[i]);
      await writeFileAtomic(`${file}.whole`, withAttributes(await readFile(file), factsOf(task, frame)));
      await rename(`${file}.whole`, fileOf(frame));
    }
    stretch = null;
    await rm(making, { recursive: true, force: true });
  };
  return {
    async write(frame, sources) {
      if (await exists(fileOf(frame))) await end();
      else {
        stretch ??= await begin(frame);
        const { child, finished, frames } = stretch;
        frames.push(frame);
        if (!child.stdin.write(await bytesOf(task, source, chosen, frame, sources))) await Promise.race([once(child.stdin, 'drain'), finished]);
      }
      if (frame === range.last || (frame + 1 - range.first) % SEGMENT === 0) await end();
    },
    async drop() {
      if (!stretch) return;
      stretch.child.kill('SIGKILL');
      await stretch.finished.catch(() => {});
      await rm(stretch.making, { recursive: true, force: true });
      stretch = null;
    },
  };
}

export const exr: Encoding = {
  id: 'exr',
  label: 'EXR sequence',
  single: false,
  extension: 'exr',
  carries: ['gray', 'alpha', 'opaque'],
  options: (carries) => ({
    numbers: NUMBERS,
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
  open: stretchWriter,
  finish: async (task, source) => pictureNames(task, source, 'exr'),
  readBack: (carries, { numbers }) => ({ pixels: PIXELS[carries], within: numbers === 'half' ? 0.0005 : 0.000001 }),
  expected: bytesOf,
};
