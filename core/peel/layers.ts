/**
 * Two layers, the subject and its surroundings, each with a motion of its own: what came from where, and how well that explains
 * the next frame.
 */
import type { Box } from '../image/picture.ts';
import { boxMean } from './box-mean.ts';
import type { Flow } from './flow.ts';
import type { LabPicture } from './lab.ts';
import { pushPull } from './push-pull.ts';

/** What a pixel costs that a layer cannot explain, as an error in L*a*b*. */
const UNEXPLAINED = 8;
const WORST_ERROR = 25;
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
      miss[i] = Math.hypot(data[2 * i] + backward.data[2 * j], data[2 * i + 1] + backward.data[2 * j + 1]);
    }
  return miss;
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
      const u = (((x + 0.5) * factor) | 0) - box.left;
      const v = (((y + 0.5) * factor) | 0) - box.top;
      const inBox = u >= 0 && v >= 0 && u < box.width && v < box.height;
      const d = inBox ? side * distance[v * box.width + u] : -side * FAR;
      const inside = d > 5 ? 1 : d > 2 ? 0.15 : d > 0 ? 0.02 : 0;
      weights[i] = inside / (1 + 8 * miss[i] * miss[i]);
    }
  return pushPull(forward.data, weights, forward.width, forward.height, 2);
}

/** Where each pixel of the box was a frame ago if it went with this layer: x and y in pixels of the frame. */
export function sources(layer: Float32Array, flow: Flow, factor: number, { left, top, width, height }: Box): Float32Array {
  const out = new Float32Array(2 * width * height);
  const [w, h] = [flow.width, flow.height];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sx = x + left;
      let sy = y + top;
      for (let step = 0; step < 3; step++) {
        const cx = Math.max(0, Math.min(w - 1.001, (sx + 0.5) / factor - 0.5));
        const cy = Math.max(0, Math.min(h - 1.001, (sy + 0.5) / factor - 0.5));
        const x0 = cx | 0;
        const y0 = cy | 0;
        const fx = cx - x0;
        const fy = cy - y0;
        const a = 2 * (y0 * w + x0);
        const b = x0 + 1 < w ? a + 2 : a;
        const down = y0 + 1 < h ? 2 * w : 0;
        const u = (layer[a] * (1 - fx) + layer[b] * fx) * (1 - fy) + (layer[a + down] * (1 - fx) + layer[b + down] * fx) * fy;
        const v = (layer[a + 1] * (1 - fx) + layer[b + 1] * fx) * (1 - fy) + (layer[a + down + 1] * (1 - fx) + layer[b + down + 1] * fx) * fy;
        sx = x + left - u * factor;
        sy = y + top - v * factor;
      }
      out[2 * (y * width + x)] = sx;
      out[2 * (y * width + x) + 1] = sy;
    }
  return out;
}

/** How badly a layer explains each pixel of the box: the difference from where it came from, where that belonged to the layer. */
export function layerError(next: LabPicture, before: LabPicture, mask: Uint8Array, from: Float32Array, side: 0 | 1): Float32Array {
  const { width, height } = next;
  const raw = new Float32Array(width * height);
  for (let i = 0; i < raw.length; i++) {
    const x = Math.round(from[2 * i]);
    const y = Math.round(from[2 * i + 1]);
    if (x < 0 || y < 0 || x >= before.width || y >= before.height || mask[y * before.width + x] !== side) {
      raw[i] = UNEXPLAINED;
      continue;
    }
    const j = 3 * (y * before.width + x);
    const k = 3 * i;
    raw[i] = Math.min(
      WORST_ERROR,
      Math.abs(next.lab[k] - before.lab[j]) + Math.abs(next.lab[k + 1] - before.lab[j + 1]) + Math.abs(next.lab[k + 2] - before.lab[j + 2]),
    );
  }
  return boxMean(raw, width, height, 2);
}
