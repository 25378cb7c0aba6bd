/**
 * Dense motion from one picture to another by inverse search: T. Kroeger, R. Timofte, D. Dai, L. Van Gool, "Fast Optical Flow
 * using Dense Inverse Search", ECCV 2016. Patches also try the motion of their neighbours (as in PatchMatch, Barnes et al.
 * 2009); there is no smoothing of the field.
 */
import type { Gray } from '../../image/picture.ts';
import { borrowParts } from '../../wasm/host.ts';

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
  const size = width * height;
  const count = columns * rows;
  const pictures = { first: size, second: size };
  const patches = { u: count, v: count, cost: count, scratch: 4 * PATCH * PATCH };
  const { kernels, part, at } = borrowParts({ ...pictures, ...patches, sums: 4 * size, motion: 2 * size });
  part.first.set(first.data);
  part.second.set(second.data);
  part.u.set(u);
  part.v.set(v);
  kernels.patchFlow(at.first, at.second, width, height, columns, rows, STRIDE, at.u, at.v, at.cost, at.scratch, ROUNDS);
  kernels.meanMotion(at.u, at.v, at.cost, columns, rows, STRIDE, at.sums, width, height, at.motion);
  return { width, height, data: part.motion.slice() };
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
