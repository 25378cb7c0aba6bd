/** Painting onto the layer of an element. */
import type { Descriptions } from '../effects/settings.ts';
import type { Region, Rgba, Size } from '../image/picture.ts';
import { clamp, smoothstep } from '../math/clamp.ts';
import { applyTo, type Homography, inverseOf } from '../math/homography.ts';
import { lendFilled } from '../matte/feathered-fill.ts';
import { boxOf, moveInto } from '../matte/outline-box.ts';

/**
 * Alpha at a distance from an edge, in pixels, outside positive: over one pixel where it is crisp, or smoothly over `softness`
 * pixels on both sides of it.
 */
export function coverage(distance: number, softness: number): number {
  const wide = 2 * softness;
  if (wide <= 1) return clamp(0.5 - distance, 0, 1);
  const t = clamp(0.5 - distance / wide, 0, 1);
  return smoothstep(t);
}

/** Alpha of a glow at a distance beyond an edge, pixels: a half at `reach`, gone at three times that. */
export function glowAt(distance: number, reach: number): number {
  if (reach <= 0 || distance >= 3 * reach) return 0;
  const t = Math.max(0, distance) / reach;
  const ends = 1 - t / 3;
  return 0.5 ** (t * t) * ends * ends;
}

/** How far a glow reaches, in times of its setting. */
export const GLOW_REACH = 3;

/** Settings of what shines: its colour, how soft it is, and the glow round it; with what they start from. */
export const lightSettings = (softness: number, glow: number, glowStrength: number) =>
  ({
    colour: { kind: 'colour', label: 'Colour', about: 'What colour it shines in.', start: [0.98, 0.82, 0.52] },
    softness: { kind: 'number', label: 'Softness', about: 'How far its edges fade.', unit: 'px', min: 0, max: 500, step: 0.5, start: softness, usual: [0, 40] },
    glow: { kind: 'number', label: 'Glow', about: 'How far the glow reaches.', unit: 'px', min: 0, max: 500, step: 0.5, start: glow, usual: [0, 80] },
    glowStrength: { kind: 'number', label: 'Glow strength', about: 'How strong the glow is.', unit: '%', min: 0, max: 100, step: 1, start: glowStrength },
  }) satisfies Descriptions;

/** The pixels of a layer that something of this size, (0, 0) its middle, can touch; all of them where a part of it is beyond the horizon. */
export function visibleBox(layer: Size, motion: Homography, { width, height }: Size): Region {
  const region: Region = { left: Infinity, top: Infinity, right: -Infinity, bottom: -Infinity };
  for (const [sx, sy] of [
    [-0.5, -0.5],
    [0.5, -0.5],
    [0.5, 0.5],
    [-0.5, 0.5],
  ]) {
    const [x, y] = [sx * width, sy * height];
    if (motion[6] * x + motion[7] * y + motion[8] <= 1e-9) return { left: 0, top: 0, right: layer.width, bottom: layer.height };
    const [u, v] = applyTo(motion, x, y);
    region.left = Math.min(region.left, u);
    region.top = Math.min(region.top, v);
    region.right = Math.max(region.right, u);
    region.bottom = Math.max(region.bottom, v);
  }
  return {
    left: Math.max(0, Math.floor(region.left) - 1),
    top: Math.max(0, Math.floor(region.top) - 1),
    right: Math.min(layer.width, Math.ceil(region.right) + 1),
    bottom: Math.min(layer.height, Math.ceil(region.bottom) + 1),
  };
}

/** Goes over the pixels of a picture that lie within outlines (its pixels, even-odd; they are moved): each with how much of it does, (0,1]. */
export function overFilled(size: Size, outlines: readonly Float64Array[], each: (pixel: number, covered: number) => void): void {
  const box = boxOf(outlines, size, 0);
  if (box.width <= 0 || box.height <= 0) return;
  moveInto(box, outlines);
  const { data, stride } = lendFilled(outlines, box);
  for (let y = 0; y < box.height; y++)
    for (let x = 0; x < box.width; x++) {
      const a = data[y * stride + x];
      if (a > 0) each((y + box.top) * size.width + box.left + x, Math.min(1, a));
    }
}

/** Fills outlines (pixels of the layer, even-odd) with a colour, over what is there. */
export const fillOver = (layer: Rgba, outlines: readonly Float64Array[], [red, green, blue]: readonly number[]): void =>
  overFilled(layer, outlines, (pixel, covered) => layOver(layer.data, 4 * pixel, red, green, blue, covered));

/** Lays a colour of alpha `a` over the premultiplied pixel at `o`. */
export function layOver(data: Float32Array, o: number, red: number, green: number, blue: number, a: number): void {
  const rest = 1 - a;
  data[o] = red * a + data[o] * rest;
  data[o + 1] = green * a + data[o + 1] * rest;
  data[o + 2] = blue * a + data[o + 2] * rest;
  data[o + 3] = a + data[o + 3] * rest;
}

/**
 * Goes over the pixels of a layer that something of this size can touch: gives each its place in that thing's own pixels, (0, 0) its middle,
 * and the number at which the pixel begins in the layer. Nothing of it is beyond the horizon.
 */
export function overOwnPlaces(layer: Rgba, motion: Homography, box: Size, each: (u: number, v: number, o: number) => void): void {
  const back = inverseOf(motion);
  if (!back) return;
  const { left, top, right, bottom } = visibleBox(layer, motion, box);
  const [a, b, c, d, e, f, g, h, i] = back;
  for (let y = top; y < bottom; y++)
    for (let x = left, o = 4 * (y * layer.width + left); x < right; x++, o += 4) {
      const w = g * (x + 0.5) + h * (y + 0.5) + i;
      if (w > 0) each((a * (x + 0.5) + b * (y + 0.5) + c) / w, (d * (x + 0.5) + e * (y + 0.5) + f) / w, o);
    }
}
