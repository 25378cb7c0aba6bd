/**
 * What the motions of the subject and of its surroundings say of a frame. What is known of either tells how it moves to the frames
 * beside, as one affine motion, and every pixel is drawn to the side whose motion explains it better: of a painted frame parts without
 * a stroke, also thin ones, move with the rest, and what is carried along by mistake stays with the surroundings. After J. Wang, E. Adelson, "Representing moving images with layers", IEEE Trans. Image
 * Processing 1994; the motions are fitted as in M. Black, P. Anandan, "The robust estimation of multiple motions", CVIU 1996.
 */
import type { Box } from '../image/picture.ts';
import { borrowKernels } from '../wasm/host.ts';
import { boxMean } from './box-mean.ts';
import { crop } from './crop.ts';
import type { Flow } from './flow.ts';
import type { LabPicture } from './lab.ts';
import { type Motion, missOf, UNEXPLAINED, WORST_ERROR } from './layers.ts';
import type { PreparedFrame } from './prepared-frame.ts';
import { DROP, KEEP } from './strokes.ts';

/** A frame beside the one that is looked at, and the motion to it. */
export interface Beside {
  fine: LabPicture;
  coarse: LabPicture;
  /** Where the coarse pixels of the frame that is looked at are on it. */
  flow: Flow;
  /** How sure that is of each, (0,1]. */
  sure: Float32Array;
}

/** Where a pixel of a picture is on another: x·xx + y·xy + x0, x·yx + y·yy + y0. */
export type Affine = readonly [xx: number, xy: number, x0: number, yx: number, yy: number, y0: number];

const ROUNDS = 8;
/** Samples of one side that are looked at, at most. */
const MOST_SAMPLES = 3000;
/** How much turning and stretching are held back: what is painted on a small place tells little of them. */
const RIDGE = 0.01;

/** A frame beside, by the motion to it: where going forth and back misses the place it began at, it is not to be trusted. */
export function besideOf({ fine, coarse }: PreparedFrame, motion: Motion): Beside {
  return { fine, coarse, flow: motion.forward, sure: missOf(motion).map((miss) => 1 / (1 + 8 * miss * miss)) };
}

/**
 * The affine motion, in coarse pixels, of what is known to be of one side; null where nothing is. Samples that move otherwise lose
 * their say.
 */
export function motionOfSide({ flow, sure }: Beside, known: Uint8Array, side: number): Affine | null {
  const { width, data } = flow;
  const all: number[] = [];
  for (let i = 0; i < known.length; i++) if (known[i] === side) all.push(i);
  if (all.length === 0) return null;
  const every = Math.ceil(all.length / MOST_SAMPLES);
  const samples = all.filter((_, k) => k % every === 0);
  let [cx, cy] = [0, 0];
  for (const i of samples) {
    cx += (i % width) / samples.length;
    cy += Math.floor(i / width) / samples.length;
  }
  // Rates are by the picture's width, so that the ridge means the same at any size.
  let u = [0, 0, 0];
  let v = [0, 0, 0];
  for (let round = 0; round < ROUNDS; round++) {
    const [normal, right, down] = [new Float64Array(6), [0, 0, 0], [0, 0, 0]];
    for (const i of samples) {
      const x = ((i % width) - cx) / width;
      const y = (Math.floor(i / width) - cy) / width;
      const offU = data[2 * i] - (u[0] + u[1] * x + u[2] * y);
      const offV = data[2 * i + 1] - (v[0] + v[1] * x + v[2] * y);
      const w = round === 0 ? sure[i] : sure[i] / (1 + 16 * (offU * offU + offV * offV));
      normal[0] += w;
      normal[1] += w * x;
      normal[2] += w * y;
      normal[3] += w * x * x;
      normal[4] += w * x * y;
      normal[5] += w * y * y;
      right[0] += w * data[2 * i];
      right[1] += w * x * data[2 * i];
      right[2] += w * y * data[2 * i];
      down[0] += w * data[2 * i + 1];
      down[1] += w * x * data[2 * i + 1];
      down[2] += w * y * data[2 * i + 1];
    }
    normal[3] += RIDGE * normal[0];
    normal[5] += RIDGE * normal[0];
    [u, v] = [solved(normal, right), solved(normal, down)];
  }
  return [1 + u[1] / width, u[2] / width, u[0] - (u[1] * cx + u[2] * cy) / width, v[1] / width, 1 + v[2] / width, v[0] - (v[1] * cx + v[2] * cy) / width];
}

/** Solves the symmetric system of three, given as 00 01 02 11 12 22, by Cramer's rule. */
function solved([a, b, c, d, e, f]: Float64Array, [p, q, r]: number[]): number[] {
  const [i00, i01, i02] = [d * f - e * e, c * e - b * f, b * e - c * d];
  const det = a * i00 + b * i01 + c * i02;
  const [i11, i12, i22] = [a * f - c * c, b * c - a * e, a * d - b * b];
  return [(i00 * p + i01 * q + i02 * r) / det, (i01 * p + i11 * q + i12 * r) / det, (i02 * p + i12 * q + i22 * r) / det];
}

/** The same motion between pictures that are `factor` times as large. */
export function enlarged([xx, xy, x0, yx, yy, y0]: Affine, factor: number): Affine {
  // The middle of a large pixel lies so far from that of the small one, in small pixels.
  const m = 0.5 / factor - 0.5;
  return [xx, xy, factor * (x0 + (xx - 1) * m + xy * m), yx, yy, factor * (y0 + yx * m + (yy - 1) * m)];
}

