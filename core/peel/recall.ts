/**
 * A subject that was partly hidden comes back: carrying goes from edge to edge and would not find what comes out elsewhere. So the
 * subject is remembered as it was when all of it was in sight, gone along with its motion as a whole, and what looks now as it
 * did there may be kept again. (An appearance memory: what hides a part does not look like it.)
 */
import type { Box } from '../image/picture.ts';
import { applyTo, composed, type Homography, IDENTITY, inverseOf, moveBy } from '../math/homography.ts';
import { boxMean } from './box-mean.ts';
import { boxRound } from './crop.ts';
import type { LabPicture } from './lab.ts';

/** The subject on a frame where all of it was in sight. */
export interface Remembered {
  picture: LabPicture;
  mask: Uint8Array;
  /** From the frame that is carried from back to that one. */
  back: Homography;
}

/** Difference in L*a*b* (summed over the channels) up to which a place looks as it did, and the most that counts. */
const ALIKE = 9;
const WORST = 25;
/** Pull, in nats, of what looks just as it did. */
const PULL = 4;
/** Pixels, each way, of which one tells the motion as a whole; from the edge, those that are surely the subject's. */
const LATTICE = 3;
const INSIDE = 3;
/** Fewer tell nothing. */
const LEAST = 30;
/** So many pixels, the mean distance from the middle, tell turn and scale by half: what is small moves only. */
const STIFF = 120;
/** Pixels each way in which the subject in sight is looked for again where it was remembered. */
const REACH = 4;
/** Pixels from the usual motion from which on one does not count. */
const DIFFERS = 3;

/**
 * The subject's motion as a whole: a move with turn and scale by least squares, over what its motion explains and what does not differ
 * from most of it. None where too little tells.
 */
export function wholeMotion(from: Float32Array, edge: Float32Array, error: Float32Array, { left, top, width, height }: Box): Homography {
  const places: number[] = [];
  for (let y = 0; y < height; y += LATTICE)
    for (let x = 0; x < width; x += LATTICE) if (edge[y * width + x] > INSIDE && error[y * width + x] < ALIKE) places.push(y * width + x);
  if (places.length < LEAST) return IDENTITY;
  const middle = (moves: number[]) => Float64Array.from(moves).sort()[moves.length >> 1];
  const midX = middle(places.map((i) => from[2 * i] - (i % width) - left));
  const midY = middle(places.map((i) => from[2 * i + 1] - Math.floor(i / width) - top));
  // About the middle of what counts: so turn and scale do not hang together with the move.
  let [count, cx, cy, gx, gy] = [0, 0, 0, 0, 0];
  const like = places.filter((i) => {
    const [x, y] = [(i % width) + left, Math.floor(i / width) + top];
    if (Math.abs(from[2 * i] - x - midX) + Math.abs(from[2 * i + 1] - y - midY) > DIFFERS) return false;
    count++;
    cx += x;
    cy += y;
    gx += from[2 * i];
    gy += from[2 * i + 1];
    return true;
  });
  if (count < LEAST) return IDENTITY;
  [cx, cy, gx, gy] = [cx / count, cy / count, gx / count, gy / count];
  let [square, along, across] = [STIFF * STIFF * count, STIFF * STIFF * count, 0];
  for (const i of like) {
    const [x, y] = [(i % width) + left - cx, Math.floor(i / width) + top - cy];
    const [u, v] = [from[2 * i] - gx, from[2 * i + 1] - gy];
    square += x * x + y * y;
    along += x * u + y * v;
    across += x * v - y * u;
  }
  const [a, b] = [along / square, across / square];
  return [a, -b, gx - a * cx + b * cy, b, a, gy - b * cx - a * cy, 0, 0, 1];
}

