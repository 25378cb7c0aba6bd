/**
 * Two layers, the subject and its surroundings, each with a motion of its own: what came from where, and how well that explains
 * the next frame.
 */
import type { Box } from '../image/picture.ts';
import { borrowKernels } from '../wasm/host.ts';
import { boxMean } from './box-mean.ts';
import type { Flow } from './flow.ts';
import type { LabPicture } from './lab.ts';
import { pushPull } from './push-pull.ts';

/** What a pixel costs that a layer cannot explain, as an error in L*a*b*. */
export const UNEXPLAINED = 8;
export const WORST_ERROR = 25;
/** Distances farther than this from the subject's edge, pixels, are all alike. */
export const FAR = 24;

/** Motion between two neighbouring frames at the size of their coarse pictures. */
export interface Motion {
  forward: Flow;
  backward: Flow;
}

/** Distance, in coarse pixels, by which going forth and back misses the place it began at. */
export function missOf({ forward, backward }: Motion): Float32Array {
  const { width, height, data } = forward;
  const miss = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const u = Math.max(0, Math.min(width - 1, Math.round(x + data[2 * i])));
      const v = Math.max(0, Math.min(height - 1, Math.round(y + data[2 * i + 1])));
      const j = v * width + u;
      const offX = data[2 * i] + backward.data[2 * j];
      const offY = data[2 * i + 1] + backward.data[2 * j + 1];
      miss[i] = Math.sqrt(offX * offX + offY * offY);
    }
  return miss;
}

/** The distance from the subject's edge, of which that in a box is known, at a coarse place: outside the box it is far from the subject. */
export function distanceAt(distance: Float32Array, { left, top, width, height }: Box, factor: number, x: number, y: number): number {
  const u = (((x + 0.5) * factor) | 0) - left;
  const v = (((y + 0.5) * factor) | 0) - top;
  return u >= 0 && v >= 0 && u < width && v < height ? distance[v * width + u] : -FAR;
}

/**
 * The motion of one layer all over the coarse picture: its own where it is sure, spread from there. `distance` is that from the
 * subject's edge in the box (outside it all is far from the subject); `side` is 1 for the subject.
 */
export function layerMotion(forward: Flow, miss: Float32Array, distance: Float32Array, box: Box, factor: number, side: 1 | -1): Float32Array {
  const weights = new Float32Array(miss.length);
  for (let y = 0; y < forward.height; y++)
    for (let x = 0; x < forward.width; x++) {
      const i = y * forward.width + x;
      const d = side * distanceAt(distance, box, factor, x, y);
      const inside = d > 5 ? 1 : d > 2 ? 0.15 : d > 0 ? 0.02 : 0;
      weights[i] = inside / (1 + 8 * miss[i] * miss[i]);
    }
  return pushPull(forward.data, weights, forward.width, forward.height);
}

/** Where each pixel of the box was a frame ago if it went with this layer: x and y in pixels of the frame. */
export function sources(layer: Float32Array, flow: Flow, factor: number, { left, top, width, height }: Box): Float32Array {
  const n = 2 * width * height;
  const { kernels, floats } = borrowKernels(layer.length + n);
  floats.set(layer, 0);
  kernels.layerSources(0, flow.width, flow.height, factor, left, top, width, height, 4 * layer.length);
  return floats.slice(layer.length, layer.length + n);
}

/** How badly a layer explains each pixel of the box: the difference from where it came from, where that belonged to the layer. */
export function layerError(next: LabPicture, before: LabPicture, mask: Uint8Array, from: Float32Array, side: 0 | 1): Float32Array {
  const n = next.width * next.height;
  // Layout, in floats: the next picture | where it came from | errors | the picture before | its mask, a byte a pixel.
  const atFrom = 3 * n;
  const atErrors = 5 * n;
  const atBefore = 6 * n;
  const atMask = atBefore + before.lab.length;
  const { kernels, floats } = borrowKernels(atMask + Math.ceil(mask.length / 4));
  floats.set(next.lab, 0);
  floats.set(from, atFrom);
  floats.set(before.lab, atBefore);
  new Uint8Array(floats.buffer).set(mask, 4 * atMask);
  kernels.layerErrors(0, 4 * atBefore, 4 * atMask, before.width, before.height, 4 * atFrom, n, side, UNEXPLAINED, WORST_ERROR, 4 * atErrors);
  return boxMean(floats.slice(atErrors, atErrors + n), next.width, next.height, 2);
}
