/** Outputs with alpha as ProRes 4444. */
import type { Rgba } from '../../core/image/picture.ts';
import type { Sources } from '../../core/matte/sources.ts';
import { defineFormat, type OutputFormat } from './format.ts';
import { heldStill } from './held-still.ts';
import { joinSegments, type Movie, SET_TAGS, writeSegments } from './movie.ts';
import { toRgba64 } from './rgba64.ts';
import type { OutputTask } from './task.ts';

/** How colours of what is half there are written. */
const ALPHA = {
  kind: 'choice',
  label: 'Alpha',
  options: [
    { value: 'premultiplied', label: 'Premultiplied' },
    { value: 'straight', label: 'Straight' },
  ],
  start: 'premultiplied',
} as const;

interface WithAlpha extends Pick<OutputFormat, 'id' | 'label' | 'name' | 'of' | 'showsPlate'> {
  /** Of the movie, without its extension. */
  fileName(task: OutputTask): string;
  /** A premultiplied picture of the size of the plate. */
  render(task: OutputTask, frame: number, sources: Sources): Promise<Rgba>;
}

export function defineProres({ fileName, render, ...rest }: WithAlpha): OutputFormat {
  const movieOf = (task: OutputTask, premultiplied: boolean): Movie => ({
    name: fileName(task),
    extension: 'mov',
    pixels: 'rgba64le',
    encode: [
      '-vf',
      `scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd,${SET_TAGS}`,
      ...['-pix_fmt', 'yuva444p10le', '-c:v', 'prores_ks', '-profile:v', '4444', '-alpha_bits', '16', '-vendor', 'apl0'],
    ],
    render: async (frame, sources) => Buffer.from(toRgba64(heldStill(await render(task, frame, sources), task, frame), premultiplied).buffer),
  });
  return defineFormat({
    ...rest,
    single: true,
    colour: 'BT.709, limited range',
    options: { alpha: ALPHA },
    writeRange: (task, { alpha }, range, control) => writeSegments(task, movieOf(task, alpha === 'premultiplied'), range, control),
    finish: (task, { alpha }) => joinSegments(task, movieOf(task, alpha === 'premultiplied')),
  });
}
