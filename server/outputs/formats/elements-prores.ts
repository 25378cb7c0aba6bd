/** What is in the lanes without the plate, with its alpha, as ProRes 4444. */
import { renderElementsAlone } from '../../../core/compose/elements-alone.ts';
import { fileStem } from '../file-stem.ts';
import { defineFormat } from '../format.ts';
import { heldStill } from '../held-still.ts';
import { ALPHA, joinSegments, type Movie, PRORES_4444, writeSegments } from '../movie.ts';
import { toRgba64 } from '../rgba64.ts';
import type { OutputTask } from '../task.ts';

export const elementsProres = defineFormat({
  id: 'elements-prores',
  label: 'Elements alone, ProRes 4444',
  name: 'elements',
  of: 'picture',
  single: true,
  showsPlate: false,
  colour: 'BT.709, limited range',
  options: { alpha: ALPHA },
  writeRange: (task, { alpha }, range, control) => writeSegments(task, movieOf(task, alpha === 'premultiplied'), range, control),
  finish: (task, { alpha }) => joinSegments(task, movieOf(task, alpha === 'premultiplied')),
});

function movieOf(task: OutputTask, premultiplied: boolean): Movie {
  const { document } = task;
  return {
    name: `${fileStem(document.name)}-elements`,
    extension: 'mov',
    pixels: 'rgba64le',
    encode: PRORES_4444,
    async render(frame, plate) {
      const picture = heldStill(await renderElementsAlone(document, frame, plate, document.plate), task, frame);
      return Buffer.from(toRgba64(picture, premultiplied).buffer);
    },
  };
}
