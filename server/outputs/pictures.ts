/** Outputs of one picture for each frame. */
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import writeFileAtomic from 'write-file-atomic';
import { type Gray, matteTo8, toBytes } from '../../core/image/picture.ts';
import { exists } from '../footage/exists.ts';
import { fileNameOf, pictureNames, writtenSize } from './delivered.ts';
import { ALPHA, type Chosen, type Encoding } from './encoding.ts';
import type { FrameWriter } from './frame-writer.ts';
import type { Originals } from './originals.ts';
import { gray16, rgb16, rgba16 } from './pixels.ts';
import type { AnySource, Carried, OutputSource } from './source.ts';
import type { OutputTask } from './task.ts';

/** Writes a file for each frame, as far as it is not there. */
export const fileWriter = (
  task: OutputTask,
  source: AnySource,
  extension: string,
  bytesOf: (frame: number, sources: Originals) => Promise<Buffer>,
): FrameWriter => ({
  async write(frame, sources) {
    const file = path.join(task.directory, fileNameOf(task, source, extension, frame));
    if (!(await exists(file))) await writeFileAtomic(file, await bytesOf(frame, sources));
  },
  // A file is whole, or is not there.
  async drop() {},
});

/** Bits of each channel. */
const DEPTH = {
  kind: 'choice',
  label: 'Depth',
  options: [
    { value: 8, label: '8 bit' },
    { value: 16, label: '16 bit' },
  ],
  start: 16,
} as const;

const asIs = (of: Uint8Array | Uint8ClampedArray, width: number, height: number, channels: 1 | 3 | 4) => sharp(of, { raw: { width, height, channels } });
const as16 = (of: Buffer, width: number, height: number, channels: 1 | 3 | 4) =>
  sharp(new Uint16Array(of.buffer, of.byteOffset, of.length / 2), { raw: { width, height, channels } });

/** A matte as a gray picture, to be written. */
export const mattePicture = (matte: Gray, bits: 8 | 16): Sharp =>
  bits === 8
    ? asIs(matteTo8(matte), matte.width, matte.height, 1).toColourspace('b-w')
    : as16(gray16(matte), matte.width, matte.height, 1).toColourspace('grey16');

/** A frame as a picture to be written. */
async function imageOf(
  task: OutputTask,
  source: OutputSource,
  { bits, alpha }: Pick<Chosen, 'bits' | 'alpha'>,
  frame: number,
  sources: Originals,
): Promise<Sharp> {
  const { width, height } = writtenSize(task);
  if (source.carries === 'gray') {
    return mattePicture(await source.render(task, frame, sources), bits);
  }
  if (source.carries === 'opaque')
    return bits === 8
      ? asIs(await source.bytes(task, frame, sources), width, height, 3)
      : as16(rgb16(await source.render(task, frame, sources)), width, height, 3).toColourspace('rgb16');
  const picture = await source.render(task, frame, sources);
  if (bits === 8 && alpha === 'straight') return asIs(toBytes(picture), width, height, 4);
  const wide = rgba16(picture, alpha === 'premultiplied');
  if (bits === 16) return as16(wide, width, height, 4).toColourspace('rgb16');
  return asIs(
    Uint8Array.from({ length: wide.length / 2 }, (_, i) => Math.round(wide.readUInt16LE(2 * i) / 257)),
    width,
    height,
    4,
  );
}

/** Bytes of a frame as they should be read back. */
async function expected(task: OutputTask, source: OutputSource, { alpha }: Chosen, frame: number, sources: Originals): Promise<Buffer> {
  if (source.carries === 'gray') return gray16(await source.render(task, frame, sources));
  const picture = await source.render(task, frame, sources);
  return source.carries === 'alpha' ? rgba16(picture, alpha === 'premultiplied') : rgb16(picture);
}

const PIXELS = { gray: 'gray16le', alpha: 'rgba64le', opaque: 'rgb48le' } as const;

interface Kind {
  id: string;
  label: string;
  extension: string;
  carries: readonly Carried[];
  /** Depths it has; the option is left out where there is one. */
  depths: readonly (8 | 16)[];
  encode(image: Sharp): Sharp;
}

/** Files of one picture each, by the library that writes them. */
export function pictureEncoding({ depths, encode, ...kind }: Kind): Encoding {
  const depth = ({ bits }: Chosen): 8 | 16 => (depths.length > 1 ? bits : depths[0]);
  return {
    ...kind,
    single: false,
    options: (carries) => ({
      ...(depths.length > 1 ? { bits: DEPTH } : {}),
      ...(carries === 'alpha' ? { alpha: { ...ALPHA, start: 'straight' as const } } : {}),
    }),
    colour: (carries) =>
      carries === 'gray' ? 'linear coverage, 0 outside, full inside' : carries === 'alpha' ? 'the plate’s own values, with alpha' : 'the plate’s own values',
    open: (task, source, chosen) =>
      fileWriter(task, source, kind.extension, async (frame, sources) =>
        encode(await imageOf(task, source, { bits: depth(chosen), alpha: chosen.alpha ?? 'straight' }, frame, sources)).toBuffer(),
      ),
    finish: async (task, source) => pictureNames(task, source, kind.extension),
    readBack: (carries, chosen) => ({ pixels: PIXELS[carries], within: depth(chosen) === 8 ? 0.004 : 0.00005 }),
    expected,
  };
}
