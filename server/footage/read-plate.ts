/** Reading a plate's own footage with ffmpeg: the one place that knows how its pixels become RGB and its time becomes frames. */
import path from 'node:path';
import type { Size } from '../../core/image/picture.ts';
import { Problem } from '../problem.ts';
import { firstFault, INPUT_GUARD, readRaw } from './ffmpeg.ts';
import type { Probe } from './probe.ts';

/** Arguments that open the footage; `dir` holds the original. A sequence is opened at a frame, anything else at its beginning. */
export function inputArguments(probe: Probe, dir: string, first = 0): string[] {
  const file = path.join(dir, probe.input);
  // Linear light becomes values of video, by the same law as in core/image/light.ts.
  const linear = probe.linear ? ['-apply_trc', 'gamma22'] : [];
  // Pictures are turned by filters of our own: what the decoder does by itself differs from one version to the next.
  const asStored = probe.kind === 'video' ? [] : ['-noautorotate'];
  if (probe.kind === 'sequence')
    return [
      ...linear,
      ...asStored,
      '-protocol_whitelist',
      'file,pipe',
      '-f',
      'image2',
      '-framerate',
      `${probe.rate.num}/${probe.rate.den}`,
      '-start_number',
      String(first),
      '-i',
      file,
    ];
  return [...INPUT_GUARD, ...linear, ...asStored, ...(probe.decoder ? ['-c:v', probe.decoder] : []), '-i', file];
}

/** What turns a picture upright, by its Exif orientation. */
const UPRIGHT = ['', '', 'hflip', 'hflip,vflip', 'vflip', 'transpose=0', 'transpose=1', 'transpose=3', 'transpose=2'];

const MATRIX = { bt709: 'bt709', bt601: 'smpte170m', bt2020: 'bt2020' } as const;

const FORMATS = { jpeg: 'yuvj444p', rgb: 'rgb24', rgba: 'rgba', gray: 'gray16le' } as const;
const BYTES = { rgb: 3, rgba: 4, gray: 2 } as const;
/** What frames are read as. */
export type ReadAs = keyof typeof BYTES;

/** Filters that put what is there on its frames, and upright. */
function conforming({ kind, rate, orientation, padsFrom }: Probe): string[] {
  const begin = padsFrom === undefined ? '' : `:start_time=${padsFrom.toFixed(6)}`;
  return [...(kind === 'video' ? [`fps=${rate.num}/${rate.den}:round=near${begin}`] : []), ...(orientation > 1 ? [UPRIGHT[orientation]] : [])];
}

/** Filters that conform time, pixels and colour. `to` is what the pixels are for: JPEG (BT.601 full range), plain RGB, with straight alpha, or luma of 16 bits. */
export function pictureFilters(probe: Probe, size: Size, to: 'jpeg' | ReadAs): string {
  const filters = conforming(probe);
  const source = probe.rgb ? '' : `:in_color_matrix=${MATRIX[probe.matrix]}:in_range=${probe.range}`;
  const target = to === 'jpeg' ? ':out_color_matrix=smpte170m:out_range=pc' : ':out_range=pc';
  filters.push(
    `scale=${size.width}:${size.height}:flags=bicubic+accurate_rnd+full_chroma_int+full_chroma_inp${source}${target}`,
    'setsar=1',
    `format=${FORMATS[to]}`,
  );
  return filters.join(',');
}

/** Filters that give the alpha of footage that has one, as JPEG. */
export function alphaFilters(probe: Probe, size: Size): string {
  return `${[...conforming(probe), 'format=rgba'].join(',')},alphaextract,scale=${size.width}:${size.height}:flags=bicubic,setsar=1,format=yuvj444p`;
}

/** Frames in memory, of which the oldest is read into next. */
const FRAMES = 3;

/**
 * Frames of the footage from `first` on, as RGB24, RGBA or 16-bit luma of the asked size, one decoder for all of them. Decodes up to `first` as well,
 * since frame numbers count from the start of the conformed footage. A frame is good until a few more were asked for: memory is used again.
 */
export async function* readFrames(probe: Probe, dir: string, size: Size, first: number, signal?: AbortSignal, to: ReadAs = 'rgb'): AsyncGenerator<Buffer> {
  // Pictures of a sequence are opened by their number: where they differ in their pixels, filters begin anew and count from there.
  const skips = first > 0 && probe.kind !== 'sequence';
  const filters = `${pictureFilters(probe, size, to)}${skips ? `,select='gte(n\\,${first})'` : ''}`;
  const { child, errors } = readRaw([...inputArguments(probe, dir, first), '-an', '-vf', filters, '-vsync', 'passthrough', '-f', 'rawvideo', '-']);
  const bytes = size.width * size.height * BYTES[to];
  const frames = Array.from({ length: FRAMES }, () => Buffer.allocUnsafe(bytes));
  let filled = 0;
  let given = 0;
  const stop = () => child.kill('SIGKILL');
  signal?.addEventListener('abort', stop, { once: true });
  try {
    for await (const chunk of child.stdout as AsyncIterable<Buffer>) {
      let at = 0;
      while (at < chunk.length) {
        const n = Math.min(bytes - filled, chunk.length - at);
        chunk.copy(frames[given % FRAMES], filled, at, at + n);
        filled += n;
        at += n;
        if (filled === bytes) {
          filled = 0;
          yield frames[given++ % FRAMES];
        }
      }
    }
    if (given === 0 && !signal?.aborted)
      throw new Problem('footage-unreadable', `The footage of this shot can no longer be read. ${firstFault(errors())}`.trim(), 500);
  } finally {
    signal?.removeEventListener('abort', stop);
    stop();
  }
}
