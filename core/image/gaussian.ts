/** Gaussian blur: a true sampled kernel, cut at 3 sigma, edges repeated; large ones of pictures in a room by way of smaller pictures. */
import { clamp } from '../math/clamp.ts';
import { borrowKernels } from '../wasm/host.ts';
import { type Room, roomOf } from '../wasm/room.ts';

/** Weights of a gaussian of `sigma` pixels, from -radius to radius (three sigma where nothing is said), sum 1. */
export function gaussianWeights(sigma: number, radius = Math.max(0, Math.ceil(sigma * 3))): Float32Array {
  const weights = new Float32Array(2 * radius + 1);
  let sum = 0;
  for (let i = -radius; i <= radius; i++) {
    const w = sigma > 0 ? Math.exp(-(i * i) / (2 * sigma * sigma)) : 1;
    weights[i + radius] = w;
    sum += w;
  }
  for (let i = 0; i < weights.length; i++) weights[i] /= sum;
  return weights;
}

/** From this sigma on a picture is blurred at half its size: what the halving folds back is then under 1/512 of the worst of pictures. */
const HALVED_FROM = 2.5;
/** Variance, in pixels of the larger picture, that halving and doubling again add by their own binomials. */
const HALVING = 2;
/** Variance under which a sampled Gaussian is none. */
const LEAST_VARIANCE = 0.5;

/** How often a direction is halved, and the sigma that is left to be done there, in pixels of the smallest. */
function halvings(sigma: number): { times: number; left: number } {
  let times = 0;
  let variance = sigma * sigma;
  while (sigma / 2 ** times >= HALVED_FROM && variance - HALVING * 4 ** times >= LEAST_VARIANCE * 4 ** (times + 1)) variance -= HALVING * 4 ** times++;
  return { times, left: Math.sqrt(variance) / 2 ** times };
}

/**
 * Blurs a picture of four channels in place, in the room in which it lies: halved as often as nothing is lost, blurred there, and doubled
 * again (P. Burt and E. Adelson, "The Laplacian pyramid as a compact image code", 1983; the variances of its kernels are taken off those
 * of the blur). False where there is no room for it.
 */
function blurHalved(room: Room, data: Float32Array, width: number, height: number, sigmaX: number, sigmaY: number): boolean {
  const [x, y] = [halvings(sigmaX), halvings(sigmaY)];
  const steps = Math.max(x.times, y.times);
  if (steps === 0) return false;
  const mark = room.mark();
  const line = room.take(4 * (width + 16))?.byteOffset;
  const levels: { data: Float32Array; width: number; height: number }[] = [{ data, width, height }];
  for (let k = 0; k < steps; k++) {
    const { width: w, height: h } = levels[k];
    const [nw, nh] = [k < x.times ? ((w - 1) >> 1) + 5 : w, k < y.times ? ((h - 1) >> 1) + 5 : h];
    const smaller = room.take(4 * nw * nh);
    if (!smaller || line === undefined) {
      room.release(mark);
      return false;
    }
    room.kernels.reducePicture(levels[k].data.byteOffset, w, h, smaller.byteOffset, nw, nh, line, k < x.times, k < y.times);
    levels.push({ data: smaller, width: nw, height: nh });
  }
  const least = levels[steps];
  gaussianBlur(least.data, least.width, least.height, 4, x.left, y.left);
  for (let k = steps - 1; k >= 0; k--) {
    const [small, large] = [levels[k + 1], levels[k]];
    room.kernels.expandPicture(
      small.data.byteOffset,
      small.width,
      small.height,
      large.data.byteOffset,
      large.width,
      large.height,
      line as number,
      k < x.times,
      k < y.times,
    );
  }
  room.release(mark);
  return true;
}

/** Columns that lie together between the passes; as in the kernels. */
const STRIP = 64;

/**
 * Blurs in place. `data` is `width`·`height`·`channels` floats, interleaved; sigmas in pixels, 0 leaves that direction alone.
 */
export function gaussianBlur(data: Float32Array, width: number, height: number, channels: 1 | 4, sigmaX: number, sigmaY: number): void {
  const room = channels === 4 ? roomOf(data) : null;
  if (room && blurHalved(room, data, width, height, sigmaX, sigmaY)) return;
  const across = gaussianWeights(sigmaX);
  const down = gaussianWeights(sigmaY);
  if (across.length === 1 && down.length === 1) return;
  const radius = across.length >> 1;
  const radiusDown = down.length >> 1;
  const count = width * channels;
  const pad = radius * channels;
  const stride = count + 2 * pad + STRIP;
  const stripRows = height + 2 * radiusDown;
  // Layout: weights | a few padded rows | all rows in strips | the result. Few rows at a time keep the padding near.
  const some = clamp(Math.floor(16384 / stride), 1, height);
  const atDown = across.length;
  const atRows = atDown + down.length;
  const atStrips = atRows + some * stride;
  const atResult = atStrips + Math.ceil(count / STRIP) * STRIP * stripRows;
  const { kernels, floats } = borrowKernels(atResult + count * height + STRIP);
  floats.set(across, 0);
  floats.set(down, atDown);
  for (let y0 = 0; y0 < height; y0 += some) {
    const rows = Math.min(some, height - y0);
    for (let r = 0; r < rows; r++) {
      const from = (y0 + r) * count;
      const to = atRows + r * stride;
      floats.set(data.subarray(from, from + count), to + pad);
      for (let i = 0; i < pad; i++) {
        floats[to + i] = data[from + (i % channels)];
        floats[to + pad + count + i] = data[from + count - channels + (i % channels)];
      }
    }
    kernels.alongRows(atRows * 4, stride, (atStrips + (radiusDown + y0) * STRIP) * 4, stripRows, count, rows, channels, 0, radius);
  }
  kernels.downColumns(atStrips * 4, atResult * 4, count, height, atDown * 4, radiusDown);
  data.set(floats.subarray(atResult, atResult + count * height));
}
