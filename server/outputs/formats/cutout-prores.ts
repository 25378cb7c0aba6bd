/** A subject cut out of the plate with its alpha, as ProRes 4444. */
import { renderCutout } from '../../../core/matte/cutout.ts';
import { fileStem } from '../file-stem.ts';
import { defineProres } from '../prores.ts';
import { subjectOf } from '../task.ts';

export const cutoutProres = defineProres({
  id: 'cutout-prores',
  label: 'Cut-out, ProRes 4444',
  name: 'cutout',
  of: 'subject',
  showsPlate: true,
  fileName: (task) => `${fileStem(task.document.name)}-${fileStem(subjectOf(task).name)}-cutout`,
  render: (task, frame, sources) => renderCutout(task.document, subjectOf(task).id, frame, sources, task.document.plate),
});
