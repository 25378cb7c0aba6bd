/** The two kinds of picture that everything works on. Rows top down, no padding. */
import { clamp } from '../math/clamp.ts';

/** One channel, `width`·`height` floats; a matte is in [0,1]. */
export interface Gray {
  width: number;
  height: number;
  data: Float32Array;
}

/** Four channels interleaved, premultiplied by alpha, in [0,1]; in the plate's own transfer where nothing else is said. */
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

/** A picture that is a part of a larger one: where its left top corner lies there. */
export interface Layer extends Rgba {
  left: number;
  top: number;
}

/** No part of a picture: with any other it makes that other. */
export const NOTHING: Region = { left: Infinity, top: Infinity, right: -Infinity, bottom: -Infinity };

export const isEmpty = ({ left, top, right, bottom }: Region): boolean => left >= right || top >= bottom;

/** The smallest part that holds both. */
export const unionOf = (a: Region, b: Region): Region => ({
  left: Math.min(a.left, b.left),
  top: Math.min(a.top, b.top),
  right: Math.max(a.right, b.right),
  bottom: Math.max(a.bottom, b.bottom),
});

/** What both have in common; empty where that is nothing. */
export const commonOf = (a: Region, b: Region): Region => ({
  left: Math.max(a.left, b.left),
  top: Math.max(a.top, b.top),
  right: Math.min(a.right, b.right),
  bottom: Math.min(a.bottom, b.bottom),
});

/** A part made larger on all sides. */
export const grownBy = ({ left, top, right, bottom }: Region, by: number): Region => ({
  left: left - by,
  top: top - by,
  right: right + by,
  bottom: bottom + by,
});

export const regionOf = ({ left, top, width, height }: Box): Region => ({ left, top, right: left + width, bottom: top + height });

/** The part of a matte outside of which it is 0. */
export function extentOfGray({ width, height, data }: Gray): Region {
  const region: Region = { left: width, top: height, right: 0, bottom: 0 };
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let x = 0;
    while (x < width && data[row + x] === 0) x++;
    if (x === width) continue;
    let end = width;
    while (data[row + end - 1] === 0) end--;
    region.left = Math.min(region.left, x);
    region.right = Math.max(region.right, end);
    if (region.bottom === 0) region.top = y;
    region.bottom = y + 1;
  }
  return region;
}

export const wholeOf = ({ width, height }: Size): Region => ({ left: 0, top: 0, right: width, bottom: height });

/** How many times larger a picture has to be to cover a size. */
export const toCover = (size: Size, picture: Size): number => Math.max(size.width / picture.width, size.height / picture.height);

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

/** Bytes of one channel as a gray in [0,1]. */
export function fromGray8(bytes: ArrayLike<number>, { width, height }: Size): Gray {
  const out = newGray(width, height);
  for (let i = 0; i < out.data.length; i++) out.data[i] = bytes[i] / 255;
  return out;
}

/** A gray at another size, bilinear between the centres of its pixels: for making larger. */
export function resized(gray: Gray, size: Size): Gray {
  const { width, height, data } = gray;
  if (width === size.width && height === size.height) return gray;
  const out = newGray(size.width, size.height);
  const [scaleX, scaleY] = [width / size.width, height / size.height];
  for (let y = 0; y < size.height; y++) {
    const v = clamp((y + 0.5) * scaleY - 0.5, 0, height - 1);
    const y0 = Math.floor(v);
    const upper = y0 * width;
    const lower = Math.min(height - 1, y0 + 1) * width;
    for (let x = 0; x < size.width; x++) {
      const u = clamp((x + 0.5) * scaleX - 0.5, 0, width - 1);
      const x0 = Math.floor(u);
      const x1 = Math.min(width - 1, x0 + 1);
      const top = data[upper + x0] + (data[upper + x1] - data[upper + x0]) * (u - x0);
      const bottom = data[lower + x0] + (data[lower + x1] - data[lower + x0]) * (u - x0);
      out.data[y * size.width + x] = top + (bottom - top) * (v - y0);
    }
  }
  return out;
}

/** Luma weights of ITU-R BT.709. */
export const LUMA = [0.2126, 0.7152, 0.0722] as const;
/** The largest differences of blue and of red from luma, as a whole (ITU-R BT.709). */
export const CHROMA = [1.8556, 1.5748] as const;
/** Luma of the pixel that begins at `i`. */
export const lumaAt = (data: ArrayLike<number>, i: number): number => LUMA[0] * data[i] + LUMA[1] * data[i + 1] + LUMA[2] * data[i + 2];

/** The luma of a picture of bytes, so many `channels` a pixel, red, green and blue first. */
export function lumaOf(bytes: Uint8Array | Uint8ClampedArray, channels: 3 | 4, { width, height }: Size): Gray {
  const out = newGray(width, height);
  for (let i = 0, p = 0; p < out.data.length; i += channels, p++) out.data[p] = lumaAt(bytes, i) / 255;
  return out;
}