/** The motions of both sides to each frame beside. */
interface Sides {
  beside: Beside;
  keep: Affine;
  drop: Affine;
}

/** What each pixel of a frame is drawn to by motion, in nats: above 0 to be kept. */
export interface MotionSays {
  /** Of each coarse pixel. */
  coarse(): Float32Array;
  /** Of each pixel of a box. */
  fine(box: Box): Float32Array;
}

/** Radius of the square over which errors are averaged, at full size and in the coarse picture. */
const MEAN = 2;
const MEAN_COARSE = 1;

/**
 * What motion says, by how the known coarse pixels move; null where there is no frame beside or where one side is not known.
 * @param known KEEP or DROP where that is known of coarse pixels
 * @param weight nats for each unit of L*a*b* by which one motion explains a pixel better than the other
 */
export function motionSays(frame: PreparedFrame, beside: readonly Beside[], known: Uint8Array, weight: number): MotionSays | null {
  if (weight === 0) return null;
  const sides: Sides[] = [];
  for (const one of beside) {
    const keep = motionOfSide(one, known, KEEP);
    const drop = motionOfSide(one, known, DROP);
    if (keep && drop) sides.push({ beside: one, keep, drop });
  }
  if (sides.length === 0) return null;
  const { fine, coarse, factor } = frame;
  const whole = { left: 0, top: 0, width: coarse.width, height: coarse.height };
  return {
    coarse: () =>
      saysIn(
        coarse,
        whole,
        sides.map(({ beside, keep, drop }) => ({ picture: beside.coarse, keep, drop })),
        MEAN_COARSE,
        weight,
      ),
    fine: (box) =>
      saysIn(
        fine,
        box,
        sides.map(({ beside, keep, drop }) => ({ picture: beside.fine, keep: enlarged(keep, factor), drop: enlarged(drop, factor) })),
        MEAN,
        weight,
      ),
  };
}

interface Seen {
  picture: LabPicture;
  keep: Affine;
  drop: Affine;
}

/** For each pixel of the box how much better it is explained by the motion of the subject than by that of its surroundings, times `weight`. */
function saysIn({ width, lab }: LabPicture, box: Box, seen: readonly Seen[], radius: number, weight: number): Float32Array {
  const n = box.width * box.height;
  const parts = seen.map(({ picture, keep, drop }) => partOf(picture, box, [keep, drop]));
  // Layout, in floats: motion | errors of either side | own part | part of a frame beside; one more is read behind the last two.
  const atKeep = 8;
  const atDrop = atKeep + n;
  const atOwn = atDrop + n;
  const atOther = atOwn + 3 * n + 1;
  const { kernels, floats } = borrowKernels(atOther + 3 * Math.max(...parts.map((p) => p.width * p.height)) + 1);
  floats.fill(WORST_ERROR, atKeep, atOwn);
  crop(lab, width, box, 3, floats.subarray(atOwn, atOwn + 3 * n));
  seen.forEach(({ picture, keep, drop }, k) => {
    const part = parts[k];
    crop(picture.lab, picture.width, part, 3, floats.subarray(atOther, atOther + 3 * part.width * part.height));
    for (const [motion, at] of [
      [keep, atKeep],
      [drop, atDrop],
    ] as const) {
      floats.set(within(motion, box, part), 0);
      kernels.affineErrors(4 * atOwn, box.width, box.height, 4 * atOther, part.width, part.height, 0, UNEXPLAINED, 4 * at);
    }
  });
  const errors = [atKeep, atDrop].map((at) => floats.slice(at, at + n));
  const [keep, drop] = errors.map((e) => boxMean(e, box.width, box.height, radius));
  for (let i = 0; i < n; i++) keep[i] = weight * (drop[i] - keep[i]);
  return keep;
}

/** The part of a frame beside on which the pixels of the box are, by these motions. */
function partOf({ width, height }: LabPicture, box: Box, motions: readonly Affine[]): Box {
  let [x0, y0, x1, y1] = [width - 2, height - 2, 0, 0];
  for (const [xx, xy, dx, yx, yy, dy] of motions)
    for (const [x, y] of [
      [box.left, box.top],
      [box.left + box.width, box.top],
      [box.left, box.top + box.height],
      [box.left + box.width, box.top + box.height],
    ]) {
      const [u, v] = [xx * x + xy * y + dx, yx * x + yy * y + dy];
      [x0, x1] = [Math.min(x0, u), Math.max(x1, u)];
      [y0, y1] = [Math.min(y0, v), Math.max(y1, v)];
    }
  const left = Math.max(0, Math.floor(x0));
  const top = Math.max(0, Math.floor(y0));
  return { left, top, width: Math.max(2, Math.min(width, Math.ceil(x1) + 2) - left), height: Math.max(2, Math.min(height, Math.ceil(y1) + 2) - top) };
}

/** A motion from the pixels of a box to those of a part. */
const within = ([xx, xy, x0, yx, yy, y0]: Affine, box: Box, part: Box): number[] => [
  xx,
  xy,
  x0 + xx * box.left + xy * box.top - part.left,
  yx,
  yy,
  y0 + yx * box.left + yy * box.top - part.top,
];
