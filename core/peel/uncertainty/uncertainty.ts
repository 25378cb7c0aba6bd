/** How likely a carried frame is wrong, from what was measured while it was carried, and why, in words for the artist. */

import { boxRound, cropLab, cropMask } from '../picture/crop.ts';
import type { LabPicture } from '../picture/lab.ts';
import { either } from '../picture/masks.ts';
import { maskDistance } from '../picture/signed-distance.ts';
import type { PropagationSignals } from '../propagate/propagate-frame.ts';

export const REASONS = {
  'two-ways': 'two ways of following it come to different edges',
  'similar-colours': 'the edge runs through similar colours',
  'faint-edge': 'the picture is alike on both sides of much of the edge',
  'moved-far': 'changed more than its motion explains',
  'left-behind': 'a part that stayed behind was taken away',
  'far-from-anchor': 'far from any painted frame',
  'two-sides': 'carried from both sides it comes to different edges',
  vanished: 'out of sight: behind something or out of the picture',
  'found-again': 'found again after it was out of sight',
  hidden: 'marked as out of sight',
} as const;
export type Reason = keyof typeof REASONS;

export interface Uncertainty {
  /** 0 to 100. */
  doubt: number;
  reasons: Reason[];
  /** Where on the edge: x, y of places, shares of the picture's width and height. */
  places: number[];
}

/** Nothing to doubt: what the artist painted. */
export const SURE: Uncertainty = { doubt: 0, reasons: [], places: [] };
/** Nothing is kept, since nothing was found, from this frame on: somebody should look. And since the artist says so. */
export const VANISHED: Uncertainty = { doubt: 100, reasons: ['vanished'], places: [] };
export const HIDDEN: Uncertainty = { doubt: 0, reasons: ['hidden'], places: [] };

/** Doubt of a frame on which it is not back where nothing looks like it, and how much more where something nearly does. */
const AWAY = 20;
const NEARLY = 60;

/** Nothing is kept, as on the frame before. `like` is how like the subject the likeliest place is, as a share of what it takes to be found again. */
export const stillAway = (like: number): Uncertainty => ({ ...VANISHED, doubt: Math.round(AWAY + NEARLY * Math.min(1, like)) });

/** Share of what is kept from which on it is told that as much was left behind, and the least doubt of such a frame: somebody should look. */
const MUCH_LEFT = 0.05;
const LEFT = 50;

/** Frames after which a frame counts as far from its anchor. */
const FAR_FRAMES = 24;
const ALIKE = 0.25;
const MOVED = 0.25;
const FAINT = 0.3;
/** Agreement below which it is told as a reason. */
const PARTED = 0.9;

/** Pixels that the edges of two results may be apart and still agree, and the squares in which places are gathered. */
const TOLERANCE = 1.5;
const SQUARE = 12;
/** Pixels from the edge at which both sides are compared, and how fast they count as different (sum over L*a*b*). */
const BESIDE = 2;
const DIFFERENT = 8;
/** Pixels of edge in a square from which on it is a place of doubt; the worst so many are told. */
const LEAST = 4;
const MOST_PLACES = 24;

export interface Agreement {
  /** Harmonic mean of the shares of each one's edge pixels that lie within TOLERANCE of the other's edge; 1 where neither has any. */
  agreement: number;
  /** How alike the picture is on both sides of the edge of the first, [0,1]. */
  faint: number;
  /** Where the edge of the first has none of the second near it: x, y of places, shares of the picture's width and height. */
  places: number[];
}

