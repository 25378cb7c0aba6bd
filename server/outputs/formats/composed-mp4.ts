/** The finished picture, as H.264. */
import { renderPicture, renderPictureBytes } from '../../../core/compose/render-picture.ts';
import { pictureAtTime } from '../../../core/compose/timed-picture.ts';
import { bytesOfPicture } from '../../../core/image/in-room.ts';
import { fileStem } from '../file-stem.ts';
import { defineFormat } from '../format.ts';
import { heldStill } from '../held-still.ts';
import { joinSegments, type Movie, SET_TAGS, writeSegments } from '../movie.ts';
import type { OutputTask } from '../task.ts';
import { timesOfOutput } from '../timed.ts';

export const composedMp4 = defineFormat({
  id: 'composed-mp4',
  label: 'Composed, H.264',
  name: 'composed',
  of: 'picture',
  single: true,
  showsPlate: true,
  colour: 'BT.709, limited range',
  options: {
    sound: { kind: 'switch', label: 'Sound', says: "the plate's own, where it has any", start: true },
    timed: { kind: 'switch', label: 'Timing', says: 'at the speed that is set on Compose', start: true },
  },
  writeRange: (task, { sound }, range, control) => writeSegments(task, movieOf(task, sound), range, control),
  finish: (task, { sound }) => joinSegments(task, movieOf(task, sound)),
});

function movieOf(task: OutputTask, sound: boolean): Movie {
  const { document } = task;
  const { width, height } = document.plate;
  const times = timesOfOutput(task);
  return {
    name: `${fileStem(document.name)}-composed`,
    extension: 'mp4',
    pixels: 'rgb24',
    sound,
    // No B-frames, so that segments join without gaps in their time stamps; odd sizes repeat their last row or column.
    encode: [
      '-vf',
      `pad=ceil(iw/2)*2:ceil(ih/2)*2,scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_inp,${SET_TAGS}`,
      ...['-pix_fmt', 'yuv420p', '-c:v', 'libx264', '-preset', 'medium', '-crf', '14', '-bf', '0'],
    ],
    async render(frame, plate) {
      const size = { width, height };
      if (times) {
        const time = times.timeAt(frame);
        const picture = await pictureAtTime(document, time, plate, size);
        return Buffer.from(bytesOfPicture(heldStill(picture, task, Math.round(time)), 3).buffer);
      }
      const bytes = task.spec.hold
        ? bytesOfPicture(heldStill(await renderPicture(document, frame, plate, size), task, frame), 3)
        : await renderPictureBytes(document, frame, plate, size, 3);
      return Buffer.from(bytes.buffer);
    },
  };
}
