/** What is in the lanes without the plate, with its alpha, as ProRes 4444. */
import { renderElementsAlone } from '../../../core/compose/elements-alone.ts';
import { fileStem } from '../file-stem.ts';
import { defineProres } from '../prores.ts';

export const elementsProres = defineProres({
  id: 'elements-prores',
  label: 'Elements alone, ProRes 4444',
  name: 'elements',
  of: 'picture',
  showsPlate: false,
  fileName: ({ document }) => `${fileStem(document.name)}-elements`,
  render: ({ document }, frame, sources) => renderElementsAlone(document, frame, sources, document.plate),
});
