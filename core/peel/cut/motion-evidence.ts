/**
 * What the motions of the subject and of its surroundings say of a frame. What is known of either tells how it moves to the frames
 * beside, as one affine motion, and every pixel is drawn to the side whose motion explains it better: of a painted frame parts without
 * a stroke, also thin ones, move with the rest, and what is carried along by mistake stays with the surroundings. After J. Wang, E. Adelson, "Representing moving images with layers", IEEE Trans. Image
 * Processing 1994; the motions are fitted as in M. Black, P. Anandan, "The robust estimation of multiple motions", CVIU 1996.
 */
import type { Box } from '../../image/picture.ts';
import { applyTo, type Homography, multiply, scaling, translation } from '../../math/homography.ts';
import { solveSymmetric } from '../../math/solve.ts';
import { borrowParts } from '../../wasm/host.ts';
import { type Motion, sureOf, UNEXPLAINED, WORST_ERROR } from '../motion/layers.ts';
import type { Neighbour, PreparedFrame } from '../motion/prepared-frame.ts';
import { boxMean } from '../picture/box-mean.ts';
import { crop } from '../picture/crop.ts';
import type { LabPicture } from '../picture/lab.ts';
import { DROP, KEEP } from '../strokes/strokes.ts';

const ROUNDS = 8;
/** Samples of one side that are looked at, at most. */
const MOST_SAMPLES = 3000;
/** How much turning and stretching are held back: what is painted on a small place tells little of them. */
const RIDGE = 0.01;

/** A frame beside, by the motion to it: where going forth and back misses the place it began at, it is not to be trusted. */
export function neighbourOf({ fine, coarse }: PreparedFrame, motion: Motion): Neighbour {
  return { fine, coarse, flow: motion.forward, sure: motion.forwardBackwardError.map(sureOf) };
}

/**
 * Where the coarse pixels of one side are on the frame beside, by the affine motion of what is known of it; null where nothing is.
 * Samples that move otherwise lose their say.
 */
export function motionOfSide({ flow, sure }: Neighbour, known: Uint8Array, side: number): Homography | null {
  const { width, data } = flow;
  const own = new Int32Array(known.length);
  let count = 0;
  for (let i = 0; i < known.length; i++) if (known[i] === side) own[count++] = i;
  if (count === 0) return null;
  const every = Math.ceil(count / MOST_SAMPLES);
  const samples = new Int32Array(Math.ceil(count / every));
  for (let k = 0; k < samples.length; k++) samples[k] = own[k * every];
  let [cx, cy] = [0, 0];
  for (let k = 0; k < samples.length; k++) {
    const i = samples[k];
    cx += (i % width) / samples.length;
    cy += Math.floor(i / width) / samples.length;
  }
  const places = new Float64Array(2 * samples.length);
  for (let k = 0; k < samples.length; k++) {
    places[2 * k] = ((samples[k] % width) - cx) / width;
    places[2 * k + 1] = (Math.floor(samples[k] / width) - cy) / width;
  }
  // Motion in x and in y, each at the middle and by x and y. Rates are by the picture's width, so that the ridge means the same at any size.
  let u = new Float64Array(3);
  let v = new Float64Array(3);
  for (let round = 0; round < ROUNDS; round++) {
    const [normal, right, down] = [new Float64Array(9), new Float64Array(3), new Float64Array(3)];
    for (let k = 0; k < samples.length; k++) {
      const i = samples[k];
      const [x, y] = [places[2 * k], places[2 * k + 1]];
      const offU = data[2 * i] - (u[0] + u[1] * x + u[2] * y);
      const offV = data[2 * i + 1] - (v[0] + v[1] * x + v[2] * y);
      const w = round === 0 ? sure[i] : sure[i] / (1 + 16 * (offU * offU + offV * offV));
      normal[0] += w;
      normal[3] += w * x;
      normal[4] += w * x * x;
      normal[6] += w * y;
      normal[7] += w * x * y;
      normal[8] += w * y * y;
      right[0] += w * data[2 * i];
      right[1] += w * x * data[2 * i];
      right[2] += w * y * data[2 * i];
      down[0] += w * data[2 * i + 1];
      down[1] += w * x * data[2 * i + 1];
      down[2] += w * y * data[2 * i + 1];
    }
    const total = normal[0];
    for (const sums of [normal, right, down]) for (let k = 0; k < sums.length; k++) sums[k] /= total;
    normal[4] += RIDGE;
    normal[8] += RIDGE;
    if (!solveSymmetric(normal.slice(), right, 3) || !solveSymmetric(normal, down, 3)) return null;
    [u, v] = [right, down];
  }
  const [ux, uy, vx, vy] = [u[1] / width, u[2] / width, v[1] / width, v[2] / width];
  return [1 + ux, uy, u[0] - ux * cx - uy * cy, vx, 1 + vy, v[0] - vx * cx - vy * cy, 0, 0, 1];
}

