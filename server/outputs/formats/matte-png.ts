/** The matte of a subject as gray pictures, one for each frame. */
import path from 'node:path';
import writeFileAtomic from 'write-file-atomic';
import { renderMatte } from '../../../core/matte/render-matte.ts';
import { Stopped } from '../../problem.ts';
import { exists } from '../exists.ts';
import { fileStem } from '../file-stem.ts';
import { defineFormat } from '../format.ts';
import { heldStill } from '../held-still.ts';
import { frameName, mattePicture } from '../matte-picture.ts';
import { Originals } from '../originals.ts';
import { type OutputTask, subjectOf } from '../task.ts';

export const mattePng = defineFormat({
  id: 'matte-png',
  label: 'Matte, PNG sequence',
  name: 'matte',
  of: 'subject',
  single: false,
  showsPlate: false,
  colour: 'linear coverage, 0 outside, full inside',
  options: {
    bits: {
      kind: 'choice',
      label: 'Depth',
      options: [
        { value: 8, label: '8 bit' },
        { value: 16, label: '16 bit' },
      ],
      start: 16,
    },
  },
  async writeRange(task, { bits }, { first, last }, control) {
    const { document, directory } = task;
    const subject = subjectOf(task);
    const { width, height } = document.plate;
    const sources = new Originals(task, control.signal);
    try {
      for (let frame = first; frame <= last; frame++) {
        if (control.signal?.aborted) throw new Stopped();
        const file = path.join(directory, nameOf(task, frame));
        if (!(await exists(file))) {
          const matte = await renderMatte(document, subject.id, frame, sources, { width, height });
          const image = mattePicture(heldStill(matte, task, frame), bits);
          await writeFileAtomic(file, await image.png({ compressionLevel: 1, palette: false }).toBuffer());
        }
        control.onProgress(frame - first + 1);
      }
    } finally {
      await sources.close();
    }
  },
  finish: async (task) => Array.from({ length: task.spec.last - task.spec.first + 1 }, (_, k) => nameOf(task, task.spec.first + k)),
});

const nameOf = (task: OutputTask, frame: number): string => frameName(`${fileStem(subjectOf(task).name)}-matte`, frame + task.document.plate.firstNumber);