/** Pixels from the box round a mask to the farthest place where the whole of the subject may be by now. */
export function farFrom(mask: Uint8Array, { mask: whole, back }: Remembered, width: number, height: number): number {
  const [now, then] = [boxRound(mask, width, height, 0), boxRound(whole, width, height, 0)];
  const since = inverseOf(back);
  if (!now || !then || !since) return 0;
  let far = 0;
  for (let corner = 0; corner < 4; corner++) {
    const [u, v] = applyTo(since, then.left + (corner & 1 ? then.width : 0), then.top + (corner & 2 ? then.height : 0));
    far = Math.max(far, now.left - u, u - now.left - now.width, now.top - v, v - now.top - now.height);
  }
  return Math.ceil(Math.min(far, Math.max(width, height)));
}

/** The pixel of the whole subject that lies at (x, y) by now; -1 where there is none, or it is less than `room` pixels from the border. */
function wholeAt({ picture: { width, height }, mask }: Remembered, back: Homography, x: number, y: number, room: number): number {
  const u = Math.round(back[0] * x + back[1] * y + back[2]);
  const v = Math.round(back[3] * x + back[4] * y + back[5]);
  if (u < room || v < room || u >= width - room || v >= height - room) return -1;
  return mask[v * width + u] ? v * width + u : -1;
}

/** The motion moved to where what is surely in sight looks most as it did. */
function settled(total: Homography, whole: Remembered, own: LabPicture, { left, top, width, height }: Box, edge: Float32Array): Homography {
  const pairs: number[] = [];
  for (let y = 0; y < height; y += LATTICE)
    for (let x = 0; x < width; x += LATTICE) {
      if (edge[y * width + x] <= INSIDE) continue;
      const j = wholeAt(whole, total, x + left, y + top, REACH);
      if (j >= 0) pairs.push(3 * (y * width + x), 3 * j);
    }
  if (pairs.length < 2 * LEAST) return total;
  let [best, moveX, moveY] = [Number.POSITIVE_INFINITY, 0, 0];
  for (let dy = -REACH; dy <= REACH; dy++)
    for (let dx = -REACH; dx <= REACH; dx++) {
      const shift = 3 * (dy * whole.picture.width + dx);
      let sum = 0;
      for (let k = 0; k < pairs.length; k += 2) sum += Math.min(WORST, difference(own.lab, pairs[k], whole.picture.lab, pairs[k + 1] + shift));
      // Of two that are alike the nearer one.
      sum *= 1 + 0.005 * (Math.abs(dx) + Math.abs(dy));
      if (sum < best) [best, moveX, moveY] = [sum, dx, dy];
    }
  return composed(moveBy(moveX, moveY), total);
}

function difference(one: Float32Array, i: number, other: Float32Array, j: number): number {
  return Math.abs(one[i] - other[j]) + Math.abs(one[i + 1] - other[j + 1]) + Math.abs(one[i + 2] - other[j + 2]);
}

/**
 * Lets the cut decide on what looks as it did, and draws that to be kept, in place. Gives the motion back to the frame on which it is
 * remembered, settled on what is in sight, so that small errors do not add up.
 * @param back the motion from the frame that is carried to back to the one before
 * @param edge distance from the expected edge in the box
 */
export function recall(
  whole: Remembered,
  back: Homography,
  own: LabPicture,
  box: Box,
  edge: Float32Array,
  undecided: Uint8Array,
  pull: Float32Array,
): Homography {
  const total = settled(composed(whole.back, back), whole, own, box, edge);
  const { left, top, width, height } = box;
  const n = width * height;
  const error = new Float32Array(n).fill(WORST);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (edge[i] > 0) continue;
      const j = wholeAt(whole, total, x + left, y + top, 0);
      if (j >= 0) error[i] = Math.min(WORST, difference(own.lab, 3 * i, whole.picture.lab, 3 * j));
    }
  const mean = boxMean(error, width, height, 2);
  for (let i = 0; i < n; i++) {
    if (edge[i] > 0 || mean[i] >= 2 * ALIKE) continue;
    undecided[i] = 1;
    // What looks neither alike nor unlike goes with what is round it.
    pull[i] = (mean[i] < ALIKE ? Math.max(pull[i], 0) : pull[i]) + PULL * (1 - mean[i] / ALIKE);
  }
  return total;
}