/** The same motion between pictures that are `factor` times as large. */
export function enlarged(motion: Homography, factor: number): Homography {
  // From the middle of a small pixel to that of the large one, in small pixels.
  const middle = factor / 2 - 0.5;
  const larger = multiply(translation(middle, middle), scaling(factor, factor));
  const smaller = multiply(scaling(1 / factor, 1 / factor), translation(-middle, -middle));
  return multiply(larger, multiply(motion, smaller));
}

/** What each pixel of a frame is drawn to, in nats: above 0 to be kept. */
export interface Pull {
  /** Of each coarse pixel. */
  coarse(): Float32Array;
  /** Of each pixel of a box. */
  fine(box: Box): Float32Array;
}

/** What motion says, and what that is of the known coarse pixels of either side: the middle one of all. */
export interface MotionPull extends Pull {
  ofKnown(): { keep: number; drop: number };
}

/** Radius of the square over which errors are averaged, at full size and in the coarse picture. */
const MEAN = 2;
const MEAN_COARSE = 1;

/**
 * What motion says, by how the known coarse pixels move; null where there is no frame beside or where one side is not known.
 * @param known KEEP or DROP where that is known of coarse pixels
 * @param weight nats for each unit of L*a*b* by which one motion explains a pixel better than the other
 */
export function motionEvidence(frame: PreparedFrame, beside: readonly Neighbour[], known: Uint8Array, weight: number): MotionPull | null {
  if (weight === 0) return null;
  const sides: { one: Neighbour; keep: Homography; drop: Homography }[] = [];
  for (const one of beside) {
    const keep = motionOfSide(one, known, KEEP);
    const drop = motionOfSide(one, known, DROP);
    if (keep && drop) sides.push({ one, keep, drop });
  }
  if (sides.length === 0) return null;
  const { fine, coarse, factor } = frame;
  const whole = { left: 0, top: 0, width: coarse.width, height: coarse.height };
  const seen = (size: 'fine' | 'coarse', by: number): Seen[] =>
    sides.map(({ one, keep, drop }) => ({ picture: one[size], keep: enlarged(keep, by), drop: enlarged(drop, by) }));
  const says = saysIn(coarse, whole, seen('coarse', 1), MEAN_COARSE, weight);
  const middleOf = (side: number): number => {
    const own = says.filter((_, i) => known[i] === side).sort();
    return own[own.length >> 1];
  };
  return {
    ofKnown: () => ({ keep: middleOf(KEEP), drop: middleOf(DROP) }),
    coarse: () => says,
    fine: (box) => saysIn(fine, box, seen('fine', factor), MEAN, weight),
  };
}

/** A picture of a frame beside, and where the pixels of either side are on it. */
interface Seen {
  picture: LabPicture;
  keep: Homography;
  drop: Homography;
}

/** For each pixel of the box how much better it is explained by the motion of the subject than by that of its surroundings, times `weight`. */
function saysIn({ width, lab }: LabPicture, box: Box, seen: readonly Seen[], radius: number, weight: number): Float32Array {
  const n = box.width * box.height;
  const parts = seen.map(({ picture, keep, drop }) => partOf(picture, box, [keep, drop]));
  // One more is read behind the last pixel of either picture.
  const other = 3 * Math.max(...parts.map((p) => p.width * p.height)) + 4;
  const { kernels, part, at } = borrowParts({ motion: 6, keep: n, drop: n, own: 3 * n + 4, other });
  part.keep.fill(WORST_ERROR);
  part.drop.fill(WORST_ERROR);
  crop(lab, width, box, 3, part.own);
  seen.forEach(({ picture, ...motions }, k) => {
    const beside = parts[k];
    crop(picture.lab, picture.width, beside, 3, part.other);
    for (const side of ['keep', 'drop'] as const) {
      const within = multiply(translation(-beside.left, -beside.top), multiply(motions[side], translation(box.left, box.top)));
      part.motion.set(within.slice(0, 6));
      kernels.affineErrors(at.own, box.width, box.height, at.other, beside.width, beside.height, at.motion, UNEXPLAINED, at[side]);
    }
  });
  const [keep, drop] = [part.keep.slice(), part.drop.slice()].map((e) => boxMean(e, box.width, box.height, radius));
  for (let i = 0; i < n; i++) keep[i] = weight * (drop[i] - keep[i]);
  return keep;
}

/** The part of a frame beside on which the pixels of the box are, by these motions. */
function partOf({ width, height }: LabPicture, { left, top, width: columns, height: rows }: Box, motions: readonly Homography[]): Box {
  let [x0, y0, x1, y1] = [width - 2, height - 2, 0, 0];
  for (const motion of motions)
    for (const x of [left, left + columns])
      for (const y of [top, top + rows]) {
        const [u, v] = applyTo(motion, x, y);
        [x0, x1] = [Math.min(x0, u), Math.max(x1, u)];
        [y0, y1] = [Math.min(y0, v), Math.max(y1, v)];
      }
  const [x, y] = [Math.max(0, Math.floor(x0)), Math.max(0, Math.floor(y0))];
  return { left: x, top: y, width: Math.max(2, Math.min(width, Math.ceil(x1) + 2) - x), height: Math.max(2, Math.min(height, Math.ceil(y1) + 2) - y) };
}
