/**
 * What is done to pixels when pictures are put onto one another. Pictures are premultiplied; those that are laid onto are opaque. Where
 * all that is given lies in one room, kernels do it; the loops here say the same plainly.
 */

import { type Blend, blender, CHANNEL_BLENDS } from '../math/blend.ts';
import { roomOf } from '../wasm/room.ts';
import { type Gray, isEmpty, type Layer, type Region, type Rgba } from './picture.ts';

/** The byte at which a pixel of a picture, or of a matte, lies. */
const pixelAt = ({ data, width }: Rgba, x: number, y: number): number => data.byteOffset + (y * width + x) * 16;
const alphaAt = ({ data, width }: Gray, x: number, y: number): number => data.byteOffset + (y * width + x) * 4;

/** Cuts a part of a picture by a matte (null: not at all) into a layer that lies there. */
export function cutInto(layer: Layer, picture: Rgba, matte: Gray | null): void {
  const { left, top, width, height, data } = layer;
  if (width === 0 || height === 0) return;
  const room = matte && roomOf(data, picture.data, matte.data);
  if (room) {
    room.kernels.cutRows(pixelAt(picture, left, top), picture.width, alphaAt(matte, left, top), matte.width, data.byteOffset, width, height);
    return;
  }
  for (let y = 0; y < height; y++) {
    let p = (y + top) * picture.width + left;
    let o = y * width * 4;
    data.set(picture.data.subarray(p * 4, (p + width) * 4), o);
    if (!matte) continue;
    for (; o < (y + 1) * width * 4; o += 4, p++) {
      const m = matte.data[p];
      data[o] *= m;
      data[o + 1] *= m;
      data[o + 2] *= m;
      data[o + 3] *= m;
    }
  }
}

/** Alpha under which a colour cannot be told from its premultiplied value. */
const FAINT = 1e-5;

/**
 * Replaces the picture by the layer's own colours where the layer has any, as far as `mix` says.
 * @param blend how they go together with those that are there; `matte` how far, pixel by pixel of the picture
 */
export function replaceBy(picture: Rgba, layer: Layer, mix: number, blend: Blend = 'normal', matte: Gray | null = null): void {
  const { left, top, width, height } = layer;
  if (blend !== 'normal' || matte) {
    blendBy(picture, layer, mix, blend, matte);
    return;
  }
  const room = roomOf(picture.data, layer.data);
  if (room) {
    room.kernels.replaceRows(pixelAt(picture, left, top), picture.width, layer.data.byteOffset, width, height, mix);
    return;
  }
  const { data } = picture;
  const from = layer.data;
  for (let y = 0; y < height; y++) {
    let i = ((y + top) * picture.width + left) * 4;
    for (let o = y * width * 4; o < (y + 1) * width * 4; o += 4, i += 4) {
      const a = from[o + 3];
      if (a < FAINT) continue;
      data[i] += (from[o] / a - data[i]) * mix;
      data[i + 1] += (from[o + 1] / a - data[i + 1]) * mix;
      data[i + 2] += (from[o + 2] / a - data[i + 2]) * mix;
    }
  }
}

/** The same by a mode of blending, and by a matte. */
function blendBy({ data, width: stride }: Rgba, { left, top, width, height, data: from }: Layer, mix: number, blend: Blend, matte: Gray | null): void {
  const mixed = blender(blend);
  const [b, s] = [new Float64Array(3), new Float64Array(3)];
  for (let y = 0; y < height; y++) {
    let p = (y + top) * stride + left;
    for (let o = y * width * 4; o < (y + 1) * width * 4; o += 4, p++) {
      const a = from[o + 3];
      const share = matte ? mix * matte.data[p] : mix;
      if (a < FAINT || share === 0) continue;
      const i = 4 * p;
      for (let k = 0; k < 3; k++) {
        b[k] = data[i + k];
        s[k] = from[o + k] / a;
      }
      mixed(b, s);
      for (let k = 0; k < 3; k++) data[i + k] += (s[k] - data[i + k]) * share;
    }
  }
}

