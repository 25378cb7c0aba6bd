/** The matte of a subject as gray pictures, one for each frame. */
import { renderMatte } from '../../../core/matte/render-matte.ts';
import { fileStem } from '../file-stem.ts';
import { defineFormat } from '../format.ts';
import { heldStill } from '../held-still.ts';
import { DEPTH, frameName, mattePicture, pictureNames, writePictures } from '../pictures.ts';
import { type OutputTask, subjectOf } from '../task.ts';

export const mattePng = defineFormat({
  id: 'matte-png',
  label: 'Matte, PNG sequence',
  name: 'matte',
  of: 'subject',
  single: false,
  showsPlate: false,
  colour: 'linear coverage, 0 outside, full inside',
  options: { bits: DEPTH },
  async writeRange(task, { bits }, range, control) {
    const { document } = task;
    const subject = subjectOf(task);
    await writePictures(task, range, control, nameOf, async (frame, sources) =>
      mattePicture(heldStill(await renderMatte(document, subject.id, frame, sources, document.plate), task, frame), bits),
    );
  },
  finish: async (task) => pictureNames(task, nameOf),
});

const nameOf = (task: OutputTask, frame: number): string => frameName(`${fileStem(subjectOf(task).name)}-matte`, frame + task.document.plate.firstNumber);
