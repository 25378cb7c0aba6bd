/** A subject cut out of the plate with its alpha, as ProRes 4444. */
import { renderCutout } from '../../../core/matte/cutout.ts';
import { fileStem } from '../file-stem.ts';
import { defineFormat } from '../format.ts';
import { heldStill } from '../held-still.ts';
import { ALPHA, joinSegments, type Movie, PRORES_4444, writeSegments } from '../movie.ts';
import { toRgba64 } from '../rgba64.ts';
import { type OutputTask, subjectOf } from '../task.ts';

export const cutoutProres = defineFormat({
  id: 'cutout-prores',
  label: 'Cut-out, ProRes 4444',
  name: 'cutout',
  of: 'subject',
  single: true,
  showsPlate: true,
  colour: 'BT.709, limited range',
  options: { alpha: ALPHA },
  writeRange: (task, { alpha }, range, control) => writeSegments(task, movieOf(task, alpha === 'premultiplied'), range, control),
  finish: (task, { alpha }) => joinSegments(task, movieOf(task, alpha === 'premultiplied')),
});

function movieOf(task: OutputTask, premultiplied: boolean): Movie {
  const { document } = task;
  const subject = subjectOf(task);
  return {
    name: `${fileStem(document.name)}-${fileStem(subject.name)}-cutout`,
    extension: 'mov',
    pixels: 'rgba64le',
    encode: PRORES_4444,
    async render(frame, plate) {
      const picture = heldStill(await renderCutout(document, subject.id, frame, plate, document.plate), task, frame);
      return Buffer.from(toRgba64(picture, premultiplied).buffer);
    },
  };
}
