/** What is in the lanes without the plate, as pictures with straight alpha, one for each frame. */
import sharp from 'sharp';
import { renderElementsAlone } from '../../../core/compose/elements-alone.ts';
import { toBytes } from '../../../core/image/picture.ts';
import { fileStem } from '../file-stem.ts';
import { defineFormat } from '../format.ts';
import { heldStill } from '../held-still.ts';
import { DEPTH, frameName, pictureNames, writePictures } from '../pictures.ts';
import { toRgba64 } from '../rgba64.ts';
import type { OutputTask } from '../task.ts';

export const elementsPng = defineFormat({
  id: 'elements-png',
  label: 'Elements alone, PNG sequence',
  name: 'elements-png',
  of: 'picture',
  single: false,
  showsPlate: false,
  colour: 'the plate’s own values, straight alpha',
  options: { bits: DEPTH },
  writeRange: (task, { bits }, range, control) =>
    writePictures(task, range, control, nameOf, async (frame, sources) => {
      const { document } = task;
      const picture = heldStill(await renderElementsAlone(document, frame, sources, document.plate), task, frame);
      const raw = { width: picture.width, height: picture.height, channels: 4 } as const;
      return bits === 8 ? sharp(toBytes(picture), { raw }) : sharp(toRgba64(picture, false), { raw }).toColourspace('rgb16');
    }),
  finish: async (task) => pictureNames(task, nameOf),
});

const nameOf = ({ document }: OutputTask, frame: number): string => frameName(`${fileStem(document.name)}-elements`, frame + document.plate.firstNumber);
