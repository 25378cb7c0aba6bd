/** A subject cut out of the plate with its alpha, as ProRes 4444. */
import type { Rgba } from '../../../core/image/picture.ts';
import { renderCutout } from '../../../core/matte/cutout.ts';
import { fileStem } from '../file-stem.ts';
import { defineFormat } from '../format.ts';
import { heldStill } from '../held-still.ts';
import { joinSegments, type Movie, SET_TAGS, writeSegments } from '../movie.ts';
import { type OutputTask, subjectOf } from '../task.ts';

/** Straight 16-bit RGBA (or premultiplied) for ProRes. */
function toRgba64(picture: Rgba, premultiplied: boolean): Buffer {
  const out = new Uint16Array(picture.data.length);
  const { data } = picture;
  for (let i = 0; i < data.length; i += 4) {
    const a = data[i + 3];
    const k = premultiplied ? 65535 : a > 0 ? 65535 / a : 0;
    out[i] = Math.min(65535, data[i] * k + 0.5);
    out[i + 1] = Math.min(65535, data[i + 1] * k + 0.5);
    out[i + 2] = Math.min(65535, data[i + 2] * k + 0.5);
    out[i + 3] = a * 65535 + 0.5;
  }
  return Buffer.from(out.buffer);
}

export const cutoutProres = defineFormat({
  id: 'cutout-prores',
  label: 'Cut-out, ProRes 4444',
  name: 'cutout',
  of: 'subject',
  single: true,
  showsPlate: true,
  colour: 'BT.709, limited range',
  options: {
    alpha: {
      kind: 'choice',
      label: 'Alpha',
      options: [
        { value: 'premultiplied', label: 'Premultiplied' },
        { value: 'straight', label: 'Straight' },
      ],
      start: 'premultiplied',
    },
  },
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
    encode: [
      '-vf',
      `scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd,${SET_TAGS}`,
      ...['-pix_fmt', 'yuva444p10le', '-c:v', 'prores_ks', '-profile:v', '4444', '-alpha_bits', '16', '-vendor', 'apl0'],
    ],
    render: async (frame, plate) => toRgba64(heldStill(await renderCutout(document, subject.id, frame, plate, document.plate), task, frame), premultiplied),
  };
}
