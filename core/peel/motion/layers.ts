/**
 * Two layers, the subject and its surroundings, each with a motion of its own: what came from where, and how well that explains
 * the next frame.
 */
import type { Box, Size } from '../../image/picture.ts';
import { clamp } from '../../math/clamp.ts';
import type { Homography } from '../../math/homography.ts';
import { borrowParts } from '../../wasm/host.ts';
import { boxMean } from '../picture/box-mean.ts';
import type { LabPicture } from '../picture/lab.ts';
import { pushPull } from '../picture/push-pull.ts';
import type { Flow } from './optical-flow.ts';

/** What a pixel costs that a layer cannot explain, as an error in L*a*b*. */
export const UNEXPLAINED = 8;
export const WORST_ERROR = 25;
/** Distances farther than this from the subject's edge, pixels, are all alike. */
export const FAR = 24;

/** Motion between two neighbouring frames at the size of their coarse pictures. */
export interface Motion {
  forward: Flow;
  backward: Flow;
  /** Distance, in coarse pixels, by which going forth and back misses the place it began at, and going back and forth. */
  forwardBackwardError: Float32Array;
  backwardForwardError: Float32Array;
}

export const motionOf = (forward: Flow, backward: Flow): Motion => ({
  forward,
  backward,
  forwardBackwardError: missOf(forward, backward),
  backwardForwardError: missOf(backward, forward),
});
export const reversed = ({ forward, backward, forwardBackwardError, backwardForwardError }: Motion): Motion => ({
  forward: backward,
  backward: forward,
  forwardBackwardError: backwardForwardError,
  backwardForwardError: forwardBackwardError,
});

/** How sure the motion of a pixel is, (0,1], by how far going forth and back misses the place it began at, coarse pixels. */
export const sureOf = (error: number): number => 1 / (1 + 8 * error * error);

function missOf({ width, height, data }: Flow, back: Flow): Float32Array {
  const errors = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const u = clamp(Math.round(x + data[2 * i]), 0, width - 1);
      const v = clamp(Math.round(y + data[2 * i + 1]), 0, height - 1);
      const j = v * width + u;
      const offX = data[2 * i] + back.data[2 * j];
      const offY = data[2 * i + 1] + back.data[2 * j + 1];
      errors[i] = Math.sqrt(offX * offX + offY * offY);
    }
  return errors;
}

/** The distance from the subject's edge, of which that in a box is known, at a coarse place: outside the box it is far from the subject. */
export function distanceAt(distance: Float32Array, { left, top, width, height }: Box, factor: number, x: number, y: number): number {
  const u = (((x + 0.5) * factor) | 0) - left;
  const v = (((y + 0.5) * factor) | 0) - top;
  return u >= 0 && v >= 0 && u < width && v < height ? distance[v * width + u] : -FAR;
}

/** Weight, against one of a sure place inside, by which a layer everywhere goes as it goes as a whole. */
const HELD = 0.02;

/**
 * The motion of one layer all over the coarse picture: its own where it is sure, spread from there. `distance` is that from the
 * subject's edge in the box (outside it all is far from the subject); `side` is 1 for the subject. Where its motion as a whole is known
 * (`whole`, between coarse pixels), what differs from it is spread, so that thin parts, of which little is sure, go with the rest.
 */
export function layerMotion(
  { forward: { width, height, data }, forwardBackwardError }: Motion,
  distance: Float32Array,
  box: Box,
  factor: number,
  side: 1 | -1,
  whole: Homography | null = null,
): Float32Array {
  const weights = new Float32Array(forwardBackwardError.length);
  const differs = whole ? data.slice() : data;
  const byWhole = whole ? movesOf(whole, width, height) : null;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const d = side * distanceAt(distance, box, factor, x, y);
      const inside = d > 5 ? 1 : d > 2 ? 0.15 : d > 0 ? 0.02 : 0;
      weights[i] = inside * sureOf(forwardBackwardError[i]);
      if (!byWhole) continue;
      const share = weights[i] / (weights[i] + HELD);
      weights[i] += HELD;
      differs[2 * i] = share * (data[2 * i] - byWhole[2 * i]);
      differs[2 * i + 1] = share * (data[2 * i + 1] - byWhole[2 * i + 1]);
    }
  const spread = pushPull(differs, weights, width, height);
  if (byWhole) for (let i = 0; i < spread.length; i++) spread[i] += byWhole[i];
  return spread;
}

