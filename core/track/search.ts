/** Looking for a pattern everywhere round a place. */
import { applyTo, composed, type Homography, moveBy } from '../math/homography.ts';
import { align } from './align.ts';
import type { Levels } from './levels.ts';
import type { Pattern } from './samples.ts';

/** Places returned at most. */
const MOST = 3;
/** Candidates a level, each way, at most. */
const STEPS = 16;

/** A pattern and the level of the picture it is compared with. */
export interface Paired {
  pattern: Pattern;
  at: number;
}

/**
 * The places within `reach` plate pixels of `place`, moved only, where the pattern of some level, `top` at most, agrees best
 * (normalised correlation), best first.
 */
export function searched(levels: Levels, place: Homography, reach: number, top: number, paired: (level: number) => Paired): Homography[] {
  let level = Math.min(1, top);
  // A coarser level once the finer one has too many places.
  while (level < top && reach / 2 ** level > STEPS) level++;
  const { pattern, at } = paired(level);
  const apart = Math.max(2 ** level, reach / (2 * STEPS));
  const n = Math.floor(reach / apart);
  const side = 2 * n + 1;
  const scores = new Float32Array(side * side).fill(-1);
  const beside = besideOf(levels, place, pattern);
  for (let j = -n; j <= n; j++)
    for (let i = -n; i <= n; i++) {
      // Nothing of it is to be seen there.
      if (beside(i * apart, j * apart)) continue;
      const { plain, seen } = align(pattern, levels, at, composed(moveBy(i * apart, j * apart), place), { model: 'move', rounds: 0 });
      // Of two that are alike the nearer one is likelier.
      scores[(j + n) * side + i + n] = plain * Math.min(1, seen / 0.6) - (0.1 * (i * i + j * j)) / (n * n + 1);
    }
  const peaks: { score: number; i: number; j: number }[] = [];
  for (let j = 0; j < side; j++)
    for (let i = 0; i < side; i++) {
      const score = scores[j * side + i];
      if (score < 0.3) continue;
      let highest = true;
      for (let y = Math.max(0, j - 1); y <= Math.min(side - 1, j + 1) && highest; y++)
        for (let x = Math.max(0, i - 1); x <= Math.min(side - 1, i + 1); x++) if (scores[y * side + x] > score) highest = false;
      if (highest) peaks.push({ score, i: i - n, j: j - n });
    }
  peaks.sort((a, b) => b.score - a.score);
  return peaks.slice(0, MOST).map(({ i, j }) => composed(moveBy(i * apart, j * apart), place));
}

/** Whether a pattern that is moved so far from `place` lies beside the picture, all of it; not asked where it is seen from the side. */
function besideOf(
  { left, top, images: [{ width, height }] }: Levels,
  place: Homography,
  { extent: [u0, v0, u1, v1] }: Pattern,
): (x: number, y: number) => boolean {
  if (place[6] !== 0 || place[7] !== 0) return () => false;
  const corners = [applyTo(place, u0, v0), applyTo(place, u1, v0), applyTo(place, u0, v1), applyTo(place, u1, v1)];
  const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)];
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  return (x, y) => x1 + x < left || x0 + x > left + width || y1 + y < top || y0 + y > top + height;
}
