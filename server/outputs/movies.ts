/** Encodings that are one movie. */
import { fileNameOf } from './delivered.ts';
import type { Chosen, Encoding, ReadBack } from './encoding.ts';
import { ALPHA } from './encoding.ts';
import type { OptionDescription } from './format.ts';
import { type Container, joinSegments, type Movie, segmentWriter } from './movie.ts';
import type { Originals } from './originals.ts';
import { gray16, type Pixels, rgb16, rgba16 } from './pixels.ts';
import type { Carried, OutputSource } from './source.ts';
import type { OutputTask } from './task.ts';

/** Encoders that look at the frames, not at the options, need the tags there. */
const SET_TAGS = 'setparams=color_primaries=bt709:color_trc=bt709:colorspace=bt709:range=tv';
const TO_VIDEO = `scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_inp,${SET_TAGS}`;
const FROM_VIDEO = 'scale=in_color_matrix=bt709:in_range=tv:out_range=pc:flags=bicubic+accurate_rnd+full_chroma_int+full_chroma_inp';

interface Kind {
  id: string;
  label: string;
  extension: Container;
  carries: readonly Carried[];
  /** Options of the encoder, its pixels among them. */
  encode(carries: Carried): string[];
  /** Whether sides have to be even: odd ones repeat their last row or column. */
  even?: boolean;
  /** Whether gray is written as it is, over the full range. */
  isFull?: boolean;
  /** Whether it has colours of more than 8 bits. */
  isDeep: boolean;
  /** What alpha it always has; a choice where it does not say. */
  alpha?: 'straight';
  /** How far frames may be off on the mean when they are read back, as a share of white. */
  within: number;
  /** A decoder other than ffmpeg's own. */
  decoder?: string;
}

export function movieEncoding({ encode, even = false, isFull = false, isDeep, alpha, within, decoder, ...kind }: Kind): Encoding {
  const pixelsOf = (carries: Carried): Pixels => (carries === 'gray' ? 'gray16le' : carries === 'alpha' ? 'rgba64le' : isDeep ? 'rgb48le' : 'rgb24');
  const bytesOf = async (task: OutputTask, source: OutputSource, chosen: Chosen, frame: number, sources: Originals): Promise<Buffer> => {
    if (source.carries === 'gray') return gray16(await source.render(task, frame, sources));
    if (source.carries === 'alpha') return rgba16(await source.render(task, frame, sources), (alpha ?? chosen.alpha) === 'premultiplied');
    return isDeep ? rgb16(await source.render(task, frame, sources)) : source.bytes(task, frame, sources);
  };
  const movieOf = (task: OutputTask, source: OutputSource, chosen: Chosen): Movie => ({
    name: fileNameOf(task, source, kind.extension),
    extension: kind.extension,
    isFull,
    pixels: pixelsOf(source.carries),
    sound: source.carries === 'opaque' && chosen.sound,
    encode: ['-vf', [...(even ? ['pad=ceil(iw/2)*2:ceil(ih/2)*2'] : []), ...(isFull ? [] : [TO_VIDEO])].join(',') || 'null', ...encode(source.carries)],
    render: (frame, sources) => bytesOf(task, source, chosen, frame, sources),
  });
  return {
    ...kind,
    single: true,
    options: (carries): Record<string, OptionDescription> => (carries === 'alpha' && !alpha ? { alpha: ALPHA } : {}),
    colour: (carries) => `${isFull ? 'linear coverage over the full range' : 'BT.709, limited range'}${carries === 'alpha' && alpha ? `, ${alpha} alpha` : ''}`,
    open: (task, source, chosen, range) => segmentWriter(task, movieOf(task, source, chosen), range),
    finish: (task, source, chosen) => joinSegments(task, movieOf(task, source, chosen)),
    readBack: (carries): ReadBack => ({
      pixels: pixelsOf(carries),
      within,
      ...(decoder ? { open: ['-c:v', decoder] } : {}),
      filters: isFull ? [] : [FROM_VIDEO],
    }),
    expected: bytesOf,
  };
}
