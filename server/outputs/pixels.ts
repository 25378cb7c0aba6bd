/** Pictures as the bytes that encoders take and decoders give, by ffmpeg's names for their forms. */
import type { Gray, Rgba } from '../../core/image/picture.ts';
import { matteTo16 } from '../../core/image/picture.ts';
import { toRgba64 } from './rgba64.ts';

export type Pixels = 'gray16le' | 'rgba64le' | 'rgb48le' | 'rgb24' | 'grayf32le' | 'gbrapf32le' | 'gbrpf32le';

/** Numbers of a pixel, and how they lie in memory. */
const FORMS: Record<Pixels, { channels: number; of: 'u8' | 'u16' | 'f32' }> = {
  gray16le: { channels: 1, of: 'u16' },
  rgba64le: { channels: 4, of: 'u16' },
  rgb48le: { channels: 3, of: 'u16' },
  rgb24: { channels: 3, of: 'u8' },
  grayf32le: { channels: 1, of: 'f32' },
  gbrapf32le: { channels: 4, of: 'f32' },
  gbrpf32le: { channels: 3, of: 'f32' },
};
const BYTES = { u8: 1, u16: 2, f32: 4 };

export const bytesPerPixel = (pixels: Pixels): number => FORMS[pixels].channels * BYTES[FORMS[pixels].of];

const bufferOf = ({ buffer }: Uint16Array<ArrayBuffer> | Float32Array<ArrayBuffer>): Buffer => Buffer.from(buffer);

export const gray16 = (matte: Gray): Buffer => bufferOf(matteTo16(matte) as Uint16Array<ArrayBuffer>);
export const rgba16 = (picture: Rgba, premultiplied: boolean): Buffer => bufferOf(toRgba64(picture, premultiplied));

/** An opaque picture as RGB of 16 bits. */
export function rgb16({ data }: Rgba): Buffer {
  const out = new Uint16Array((data.length / 4) * 3);
  for (let i = 0, o = 0; i < data.length; i += 4) for (let c = 0; c < 3; c++) out[o++] = Math.max(0, Math.min(65535, data[i + c] * 65535 + 0.5));
  return bufferOf(out);
}

export const grayFloat = (matte: Gray): Buffer => Buffer.from(Float32Array.from(matte.data).buffer);

/** Planes of green, blue, red and, where it is asked for, alpha. */
export function planesFloat({ data, width, height }: Rgba, channels: 3 | 4): Buffer {
  const count = width * height;
  const out = new Float32Array(count * channels);
  const order = [1, 2, 0, 3].slice(0, channels);
  for (const [plane, c] of order.entries()) for (let p = 0; p < count; p++) out[plane * count + p] = data[4 * p + c];
  return bufferOf(out);
}

/** The mean difference of two pictures in the same form, as a share of white. */
export function meanDifference(a: Buffer, b: Buffer, pixels: Pixels): number {
  const { of } = FORMS[pixels];
  const count = Math.min(a.length, b.length) / BYTES[of];
  let sum = 0;
  for (let i = 0; i < count; i++) {
    if (of === 'u8') sum += Math.abs(a[i] - b[i]) / 255;
    else if (of === 'u16') sum += Math.abs(a.readUInt16LE(2 * i) - b.readUInt16LE(2 * i)) / 65535;
    else sum += Math.abs(a.readFloatLE(4 * i) - b.readFloatLE(4 * i));
  }
  return a.length === b.length ? sum / count : Infinity;
}
