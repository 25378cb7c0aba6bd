/** What is done to pixels when pictures are put onto one another. Pictures are premultiplied; those that are laid onto are opaque. */
import { type Gray, isEmpty, type Layer, newLayer, type Region, type Rgba } from '../image/picture.ts';
import { BLEND, type Blend } from '../math/blend.ts';

/** A part of a picture, cut by a matte (null: whole), as a layer. */
export function cutOut(picture: Rgba, matte: Gray | null, region: Region): Layer {
  const out = newLayer(region);
  if (isEmpty(region)) return out;
  const { data } = out;
  for (let y = 0; y < out.height; y++) {
    let p = (y + region.top) * picture.width + region.left;
    const from = p * 4;
    let o = y * out.width * 4;
    if (!matte) {
      data.set(picture.data.subarray(from, from + out.width * 4), o);
      continue;
    }
    for (let i = from; o < (y + 1) * out.width * 4; o += 4, i += 4, p++) {
      const m = matte.data[p];
      if (m === 0) continue;
      data[o] = picture.data[i] * m;
      data[o + 1] = picture.data[i + 1] * m;
      data[o + 2] = picture.data[i + 2] * m;
      data[o + 3] = picture.data[i + 3] * m;
    }
  }
  return out;
}

/** Alpha under which a colour cannot be told from its premultiplied value. */
const FAINT = 1e-5;

/** Replaces the picture by the layer's own colours where the layer has any, as far as `mix` says. */
export function replaceBy(picture: Rgba, layer: Layer, mix: number): void {
  const { data } = picture;
  const from = layer.data;
  for (let y = 0; y < layer.height; y++) {
    let i = ((y + layer.top) * picture.width + layer.left) * 4;
    for (let o = y * layer.width * 4; o < (y + 1) * layer.width * 4; o += 4, i += 4) {
      const a = from[o + 3];
      if (a < FAINT) continue;
      data[i] += (from[o] / a - data[i]) * mix;
      data[i + 1] += (from[o + 1] / a - data[i + 1]) * mix;
      data[i + 2] += (from[o + 2] / a - data[i + 2]) * mix;
    }
  }
}

/** Lays a layer over the picture, as strong as `mix`. */
export function layOver(picture: Rgba, layer: Layer, blend: Blend, mix: number): void {
  const mixed = BLEND[blend];
  const { data } = picture;
  const from = layer.data;
  for (let y = 0; y < layer.height; y++) {
    let i = ((y + layer.top) * picture.width + layer.left) * 4;
    for (let o = y * layer.width * 4; o < (y + 1) * layer.width * 4; o += 4, i += 4) {
      const a = from[o + 3];
      const m = a * mix;
      if (m <= 0) continue;
      if (blend === 'normal') {
        data[i] += (from[o] / a - data[i]) * m;
        data[i + 1] += (from[o + 1] / a - data[i + 1]) * m;
        data[i + 2] += (from[o + 2] / a - data[i + 2]) * m;
      } else for (let k = 0; k < 3; k++) data[i + k] += (mixed(data[i + k], from[o + k] / a) - data[i + k]) * m;
    }
  }
}

/** Lays one opaque picture over another by a matte, within a part of them. */
export function layBy(picture: Rgba, over: Rgba, matte: Gray, { left, top, right, bottom }: Region): void {
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
