/** Pictures in the room of the kernels, or in memory of their own where there is no room. */
import { type Room, roomOf } from '../wasm/room.ts';
import { extentOfGray, type Gray, type Layer, newRgba, type Region, type Rgba, type Size } from './picture.ts';

const floatsFor = (room: Room | null, count: number): Float32Array => room?.take(count) ?? new Float32Array(count);

/** A layer for a part of a picture; what is in it is not said. */
export function rawLayer(room: Room | null, { left, top, right, bottom }: Region): Layer {
  const [width, height] = [Math.max(0, right - left), Math.max(0, bottom - top)];
  return { left, top, width, height, data: floatsFor(room, 4 * width * height) };
}

/** An empty layer for a part of a picture. */
export function emptyLayer(room: Room | null, region: Region): Layer {
  const layer = rawLayer(room, region);
  layer.data.fill(0);
  return layer;
}

/** A copy of a picture or a matte. */
export function copyIn<P extends Gray | Rgba>(room: Room | null, picture: P): P {
  const data = floatsFor(room, picture.data.length);
  data.set(picture.data);
  return { ...picture, data };
}

/** A matte; what is in it is not said. */
export const rawGray = (room: Room | null, { width, height }: Size): Gray => ({ width, height, data: floatsFor(room, width * height) });

/** An opaque picture as bytes, red, green and blue, with alpha (which does not count) or without. Rows top down, no padding. */
export interface ByteRgb extends Size {
  bytes: Uint8Array | Uint8ClampedArray;
  channels: 3 | 4;
}

/** Bytes that one pixel of three may be read, and written, over its end. */
const OVER = 4;
/** Room for bytes, in floats. */
const floatsOf = (bytes: number): number => Math.ceil((bytes + OVER) / 4);
const bytesIn = (part: Float32Array, count: number): Uint8Array => new Uint8Array(part.buffer, part.byteOffset, count);

/** The picture of bytes as floats. */
export function pictureOfBytes(room: Room | null, { width, height, bytes, channels }: ByteRgb): Rgba {
  const data = room?.take(4 * width * height);
  const mark = room?.mark() ?? 0;
  const part = room?.take(floatsOf(bytes.length));
  if (!room || !data || !part) {
    const out = newRgba(width, height);
    for (let i = 0, b = 0; i < out.data.length; i += 4, b += channels) {
      for (let k = 0; k < 3; k++) out.data[i + k] = bytes[b + k] / 255;
      out.data[i + 3] = 1;
    }
    return out;
  }
  bytesIn(part, bytes.length).set(bytes);
  room.kernels.pixelsOfBytes(part.byteOffset, channels, width * height, data.byteOffset);
  room.release(mark);
  return { width, height, data };
}

/** An opaque picture as bytes in memory of its own, rounded to nearest. */
export function bytesOfPicture(picture: Rgba, channels: 3 | 4): Uint8ClampedArray<ArrayBuffer> {
  const { width, height, data } = picture;
  const count = width * height * channels;
  const room = roomOf(data);
  const mark = room?.mark() ?? 0;
  const part = room?.take(floatsOf(count));
  const out = new Uint8ClampedArray(count);
  if (room && part) {
    room.kernels.bytesOfPixels(data.byteOffset, width * height, channels, part.byteOffset);
    out.set(bytesIn(part, count));
    room.release(mark);
  } else for (let i = 0, b = 0; i < data.length; i += 4, b += channels) for (let k = 0; k < channels; k++) out[b + k] = data[i + k] * 255;
  return out;
}

/** The part of a matte outside of which it is 0. */
export function extentIn(matte: Gray): Region {
  const room = roomOf(matte.data);
  const mark = room?.mark() ?? 0;
  const part = room?.take(4);
  if (!room || !part) return extentOfGray(matte);
  room.kernels.extentOf(matte.data.byteOffset, matte.width, matte.height, part.byteOffset);
  const [left, top, right, bottom] = new Int32Array(part.buffer, part.byteOffset, 4);
  room.release(mark);
  return { left, top, right, bottom };
}
