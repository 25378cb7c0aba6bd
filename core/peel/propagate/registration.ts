/**
 * The painted frame laid onto a later one. Carrying from frame to frame drifts, and what was hidden comes out where no edge is; so the
 * painted frame is registered to each frame anew (as in the direct alignment of S. Baker, I. Matthews, "Lucas-Kanade 20 Years On", IJCV
 * 2004, with the biweight of Beaton and Tukey, 1974, against what hides a part), first as a whole, then along the edge. Where it looks as
 * the frame does, its mask says where the subject is.
 */
import type { Box, Size } from '../../image/picture.ts';
import { clamp } from '../../math/clamp.ts';
import { type Homography, inverseOf } from '../../math/homography.ts';
import { solveSymmetric } from '../../math/solve.ts';
import { borrowParts } from '../../wasm/host.ts';
import { enlarged } from '../cut/motion-evidence.ts';
import { FAR, layerError, maskAtSources } from '../motion/layers.ts';
import type { PreparedFrame } from '../motion/prepared-frame.ts';
import { boxMean } from '../picture/box-mean.ts';
import { boxRound } from '../picture/crop.ts';
import type { LabPicture } from '../picture/lab.ts';
import { maskDistance } from '../picture/signed-distance.ts';
import { settleSources } from './edge-motion.ts';

/** The painted frame, as it is laid onto others. */
export interface Painted {
  frame: Pick<PreparedFrame, 'fine' | 'coarse'>;
  mask: Uint8Array;
  /** From the frame that is carried from back to it. */
  back: Homography;
}

export interface Laid {
  /** From the frame it lies on back to the painted one. */
  back: Homography;
  /** Its mask in the box. */
  mask: Uint8Array;
  /** How much the frame differs from it, in L*a*b*, averaged over a few pixels. */
  error: Float32Array;
}

/** Places that tell how it lies, about, at most; they are counted on one of so many pixels each way. */
const PLACES = 1500;
const COUNTED = 4;
/** Pixels from the expected edge from which on one is taken to be the subject's. */
const INSIDE = 1;
/** Fewer tell nothing. */
const LEAST = 30;
const COARSE_ROUNDS = 12;
const ROUNDS = 8;
/** The difference from which on a pixel does not count: so many times the middle one, and at least so much. */
const TIMES_MIDDLE = 3;
const LEAST_WORST = 6;
/** A move of so many pixels and a turn or stretch that moves a place that far off by as much count alike. */
const LEVER = 100;
/** Steps shorter than this, pixels, change nothing. */
const SMALL = 0.03;
/** What the grain could say holds each part of a step back. */
const RIDGE = 5;
/** It may have become so many times larger or smaller; what says more has come off. */
const MOST_GROWTH = 8;

/** Places of a picture that tell how another lies on it, and their colours. */
interface Samples {
  count: number;
  /** x and y of each. */
  places: Float32Array;
  lab: Float32Array;
}

/** Of a picture that lies in its frame from (left, top) on, so many of the places that are `inside`, one a square. */
function samplesOf({ width, height, lab }: LabPicture, left: number, top: number, inside: (x: number, y: number) => boolean): Samples {
  const placesBy = (every: number): number[] => {
    const found: number[] = [];
    for (let y = 0; y < height; y += every) for (let x = 0; x < width; x += every) if (inside(x, y)) found.push(y * width + x);
    return found;
  };
  // How many there are, about, tells how far apart they may be.
  const chosen = placesBy(Math.max(1, Math.ceil(COUNTED * Math.sqrt(placesBy(COUNTED).length / PLACES))));
  const places = new Float32Array(2 * chosen.length);
  const colours = new Float32Array(3 * chosen.length);
  chosen.forEach((i, k) => {
    places[2 * k] = (i % width) + left;
    places[2 * k + 1] = Math.floor(i / width) + top;
    for (let c = 0; c < 3; c++) colours[3 * k + c] = lab[3 * i + c];
  });
  return { count: chosen.length, places, lab: colours };
}

/**
 * The motion, from the places of the samples to `picture`, that makes them most alike: `start` and a similarity (move, turn, scale).
 * @param own whether a place of `picture` is the subject's
 * @param lever see {@link LEVER}, in pixels of `picture`
 */
