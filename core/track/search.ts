/** Looking for a pattern everywhere round a place. */
import { type Homography, multiply, translation } from '../math/homography.ts';
import { alignerFor } from './aligner.ts';
import { boundsOf, type Pyramid } from './pyramid.ts';
import { LEAST_SEEN } from './quality.ts';
import type { Pattern } from './samples.ts';

/** Places returned at most, and how alike they are at least. */
const MOST = 3;
const LEAST = 0.3;
/** Candidates of the finest level, each way, at most; of the coarsest, where there are more, every other one is asked first. */
const STEPS = 16;
/** So many of those are looked round, at most, and such as are so alike: one beside them may be more so. */
const LOOKED_ROUND = 12;
const PROMISING = 0.15;

/** A pattern and the level of the picture it is compared with. */
export interface Paired {
  pattern: Pattern;
  at: number;
}

/**
 * The places within `reach` plate pixels of `place`, moved only, where the pattern of some level, `top` at most, agrees best
 * (normalised correlation), best first.
 */
export function searched(pyramid: Pyramid, homography: Homography, reach: number, top: number, paired: (level: number) => Paired): Homography[] {
  let level = Math.min(1, top);
  // A coarser level once the finer one has too many places.
  while (level < top && reach / 2 ** level > STEPS) level++;
  const { pattern, at } = paired(level);
  const apart = Math.max(2 ** level, reach / (2 * STEPS));
  const n = Math.floor(reach / apart);
  const side = 2 * n + 1;
  const scores = new Float32Array(side * side).fill(-1);
  const beside = besideOf(pyramid, homography, pattern);
  const moved = (x: number, y: number) => multiply(translation((x - n) * apart, (y - n) * apart), homography);
  const aligner = alignerFor(pattern, pyramid, at);
  const ask = (cells: readonly number[]) => {
    const [wanted, moves]: number[][] = [[], []];
    for (const cell of cells) {
      const [x, y] = [((cell % side) - n) * apart, (Math.floor(cell / side) - n) * apart];
      // Where too little of it is to be seen nothing is asked.
      if (beside(x, y)) continue;
      wanted.push(cell);
      moves.push(x, y);
    }
    const found = aligner.ask(homography, moves);
    for (let i = 0; i < wanted.length; i++) {
      const [x, y] = [moves[2 * i] / apart, moves[2 * i + 1] / apart];
      // Of two that are alike the nearer one is likelier.
      scores[wanted[i]] = found[2 * i] * Math.min(1, found[2 * i + 1] / 0.6) - (0.1 * (x * x + y * y)) / (n * n + 1);
    }
  };
  const every = n > STEPS ? 2 : 1;
  const all: number[] = [];
  for (let y = 0; y < side; y += every) for (let x = 0; x < side; x += every) all.push(y * side + x);
  ask(all);
  if (every > 1) {
    const round: number[] = [];
    for (const { x, y } of peaksOf(scores, side, every, PROMISING).slice(0, LOOKED_ROUND)) eachRound(x, y, 1, side, (u, v) => round.push(v * side + u));
    ask(round);
  }
  return peaksOf(scores, side, 1, LEAST)
    .slice(0, MOST)
    .map(({ x, y }) => moved(x, y));
}

/** The places round one in a square, so far away each way. */
function eachRound(x: number, y: number, away: number, side: number, each: (u: number, v: number) => void): void {
  for (let v = y - away; v <= y + away; v += away)
    for (let u = x - away; u <= x + away; u += away) if ((u !== x || v !== y) && u >= 0 && v >= 0 && u < side && v < side) each(u, v);
}

/** Places of at least such a score that are higher than those so far from them, the best first. */
function peaksOf(scores: Float32Array, side: number, away: number, least: number): { x: number; y: number; score: number }[] {
  const peaks: { x: number; y: number; score: number }[] = [];
  for (let y = 0; y < side; y += away)
    for (let x = 0; x < side; x += away) {
      const score = scores[y * side + x];
      if (score < least) continue;
      let highest = true;
      eachRound(x, y, away, side, (u, v) => {
        if (scores[v * side + u] > score) highest = false;
      });
      if (highest) peaks.push({ x, y, score });
    }
  return peaks.sort((a, b) => b.score - a.score);
}

/** Whether too much of a pattern that is moved so far from `place` lies beside the picture; not asked where it is seen from the side. */
function besideOf({ left, top, sizes: [{ width, height }] }: Pyramid, homography: Homography, { extent }: Pattern): (x: number, y: number) => boolean {
  const at = homography[6] === 0 && homography[7] === 0 ? boundsOf(extent, homography) : null;
  if (!at) return () => false;
  const share = (from: number, to: number, least: number, most: number) => (Math.min(to, most) - Math.max(from, least)) / (to - from);
  return (x, y) => Math.min(share(at.left + x, at.right + x, left, left + width), share(at.top + y, at.bottom + y, top, top + height)) < LEAST_SEEN;
}
