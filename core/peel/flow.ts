/**
 * Dense motion from one picture to another by inverse search: T. Kroeger, R. Timofte, D. Dai, L. Van Gool, "Fast Optical Flow
 * using Dense Inverse Search", ECCV 2016. Patches also try the motion of their neighbours (as in PatchMatch, Barnes et al.
 * 2009); there is no smoothing of the field.
 */
import type { Gray } from '../image/picture.ts';
import { borrowKernels } from '../wasm/host.ts';

/** For each pixel of the first picture where it has gone: x and y in pixels, one after the other. */
export interface Flow {
  width: number;
  height: number;
  data: Float32Array;
}

const PATCH = 8;
const STRIDE = 3;
const ROUNDS = 8;
/** Smallest side of the coarsest level. */
const COARSEST = 20;

export function half({ width, height, data }: Gray): Gray {
  const [w, h] = [width >> 1, height >> 1];
  const out = new Float32Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = 2 * y * width + 2 * x;
      out[y * w + x] = (data[i] + data[i + 1] + data[i + width] + data[i + width + 1]) / 4;
    }
  return { width: w, height: h, data: out };
}

export function pyramidOf(channel: Gray): Gray[] {
  const levels = [channel];
  for (let last = channel; Math.min(last.width, last.height) >= 2 * COARSEST; levels.push(last)) last = half(last);
  return levels;
}

function level(first: Gray, second: Gray, before: Flow | null): Flow {
  const { width, height } = first;
  const columns = Math.max(1, Math.floor((width - PATCH) / STRIDE) + 1);
  const rows = Math.max(1, Math.floor((height - PATCH) / STRIDE) + 1);
  const u = new Float32Array(columns * rows);
  const v = new Float32Array(columns * rows);
  if (before)
    for (let r = 0; r < rows; r++)
      for (let c = 0; c < columns; c++) {
        const x = Math.min(before.width - 1, (c * STRIDE + PATCH / 2) >> 1);
        const y = Math.min(before.height - 1, (r * STRIDE + PATCH / 2) >> 1);
        u[r * columns + c] = 2 * before.data[2 * (y * before.width + x)];
        v[r * columns + c] = 2 * before.data[2 * (y * before.width + x) + 1];
      }
  // Layout: both pictures | u | v | costs | four patches.
  const size = width * height;
  const count = columns * rows;
  const { kernels, floats } = borrowKernels(2 * size + 3 * count + 4 * PATCH * PATCH);
  const [atU, atV, atCost, atScratch] = [2 * size, 2 * size + count, 2 * size + 2 * count, 2 * size + 3 * count];
  floats.set(first.data, 0);
  floats.set(second.data, size);
  floats.set(u, atU);
  floats.set(v, atV);
  kernels.patchFlow(0, size * 4, width, height, columns, rows, STRIDE, atU * 4, atV * 4, atCost * 4, atScratch * 4, ROUNDS);
  u.set(floats.subarray(atU, atU + count));
  v.set(floats.subarray(atV, atV + count));
  const cost = floats.slice(atCost, atCost + count);
  // Each pixel takes the mean motion of the patches over it, the better ones counting for more.
  const data = new Float32Array(2 * width * height);
  const weight = new Float32Array(width * height);
  for (let p = 0; p < columns * rows; p++) {
    const [px, py] = [(p % columns) * STRIDE, ((p / columns) | 0) * STRIDE];
    const w = 1 / Math.max(1, cost[p]);
    for (let y = 0; y < PATCH && py + y < height; y++)
      for (let x = 0; x < PATCH && px + x < width; x++) {
        const i = (py + y) * width + px + x;
        data[2 * i] += w * u[p];
        data[2 * i + 1] += w * v[p];
        weight[i] += w;
      }
  }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (weight[i] > 0) {
        data[2 * i] /= weight[i];
        data[2 * i + 1] /= weight[i];
        continue;
      }
      // The last few pixels no patch covers.
      const j = Math.min(y, (rows - 1) * STRIDE + PATCH - 1) * width + Math.min(x, (columns - 1) * STRIDE + PATCH - 1);
      data[2 * i] = data[2 * j];
      data[2 * i + 1] = data[2 * j + 1];
    }
  return { width, height, data };
}

/** Motion from the first to the second picture (of any unit), by their pyramids; both of one size. None where they are smaller than a patch. */
export function flowBetween(first: readonly Gray[], second: readonly Gray[]): Flow {
  const { width, height } = first[0];
  if (width < PATCH || height < PATCH) return { width, height, data: new Float32Array(2 * width * height) };
  let flow: Flow | null = null;
  for (let k = first.length - 1; k >= 0; k--) flow = level(first[k], second[k], flow);
  if (!flow) throw new RangeError('There is no picture to find motion in.');
  return flow;
}