/** How well the edge of `mask` goes together with that of `other`, and, on a picture, how faint it is there. */
export function agreementOf(mask: Uint8Array, other: Uint8Array, width: number, height: number, picture: LabPicture | null = null): Agreement {
  const far = Math.ceil(TOLERANCE) + 2;
  const box = boxRound(either(mask, other), width, height, far);
  if (!box) return { agreement: 1, faint: 0, places: [] };
  const [p, q] = [mask, other].map((m) => maskDistance(cropMask(m, width, box), box.width, box.height, far));
  const columns = Math.ceil(width / SQUARE);
  const lost = new Int32Array(columns * Math.ceil(height / SQUARE));
  const share = (own: Float32Array, of: Float32Array, counts: boolean): number | null => {
    let [all, hit] = [0, 0];
    for (let i = 0; i < own.length; i++) {
      if (own[i] !== 0.5) continue;
      all++;
      if (Math.abs(of[i]) <= TOLERANCE + 0.5) hit++;
      else if (counts) lost[Math.floor((Math.floor(i / box.width) + box.top) / SQUARE) * columns + Math.floor(((i % box.width) + box.left) / SQUARE)]++;
    }
    return all === 0 ? null : hit / all;
  };
  const [precision, recall] = [share(p, q, true), share(q, p, false)];
  const worst = [...lost.keys()].filter((k) => lost[k] >= LEAST).sort((a, b) => lost[b] - lost[a]);
  const places = worst
    .slice(0, MOST_PLACES)
    .flatMap((k) => [(((k % columns) + 0.5) * SQUARE) / width, ((Math.floor(k / columns) + 0.5) * SQUARE) / height])
    .map((v) => Math.round(1000 * Math.min(1, v)) / 1000);
  const faint = picture ? faintness(p, cropLab(picture, box)) : 0;
  if (precision === null || recall === null) return { agreement: precision === recall ? 1 : 0, faint, places };
  return { agreement: precision + recall === 0 ? 0 : (2 * precision * recall) / (precision + recall), faint, places };
}

/** How alike the colours BESIDE pixels inwards and outwards of an edge are, as a mean over it, in [0,1]. */
function faintness(distance: Float32Array, { width, height, lab }: LabPicture): number {
  let [sum, count] = [0, 0];
  for (let y = BESIDE; y < height - BESIDE; y++)
    for (let x = BESIDE; x < width - BESIDE; x++) {
      const i = y * width + x;
      if (distance[i] !== 0.5) continue;
      const gx = distance[i + 1] - distance[i - 1];
      const gy = distance[i + width] - distance[i - width];
      const length = Math.sqrt(gx * gx + gy * gy);
      if (length === 0) continue;
      const step = 3 * (Math.round((BESIDE * gy) / length) * width + Math.round((BESIDE * gx) / length));
      let off = 0;
      for (let c = 3 * i; c < 3 * i + 3; c++) off += Math.abs(lab[c + step] - lab[c - step]);
      sum += Math.exp(-off / DIFFERENT);
      count++;
    }
  return count === 0 ? 0 : sum / count;
}

/** Fitted to frames of the battery and the demo film (docs/research/peel-and-tracking.md): where it begins, and what it goes by; how little of each counts as none. */
const START = 11;
const BY_PARTED = 1.45;
const BY_STRAYED = 0.72;
const BY_UNLIKE = 2.9;
const LEAST_PARTED = 0.003;
const LEAST_SHARE = 0.02;

/** Share of what was told on the frame before: what is wrong there mostly stays wrong, and what one frame tells has noise. */
const STAYS = 0.5;

/**
 * The log of the odds that a frame is wrong: a logistic model of "the boundary's F at 3 pixels is below 0.9" on how far the edges of two
 * carries part, how much of the edge is not where its motion brings it, and how much of what is beside it has the other side's colours.
 * How well it tells frames apart, over all and inside one shot, is in docs/research.
 * @param before the same of the frame it was carried from; null where that was not told
 */
export function oddsOf({ strayed, unlike }: PropagationSignals, { agreement }: Agreement, before: number | null): number {
  const own =
    START + BY_PARTED * Math.log(1 - agreement + LEAST_PARTED) + BY_STRAYED * Math.log(strayed + LEAST_SHARE) + BY_UNLIKE * Math.log(unlike + LEAST_SHARE);
  return before === null ? own : STAYS * before + (1 - STAYS) * own;
}

/** The doubt of those odds, and why. */
export function uncertaintyOf(signals: PropagationSignals, { agreement, faint, places }: Agreement, odds: number, fromAnchor: number): Uncertainty {
  if (signals.area === 0) return VANISHED;
  const p = 1 / (1 + Math.exp(-odds));
  const reasons: Reason[] = [];
  if (agreement < PARTED) reasons.push('two-ways');
  if (signals.unlike > ALIKE) reasons.push('similar-colours');
  if (faint > FAINT) reasons.push('faint-edge');
  if (signals.strayed > MOVED) reasons.push('moved-far');
  const left = signals.left > MUCH_LEFT * signals.area;
  if (left) reasons.push('left-behind');
  if (fromAnchor > FAR_FRAMES) reasons.push('far-from-anchor');
  return { doubt: Math.max(left ? LEFT : 0, Math.round(100 * p)), reasons, places };
}