/** Makes a layer as see-through as a matte of the whole picture says. */
export function cutLayer({ left, top, width, height, data }: Layer, matte: Gray): void {
  for (let y = 0, o = 0; y < height; y++) {
    let p = (y + top) * matte.width + left;
    for (let x = 0; x < width; x++, p++, o += 4) {
      const m = matte.data[p];
      if (m === 1) continue;
      data[o] *= m;
      data[o + 1] *= m;
      data[o + 2] *= m;
      data[o + 3] *= m;
    }
  }
}

/** Lays a layer over the picture, as strong as `mix`. */
export function layOver(picture: Rgba, layer: Layer, blend: Blend, mix: number): void {
  const { left, top, width, height } = layer;
  const room = roomOf(picture.data, layer.data);
  const kernel = (CHANNEL_BLENDS as readonly Blend[]).indexOf(blend);
  if (room && kernel >= 0) {
    const [to, from] = [pixelAt(picture, left, top), layer.data.byteOffset];
    if (blend === 'normal') room.kernels.layRows(to, picture.width, from, width, height, mix);
    else room.kernels.blendRows(to, picture.width, from, width, height, mix, kernel);
    return;
  }
  const mixed = blender(blend);
  const [b, s] = [new Float64Array(3), new Float64Array(3)];
  const { data } = picture;
  const from = layer.data;
  for (let y = 0; y < height; y++) {
    let i = ((y + top) * picture.width + left) * 4;
    for (let o = y * width * 4; o < (y + 1) * width * 4; o += 4, i += 4) {
      const a = from[o + 3];
      const m = a * mix;
      if (m <= 0) continue;
      if (blend === 'normal') {
        for (let k = 0; k < 3; k++) data[i + k] = from[o + k] * mix + data[i + k] * (1 - m);
        continue;
      }
      for (let k = 0; k < 3; k++) {
        b[k] = data[i + k];
        s[k] = from[o + k] / a;
      }
      mixed(b, s);
      for (let k = 0; k < 3; k++) data[i + k] += (s[k] - data[i + k]) * m;
    }
  }
}

/** Lays one opaque picture over another by a matte, within a part of them. */
export function layBy(picture: Rgba, over: Rgba, matte: Gray, region: Region): void {
  if (isEmpty(region)) return;
  const { left, top, right, bottom } = region;
  const room = roomOf(picture.data, over.data, matte.data);
  if (room) {
    const by = alphaAt(matte, left, top);
    room.kernels.layByRows(pixelAt(picture, left, top), pixelAt(over, left, top), picture.width, by, matte.width, right - left, bottom - top);
    return;
  }
  const { data, width } = picture;
  for (let y = top; y < bottom; y++)
    for (let p = y * width + left, i = p * 4; p < y * width + right; p++, i += 4) {
      const m = matte.data[p];
      if (m === 0) continue;
      const rest = 1 - m;
      data[i] = over.data[i] * m + data[i] * rest;
      data[i + 1] = over.data[i + 1] * m + data[i + 1] * rest;
      data[i + 2] = over.data[i + 2] * m + data[i + 2] * rest;
    }
}

/** Adds a share of a layer to another, each at its place; the sum holds all of it. */
export function addShare(sum: Layer, layer: Layer, share: number): void {
  addShareOf(sum, layer, { left: layer.left, top: layer.top, right: layer.left + layer.width, bottom: layer.top + layer.height }, share);
}

/** Adds a share of a part of a picture, or of a layer of it, to a layer that holds that part. */
export function addShareOf(sum: Layer, from: Rgba & Partial<Pick<Layer, 'left' | 'top'>>, { left, top, right, bottom }: Region, share: number): void {
  const [width, height] = [right - left, bottom - top];
  const [atX, atY] = [left - (from.left ?? 0), top - (from.top ?? 0)];
  const room = roomOf(sum.data, from.data);
  if (room) {
    room.kernels.addRows(pixelAt(sum, left - sum.left, top - sum.top), sum.width, pixelAt(from, atX, atY), from.width, width, height, share);
    return;
  }
  for (let y = 0; y < height; y++) {
    const to = ((y + top - sum.top) * sum.width + left - sum.left) * 4;
    const at = ((y + atY) * from.width + atX) * 4;
    for (let k = 0; k < 4 * width; k++) sum.data[to + k] += from.data[at + k] * share;
  }
}
