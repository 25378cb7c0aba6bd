/** How likely a carried frame is wrong, from what was measured while it was carried, and why, in words for the artist. */
import type { CarrySignals } from './carry.ts';
import { boxRound, cropMask } from './crop.ts';
import { maskDistance } from './signed-distance.ts';

export const REASONS = {
  'two-ways': 'two ways of following it come to different edges',
  'similar-colours': 'the edge runs through similar colours',
  'moved-far': 'changed more than its motion explains',
  'far-from-anchor': 'far from any painted frame',
  'two-sides': 'carried from both sides it comes to different edges',
  vanished: 'out of sight: behind something or out of the picture',
  'found-again': 'found again after it was out of sight',
  hidden: 'marked as out of sight',
} as const;
export type Reason = keyof typeof REASONS;

export interface Doubt {
  /** 0 to 100. */
  doubt: number;
  reasons: Reason[];
  /** Where on the edge: x, y of places, shares of the picture's width and height. */
  places: number[];
}

/** Nothing to doubt: what the artist painted. */
export const SURE: Doubt = { doubt: 0, reasons: [], places: [] };
/** Nothing is kept, since nothing was found; and since the artist says so. */
export const VANISHED: Doubt = { doubt: 100, reasons: ['vanished'], places: [] };
export const HIDDEN: Doubt = { doubt: 0, reasons: ['hidden'], places: [] };

/** Frames after which a frame counts as far from its anchor. */
const FAR_FRAMES = 24;
const ALIKE = 0.14;
const MOVED = 1.8;
/** Agreement below which it is told as a reason. */
const PARTED = 0.9;

/** Pixels that the edges of two results may be apart and still agree, and the squares in which places are gathered. */
const TOLERANCE = 1.5;
const SQUARE = 12;
/** Pixels of edge in a square from which on it is a place of doubt; the worst so many are told. */
const LEAST = 4;
const MOST_PLACES = 24;

/**
 * How well the edge of `mask` goes together with that of `other`: the harmonic mean of the shares of each one's edge pixels that
 * lie within TOLERANCE of the other's edge (1 where neither has any), and where the mask's edge does not.
 */
export function agreementOf(mask: Uint8Array, other: Uint8Array, width: number, height: number): { agreement: number; places: number[] } {
  const far = Math.ceil(TOLERANCE) + 2;
  const box = boxRound(
    mask.map((v, i) => v | other[i]),
    width,
    height,
    far,
  );
  if (!box) return { agreement: 1, places: [] };
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
  if (precision === null || recall === null) return { agreement: precision === recall ? 1 : 0, places };
  return { agreement: precision + recall === 0 ? 0 : (2 * precision * recall) / (precision + recall), places };
}

/** Fitted to frames of the battery (docs/quality.md): where it begins, its slope, and mean and spread of what it goes by. */
const START = -0.64;
const SLOPE = 2.72;
const MEAN = -3.9;
const SPREAD = 1.93;

/**
 * A logistic model of "the boundary's F at 3 pixels is below 0.9" on the agreement of two carries of which only one learns
 * colours along the edge. How well it tells frames apart is in docs/quality.md.
 */
export function doubtOf(signals: CarrySignals, { agreement, places }: { agreement: number; places: number[] }, fromAnchor: number): Doubt {
  if (signals.area === 0) return VANISHED;
  const parted = (Math.log(1 - agreement + 0.003) - MEAN) / SPREAD;
  const p = 1 / (1 + Math.exp(-(START + SLOPE * parted)));
  const reasons: Reason[] = [];
  if (agreement < PARTED) reasons.push('two-ways');
  if (signals.confusion > ALIKE) reasons.push('similar-colours');
  if (signals.change > MOVED) reasons.push('moved-far');
  if (fromAnchor > FAR_FRAMES) reasons.push('far-from-anchor');
  return { doubt: Math.round(100 * p), reasons, places };
}
