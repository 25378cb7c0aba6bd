/** Outputs of one picture for each frame. */
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import writeFileAtomic from 'write-file-atomic';
import { type Gray, matteTo8, matteTo16 } from '../../core/image/picture.ts';
import type { FrameRange } from '../../core/time/ranges.ts';
import { Stopped } from '../problem.ts';
import { exists } from './exists.ts';
import type { OutputControl } from './format.ts';
import { Originals } from './originals.ts';
import type { OutputTask } from './task.ts';

/** Bits of each channel. */
export const DEPTH = {
  kind: 'choice',
  label: 'Depth',
  options: [
    { value: 8, label: '8 bit' },
    { value: 16, label: '16 bit' },
  ],
  start: 16,
} as const;

export const frameName = (stem: string, number: number): string => `${stem}.${String(number).padStart(4, '0')}.png`;

/** A matte as a gray picture of 8 or 16 bits, to be written. */
export function mattePicture(matte: Gray, bits: 8 | 16): Sharp {
  const raw = { width: matte.width, height: matte.height, channels: 1 } as const;
  return bits === 8 ? sharp(matteTo8(matte), { raw }).toColourspace('b-w') : sharp(matteTo16(matte), { raw }).toColourspace('grey16');
}

/** The names of the pictures of all frames of an output. */
export const pictureNames = (task: OutputTask, nameOf: (task: OutputTask, frame: number) => string): string[] =>
  Array.from({ length: task.spec.last - task.spec.first + 1 }, (_, k) => nameOf(task, task.spec.first + k));

/** Writes the pictures of a range of frames, as far as they are not there. */
export async function writePictures(
  task: OutputTask,
  { first, last }: FrameRange,
  control: OutputControl,
  nameOf: (task: OutputTask, frame: number) => string,
  render: (frame: number, sources: Originals) => Promise<Sharp>,
): Promise<void> {
  const sources = new Originals(task, control.signal);
  try {
    for (let frame = first; frame <= last; frame++) {
      if (control.signal?.aborted) throw new Stopped();
      const file = path.join(task.directory, nameOf(task, frame));
      if (!(await exists(file))) {
        const image = await render(frame, sources);
        await writeFileAtomic(file, await image.png({ compressionLevel: 1, palette: false }).toBuffer());
      }
      control.onProgress(frame - first + 1);
    }
  } finally {
    await sources.close();
  }
}