/** How far each pixel goes with a motion, x and y. */
function movesOf([xx, xy, x1, yx, yy, y1]: Homography, width: number, height: number): Float32Array {
  const out = new Float32Array(2 * width * height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 2) {
      out[i] = (xx - 1) * x + xy * y + x1;
      out[i + 1] = yx * x + (yy - 1) * y + y1;
    }
  return out;
}

/** Where each pixel of the box was a frame ago if it went with this layer: x and y in pixels of the frame. */
export function sources(layer: Float32Array, flow: Flow, factor: number, { left, top, width, height }: Box): Float32Array {
  const n = 2 * width * height;
  const { kernels, part, at } = borrowParts({ layer: layer.length, from: n });
  part.layer.set(layer);
  kernels.layerSources(at.layer, flow.width, flow.height, factor, left, top, width, height, at.from);
  return part.from.slice();
}

/**
 * The mask of the box by the pixels of the picture before that its own came from.
 * @param mask of that picture
 */
export function maskAtSources(from: Float32Array, mask: Uint8Array, { width, height }: Size, box: Size): Uint8Array {
  const out = new Uint8Array(box.width * box.height);
  for (let i = 0; i < out.length; i++) {
    const x = Math.floor(from[2 * i] + 0.5);
    const y = Math.floor(from[2 * i + 1] + 0.5);
    out[i] = x >= 0 && y >= 0 && x < width && y < height ? mask[y * width + x] : 0;
  }
  return out;
}

/**
 * How badly a layer explains each pixel of a picture: the difference from where it came from with it in the one before, where that
 * belonged to the layer.
 * @param side of `mask` that is the layer's
 */
export const layerError = (next: LabPicture, before: LabPicture, mask: Uint8Array, from: Float32Array, side: 0 | 1): Float32Array =>
  errorsOf(next, before, mask, [{ from, side }])[0];

/** The same of the two layers, subject and surroundings. */
export function layerErrors(
  next: LabPicture,
  before: LabPicture,
  mask: Uint8Array,
  fromKeep: Float32Array,
  fromDrop: Float32Array,
): { keep: Float32Array; drop: Float32Array } {
  const [keep, drop] = errorsOf(next, before, mask, [
    { from: fromKeep, side: 1 },
    { from: fromDrop, side: 0 },
  ]);
  return { keep, drop };
}

function errorsOf(next: LabPicture, before: LabPicture, mask: Uint8Array, layers: readonly { from: Float32Array; side: 0 | 1 }[]): Float32Array[] {
  const n = next.width * next.height;
  const { width } = before;
  const [first, end] = rowsLookedAt(layers, before.height);
  const seen = width * (end - first);
  const { kernels, part, at } = borrowParts({ next: 3 * n + 4, from: 2 * n, error: n, before: 3 * seen + 4, mask: Math.ceil(seen / 4) });
  part.next.set(next.lab);
  part.before.set(before.lab.subarray(3 * width * first, 3 * width * end));
  new Uint8Array(part.mask.buffer).set(mask.subarray(width * first, width * end), at.mask);
  const errors = layers.map(({ from, side }) => {
    part.from.set(from);
    kernels.layerErrors(at.next, at.before, at.mask, width, first, end, at.from, n, side, UNEXPLAINED, WORST_ERROR, at.error);
    return part.error.slice();
  });
  return errors.map((e) => boxMean(e, next.width, next.height, 2));
}

/** The first row of a picture of so many that pixels came from, or its neighbour, and the one after the last. */
function rowsLookedAt(layers: readonly { from: Float32Array }[], height: number): [number, number] {
  let [least, most] = [height - 1, 0];
  for (const { from } of layers)
    for (let i = 1; i < from.length; i += 2) {
      if (from[i] < least) least = from[i];
      if (from[i] > most) most = from[i];
    }
  const first = Math.max(0, Math.floor(least) - 1);
  return [first, clamp(Math.ceil(most) + 2, first + 1, height)];
}