function alignedWith(
  start: Homography,
  { width, height, lab }: LabPicture,
  own: (u: number, v: number) => boolean,
  { count, places, lab: colours }: Samples,
  rounds: number,
  lever: number,
): Homography {
  let [cx, cy] = [0, 0];
  for (let k = 0; k < count; k++) {
    cx += places[2 * k] / count;
    cy += places[2 * k + 1] / count;
  }
  const sums = new Float32Array(count);
  // Of each sample and channel: the difference, and how the picture rises along x and y.
  const rows = new Float32Array(9 * count);
  const [normal, step, part] = [new Float64Array(16), new Float64Array(4), new Float64Array(4)];
  let motion = [...start];
  for (let round = 0; round < rounds; round++) {
    const differences = new Float32Array(count);
    let seen = 0;
    for (let k = 0; k < count; k++) {
      sums[k] = -1;
      const x = places[2 * k];
      const y = places[2 * k + 1];
      const u = motion[0] * x + motion[1] * y + motion[2];
      const v = motion[3] * x + motion[4] * y + motion[5];
      const left = Math.floor(u);
      const top = Math.floor(v);
      if (!(left >= 0 && top >= 0 && left < width - 1 && top < height - 1) || !own(u, v)) continue;
      const fx = u - left;
      const fy = v - top;
      let at = 3 * (top * width + left);
      let sum = 0;
      for (let c = 0; c < 3; c++, at++) {
        const a = lab[at];
        const b = lab[at + 3];
        const below = lab[at + 3 * width];
        const right = lab[at + 3 * width + 3];
        const row = 9 * k + 3 * c;
        rows[row] = colours[3 * k + c] - (a * (1 - fx) + b * fx) * (1 - fy) - (below * (1 - fx) + right * fx) * fy;
        rows[row + 1] = (b - a) * (1 - fy) + (right - below) * fy;
        rows[row + 2] = (below - a) * (1 - fx) + (right - b) * fx;
        sum += Math.abs(rows[row]);
      }
      sums[k] = sum;
      differences[seen++] = sum;
    }
    if (seen < LEAST) return motion;
    const middle = differences.subarray(0, seen).sort()[seen >> 1];
    const worst = Math.max(LEAST_WORST, TIMES_MIDDLE * middle);
    normal.fill(0);
    step.fill(0);
    for (let k = 0; k < count; k++) {
      if (sums[k] < 0 || sums[k] >= worst) continue;
      const weight = (1 - (sums[k] / worst) ** 2) ** 2;
      const x = (places[2 * k] - cx) / lever;
      const y = (places[2 * k + 1] - cy) / lever;
      for (let row = 9 * k; row < 9 * k + 9; row += 3) {
        const off = weight * rows[row];
        part[2] = rows[row + 1];
        part[3] = rows[row + 2];
        part[0] = part[2] * x + part[3] * y;
        part[1] = part[3] * x - part[2] * y;
        for (let i = 0; i < 4; i++) {
          step[i] += part[i] * off;
          for (let j = 0; j <= i; j++) normal[4 * i + j] += weight * part[i] * part[j];
        }
      }
    }
    for (let i = 0; i < 4; i++) normal[5 * i] += RIDGE;
    if (!solveSymmetric(normal, step, 4)) return motion;
    const [a, b] = [step[0] / lever, step[1] / lever];
    const next = [motion[0] + a, motion[1] - b, motion[2] + step[2] - a * cx + b * cy, motion[3] + b, motion[4] + a, motion[5] + step[3] - b * cx - a * cy];
    const growth = Math.sqrt(Math.abs(next[0] * next[4] - next[1] * next[3]));
    if (!(growth > 1 / MOST_GROWTH && growth < MOST_GROWTH)) return motion;
    motion = [...next, 0, 0, 1];
    if (step.every((s) => Math.abs(s) < SMALL)) break;
  }
  return motion;
}

/** Pixels beyond the painted subject of which the picture is wanted too. */
const RIM = 4;

