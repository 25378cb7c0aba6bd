/** The two kinds of picture that everything works on. Rows top down, no padding. */

/** One channel, `width`·`height` floats; a matte is in [0,1]. */
export interface Gray {
  width: number;
  height: number;
  data: Float32Array;
}

/** Four channels interleaved, premultiplied by alpha, in [0,1], in the plate's own transfer (no linearising). */
export interface Rgba {
  width: number;
  height: number;
  data: Float32Array;
}

export interface Size {
  width: number;
  height: number;
}

/** A part of a picture; right and bottom are not in it. */
export interface Region {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** The same by its size. */
export interface Box extends Size {
  left: number;
  top: number;
}

export const wholeOf = ({ width, height }: Size): Region => ({ left: 0, top: 0, right: width, bottom: height });

export const newGray = (width: number, height: number): Gray => ({ width, height, data: new Float32Array(width * height) });
export const newRgba = (width: number, height: number): Rgba => ({ width, height, data: new Float32Array(width * height * 4) });

/** Straight 8-bit RGBA to premultiplied floats. */
export function fromBytes(bytes: ArrayLike<number>, width: number, height: number): Rgba {
  const out = newRgba(width, height);
  const { data } = out;
  for (let i = 0; i < data.length; i += 4) {
    const a = bytes[i + 3] / 255;
    const k = a / 255;
    data[i] = bytes[i] * k;
    data[i + 1] = bytes[i + 1] * k;
    data[i + 2] = bytes[i + 2] * k;
    data[i + 3] = a;
  }
  return out;
}

/** Premultiplied floats to straight 8-bit RGBA, rounded to nearest. */
export function toBytes(picture: Rgba, out = new Uint8ClampedArray(picture.data.length)): Uint8ClampedArray {
  const { data } = picture;
  for (let i = 0; i < data.length; i += 4) {
    const a = data[i + 3];
    const k = a > 0 ? 255 / a : 0;
    out[i] = data[i] * k;
    out[i + 1] = data[i + 1] * k;
    out[i + 2] = data[i + 2] * k;
    out[i + 3] = a * 255;
  }
  return out;
}

/** A matte as 8-bit gray, rounded to nearest. */
export function matteTo8(matte: Gray): Uint8Array {
  const out = new Uint8Array(matte.data.length);
  for (let i = 0; i < out.length; i++) out[i] = matte.data[i] * 255 + 0.5;
  return out;
}

/** A matte as 16-bit gray, rounded to nearest. */
export function matteTo16(matte: Gray): Uint16Array {
  const out = new Uint16Array(matte.data.length);
  for (let i = 0; i < out.length; i++) out[i] = matte.data[i] * 65535 + 0.5;
  return out;
}
