/**
 * Alpha by unmixing: how far a pixel's colour lies on the way from the mean colour of the surroundings near it to that of the subject
 * (the compositing equation solved for alpha, as in Y. Chuang, B. Curless, D. Salesin, R. Szeliski, "A Bayesian Approach to Digital
 * Matting", CVPR 2001, with one colour a side). It counts as far as the two colours are further apart than each side varies.
 */
import type { Box, Size } from '../../image/picture.ts';
import { clamp } from '../../math/clamp.ts';
import { borrowParts } from '../../wasm/host.ts';
import { boxMean } from '../picture/box-mean.ts';
import { boxRound, cropLab, cropMask } from '../picture/crop.ts';
import { HALF, halved, halveInto, halvingParts } from '../picture/halved.ts';
import type { LabPicture } from '../picture/lab.ts';
import { maskDistance } from '../picture/signed-distance.ts';

/** Share of a square that must be a side's. */
const LEAST = 1e-3;

interface Reach {
  /** Pixels from the edge beyond which all is one side's: within the subject, and outside. */
  inside: number;
  outside: number;
  /** Radius of the squares in which a side's colours are taken. */
  radius: number;
  /** Share of the square that must be the subject's. */
  least: number;
  /** How much each side varies, against how far they are apart: up to `sure` it counts wholly, from `unsure` on not at all. */
  sure: number;
  unsure: number;
}

/** On every edge: close to it, and only where the colours tell for certain. */
const CRISP: Reach = { inside: 3, outside: 4, radius: 10, least: 0.15, sure: 0.05, unsure: 0.1 };
/** Where too little of the subject is that close, as in strands, which are translucent themselves: from deeper within it and farther off. */
const THIN: Reach = { ...CRISP, inside: 5, radius: 26, least: LEAST };
/** Where the artist says that the edge is soft: hair, fur, blur. */
const SOFT: Reach = { inside: 5, outside: 20, radius: 26, least: LEAST, sure: 0.2, unsure: 0.4 };
/** Pixels over which the soft zone goes over into what is round it. */
const BLEND = 3;

/**
 * The two sides of an edge round each place: mean colours, four floats each, the fourth the share of the square, in the kernels' memory and
 * to be read at once; and how much they vary, summed over the channels.
 */
interface Sides {
  subject: Float32Array;
  ground: Float32Array;
  varies: Float32Array;
}

/** @param distance from the edge, at half the size of the picture */
function sidesOf(picture: LabPicture, distance: Float32Array, reach: Reach, { width, height }: Size): Sides {
  const n = distance.length;
  const four = { colours: 4 * n, subject: 4 * n, ground: 4 * n, rows: 4 * n, sums: 4 * width + 16 };
  const memory = borrowParts({ ...four, distance: n, squares: n, ...halvingParts(picture.width * picture.height) });
  const { kernels, part, at } = memory;
  halveInto(memory, at.colours, picture.lab, picture);
  part.distance.set(distance);
  const radius = Math.round(reach.radius / HALF);
  const varies = new Float32Array(n);
  const add = (side: 1 | -1, beyond: number, means: Float32Array, to: number) => {
    kernels.sideMeans(at.colours, at.distance, side, beyond, at.rows, at.sums, to, width, height, radius);
    const { squares, colours } = part;
    for (let i = 0; i < n; i++) squares[i] = side * distance[i] > beyond ? colours[4 * i] ** 2 + colours[4 * i + 1] ** 2 + colours[4 * i + 2] ** 2 : 0;
    kernels.boxMean(at.squares, at.rows, at.squares, at.sums, width, height, radius);
    for (let i = 0; i < n; i++) {
      const mean = means[4 * i] ** 2 + means[4 * i + 1] ** 2 + means[4 * i + 2] ** 2;
      varies[i] += Math.max(0, squares[i] / Math.max(LEAST, means[4 * i + 3]) - mean);
    }
  };
  add(1, reach.inside, part.subject, at.subject);
  add(-1, reach.outside, part.ground, at.ground);
  return { subject: part.subject, ground: part.ground, varies };
}

/**
 * Unmixes alpha in a box, in place, where `share` (or all where null) says how much it counts, and where it is not told yet (1 in `told`,
 * which goes up). Gives how many pixels cannot be told for want of the subject.
 */
function unmixIn(alpha: Float32Array, mask: Uint8Array, picture: LabPicture, box: Box, reach: Reach, share: Float32Array | null, told: Uint8Array): number {
  const stride = picture.width;
  const own = cropLab(picture, box);
  const { lab, width, height } = own;
  const small = { width: Math.floor(width / HALF), height: Math.floor(height / HALF) };
  if (small.width === 0 || small.height === 0) return 0;
  let untold = 0;
  const distance = maskDistance(cropMask(mask, stride, box), width, height, Math.max(reach.inside, reach.outside) + 2);
  // The colours of a side change slowly: half the size will do.
  const { subject, ground, varies } = sidesOf(own, halved(distance, box), reach, small);
  for (let y = 0; y < height; y++) {
    const row = Math.min(small.height - 1, (y / HALF) | 0) * small.width;
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const d = distance[i];
      if (d > reach.inside || d < -reach.outside) continue;
      const k = row + Math.min(small.width - 1, (x / HALF) | 0);
      const at = (y + box.top) * stride + x + box.left;
      if (told[at] || ground[4 * k + 3] <= LEAST) continue;
      if (subject[4 * k + 3] <= reach.least) {
        untold++;
        continue;
      }
      told[at] = 1;
      let along = 0;
      let apart = 0;
      for (let c = 0; c < 3; c++) {
        const b = ground[4 * k + c];
        const way = subject[4 * k + c] - b;
        along += (lab[3 * i + c] - b) * way;
        apart += way * way;
      }
      if (apart === 0) continue;
      const spread = Math.sqrt(varies[k] / 3 / apart);
      const trust = clamp((reach.unsure - spread) / (reach.unsure - reach.sure), 0, 1) * (share ? share[i] : 1);
      alpha[at] += (clamp(along / apart, 0, 1) - alpha[at]) * trust;
    }
  }
  return untold;
}

/** Alpha of a subject's edge, in place, wherever its colours and those beside it tell it for certain. */
export function estimateEdgeAlpha(alpha: Float32Array, mask: Uint8Array, picture: LabPicture): void {
  const told = new Uint8Array(mask.length);
  for (const reach of [CRISP, THIN]) {
    const box = boxRound(mask, picture.width, picture.height, reach.outside + reach.radius + 2);
    if (!box || unmixIn(alpha, mask, picture, box, reach, null, told) === 0) return;
  }
}

/** Alpha in the soft zone, in place, as far as the colours tell it; round the zone it goes over into what is there. */
export function estimateZoneAlpha(alpha: Float32Array, mask: Uint8Array, zone: Uint8Array, picture: LabPicture): void {
  const box = boxRound(zone, picture.width, picture.height, SOFT.outside + SOFT.radius);
  if (!box) return;
  const share = boxMean(new Float32Array(cropMask(zone, picture.width, box)), box.width, box.height, BLEND);
  unmixIn(alpha, mask, picture, box, SOFT, share, new Uint8Array(mask.length));
}