/** What a painted frame is laid onto. */
export interface Ground {
  next: PreparedFrame;
  /** The box of the next frame. */
  box: Box;
  own: LabPicture;
  /** Signed distance from the edge that is expected there. */
  edge: Float32Array;
}

/** Lays the painted frame so that what is expected to be the subject's looks most as it did there, from `start` on. */
function registered({ frame, mask }: Omit<Painted, 'back'>, start: Homography, { next, own, box, edge }: Ground): Homography {
  const { width, height } = frame.fine;
  const { factor } = next;
  const inside = (x: number, y: number) => x >= 0 && y >= 0 && x < box.width && y < box.height && edge[y * box.width + x] > INSIDE;
  const painted = (u: number, v: number) => u >= 0 && v >= 0 && u < width && v < height && mask[v * width + u] === 1;
  const middle = factor / 2 - 0.5;
  const full = (at: number) => Math.round(at * factor + middle);
  const coarse = samplesOf(next.coarse, 0, 0, (x, y) => inside(full(x) - box.left, full(y) - box.top));
  const rough = alignedWith(enlarged(start, 1 / factor), frame.coarse, (u, v) => painted(full(u), full(v)), coarse, COARSE_ROUNDS, LEVER / factor);
  const fine = samplesOf(own, box.left, box.top, inside);
  return alignedWith(enlarged(rough, factor), frame.fine, (u, v) => painted(Math.round(u), Math.round(v)), fine, ROUNDS, LEVER);
}

/** The painted frame's picture and mask as they lie in the box; of the picture what is near the mask. */
function moved(
  { frame: { fine }, mask }: Omit<Painted, 'back'>,
  back: Homography,
  { left, top, width, height }: Box,
): { picture: LabPicture; mask: Uint8Array } {
  const n = width * height;
  const near = boxRound(mask, fine.width, fine.height, RIM) ?? { left: 0, top: 0, width: 1, height: 1 };
  const rows = near.height * fine.width;
  const first = near.top * fine.width;
  const { kernels, part, at } = borrowParts({ motion: 6, from: 3 * rows + 4, mask: Math.ceil(rows / 4), lab: 3 * n + 4, own: Math.ceil(n / 4) });
  part.motion.set([back[0], back[1], back[0] * left + back[1] * top + back[2], back[3], back[4], back[3] * left + back[4] * top + back[5] - near.top]);
  part.from.set(fine.lab.subarray(3 * first, 3 * (first + rows)));
  const bytes = new Uint8Array(part.mask.buffer);
  bytes.set(mask.subarray(first, first + rows), at.mask);
  kernels.affineLook(at.from, at.mask, fine.width, near.height, at.motion, width, height, at.lab, at.own);
  return {
    picture: { width, height, lab: part.lab.slice(0, 3 * n), cell: new Uint16Array(0) },
    mask: bytes.slice(at.own, at.own + n),
  };
}

/** The painted frame where it lies on the next one as a whole: its picture and mask in the box. See {@link laidOnto}. */
export function laidWhole(painted: Omit<Painted, 'back'>, start: Homography, ground: Ground) {
  const back = registered(painted, start, ground);
  return { back, ...moved(painted, back, ground.box) };
}

/**
 * Lays the painted frame onto the next one, as a whole and then along the edge.
 * @param start from the next frame back to the painted one, about
 */
export function laidOnto(painted: Omit<Painted, 'back'>, start: Homography, ground: Ground): Laid {
  const { next, own, box } = ground;
  const { back, picture, mask } = laidWhole(painted, start, ground);
  const whole = { left: 0, top: 0, width: box.width, height: box.height };
  const from = new Float32Array(2 * mask.length);
  for (let y = 0, i = 0; y < box.height; y++)
    for (let x = 0; x < box.width; x++, i += 2) {
      from[i] = x;
      from[i + 1] = y;
    }
  if (boxRound(mask, box.width, box.height, 0))
    settleSources(
      from,
      { before: picture, own },
      { distance: maskDistance(mask, box.width, box.height, FAR), box: whole },
      { layer: STILL, grid: ONE, factor: next.factor },
    );
  return { back, mask: maskAtSources(from, mask, picture, whole), error: layerError(own, picture, mask, from, 1) };
}

/** Pixels each way of which one tells where the painted subject has gone. */
const EVERY = 4;

/** The box, within the picture, round where the painted subject would be by now, and `room` pixels more; null where that is outside. */
export function boxRoundPainted({ frame: { fine }, mask, back }: Painted, room: number): Box | null {
  const { width, height } = fine;
  const then = boxRound(mask, width, height, 0);
  const since = inverseOf(back);
  if (!then || !since) return null;
  let [left, top, right, bottom] = [width, height, 0, 0];
  for (let y = then.top; y < then.top + then.height; y += EVERY)
    for (let x = then.left; x < then.left + then.width; x += EVERY) {
      if (!mask[y * width + x]) continue;
      const u = since[0] * x + since[1] * y + since[2];
      const v = since[3] * x + since[4] * y + since[5];
      left = Math.min(left, u - room);
      right = Math.max(right, u + room);
      top = Math.min(top, v - room);
      bottom = Math.max(bottom, v + room);
    }
  [left, top] = [Math.max(0, Math.floor(left)), Math.max(0, Math.floor(top))];
  const box = { left, top, width: Math.min(width, Math.ceil(right)) - left, height: Math.min(height, Math.ceil(bottom)) - top };
  return box.width > 0 && box.height > 0 ? box : null;
}

/** No motion, anywhere. */
const STILL = new Float32Array(2);
const ONE = { width: 1, height: 1 };

/** Pixels round a place within which what is laid, and what was carried, are compared with the frame. */
const ROUND = 6;
/** What is laid is taken up to such a difference, in L*a*b*, where it is not worse, by more than so much, than what was carried. */
const ALIKE = 14;
const WORSE = 2;
/** So much more alike than the surroundings would be it is fully believed. */
const TOLD = 3;
/** Share of pixels without which there is no mean. */
const ANY = 0.02;

/** Sums of `values`, where the mask is set, over squares of two by two. */
function sumsOfFour(mask: Uint8Array, values: ArrayLike<number>, { width, height }: Size, half: Size): Float32Array {
  const out = new Float32Array(half.width * half.height);
  for (let y = 0, i = 0; y < height; y++) {
    const row = (y >> 1) * half.width;
    for (let x = 0; x < width; x++, i++) if (mask[i]) out[row + (x >> 1)] += values[i];
  }
  return out;
}

/** Means of each of `values` over the pixels round a place that are in the mask, of squares of two by two; infinite where hardly any is. */
function meansWithin(mask: Uint8Array, size: Size, half: Size, ...values: Float32Array[]): Float32Array[] {
  const shares = boxMean(sumsOfFour(mask, mask, size, half), half.width, half.height, ROUND / 2);
  return values.map((one) => {
    const means = boxMean(sumsOfFour(mask, one, size, half), half.width, half.height, ROUND / 2);
    for (let i = 0; i < means.length; i++) means[i] = shares[i] > 4 * ANY ? means[i] / shares[i] : Number.POSITIVE_INFINITY;
    return means;
  });
}

/**
 * Puts what is laid in place of what was carried (`expected`, and its `error.keep`, both in place) where it is believed. Gives how far
 * it is at each pixel, [0,1]: by how much better it explains the frame round there than the surroundings do.
 */
export function believe(laid: Laid, expected: Uint8Array, error: { keep: Float32Array; drop: Float32Array }, size: Size): Float32Array {
  const half = { width: Math.ceil(size.width / 2), height: Math.ceil(size.height / 2) };
  const [own, surroundings] = meansWithin(laid.mask, size, half, laid.error, error.drop);
  const [carried] = meansWithin(expected, size, half, error.keep);
  const belief = new Float32Array(expected.length);
  for (let y = 0, i = 0; y < size.height; y++)
    for (let x = 0; x < size.width; x++, i++) {
      const at = (y >> 1) * half.width + (x >> 1);
      if (!(own[at] < ALIKE && own[at] < carried[at] + WORSE)) continue;
      belief[i] = clamp((surroundings[at] - own[at]) / TOLD, 0, 1);
      expected[i] = laid.mask[i];
      if (laid.mask[i]) error.keep[i] = Math.min(error.keep[i], laid.error[i]);
    }
  return belief;
}
