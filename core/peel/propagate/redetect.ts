/**
 * Where a subject that was out of sight is again: its appearance when it was seen last is laid over the coarse picture at every
 * place, and the place is taken where most of it goes together with what is there (a robust template match: what is still covered
 * counts as lost, and no more).
 */

import type { PreparedFrame } from '../motion/prepared-frame.ts';
import type { LabPicture } from '../picture/lab.ts';

/** Points of the subject that are compared, at most. */
const MOST_POINTS = 500;
/** Difference in L*a*b* up to which a point goes together with another. */
const ALIKE = 13;
/** Coarse pixels between the places that are tried first. */
const STEP = 2;

/** A subject's looks: points of the coarse picture with their colours. */
export interface Appearance {
  /** x and y of each point. */
  points: Int16Array;
  /** L, a, b of each point. */
  lab: Float32Array;
  width: number;
  height: number;
}

/** A move in coarse pixels, and the share of the subject that goes together with the picture there. */
export interface Match {
  x: number;
  y: number;
  share: number;
}

export function appearanceOf({ coarse, fine, factor }: PreparedFrame, mask: Uint8Array): Appearance {
  const all: number[] = [];
  const middle = factor >> 1;
  for (let y = 0; y < coarse.height; y++)
    for (let x = 0; x < coarse.width; x++) if (mask[(y * factor + middle) * fine.width + x * factor + middle]) all.push(y * coarse.width + x);
  const every = Math.max(1, Math.ceil(all.length / MOST_POINTS));
  const kept = all.filter((_, i) => i % every === 0);
  const points = new Int16Array(2 * kept.length);
  const lab = new Float32Array(3 * kept.length);
  for (const [k, i] of kept.entries()) {
    points.set([i % coarse.width, Math.floor(i / coarse.width)], 2 * k);
    lab.set(coarse.lab.subarray(3 * i, 3 * i + 3), 3 * k);
  }
  return { points, lab, width: coarse.width, height: coarse.height };
}

/** Share of the looks that go together with the picture when moved by (dx, dy); points moved out of the picture do not. */
function shareAt({ points, lab }: Appearance, picture: LabPicture, dx: number, dy: number): number {
  const { width, height } = picture;
  const count = points.length >> 1;
  let hit = 0;
  for (let k = 0; k < count; k++) {
    const x = points[2 * k] + dx;
    const y = points[2 * k + 1] + dy;
    if (x < 0 || y < 0 || x >= width || y >= height) continue;
    const i = 3 * (y * width + x);
    const l = picture.lab[i] - lab[3 * k];
    const a = picture.lab[i + 1] - lab[3 * k + 1];
    const b = picture.lab[i + 2] - lab[3 * k + 2];
    if (l * l + a * a + b * b < ALIKE * ALIKE) hit++;
  }
  return count === 0 ? 0 : hit / count;
}

/**
 * The move of up to the whole picture where the most of the looks goes together with it.
 * @param counts whether a move (in coarse pixels) may be taken
 */
export function bestMatch(looks: Appearance, picture: LabPicture, counts: (x: number, y: number) => boolean = () => true): Match {
  let [left, top, right, bottom] = [looks.width, looks.height, 0, 0];
  for (let k = 0; k < looks.points.length; k += 2) {
    left = Math.min(left, looks.points[k]);
    right = Math.max(right, looks.points[k]);
    top = Math.min(top, looks.points[k + 1]);
    bottom = Math.max(bottom, looks.points[k + 1]);
  }
  // At least half of it must be in the picture.
  const [halfWidth, halfHeight] = [(right - left + 1) >> 1, (bottom - top + 1) >> 1];
  let best: Match = { x: 0, y: 0, share: 0 };
  const at = (x: number, y: number) => {
    if (!counts(x, y)) return;
    const share = shareAt(looks, picture, x, y);
    if (share > best.share) best = { x, y, share };
  };
  for (let y = -top - halfHeight; y < picture.height - bottom + halfHeight; y += STEP)
    for (let x = -left - halfWidth; x < picture.width - right + halfWidth; x += STEP) at(x, y);
  const { x, y } = best;
  for (let v = y - STEP + 1; v < y + STEP; v++) for (let u = x - STEP + 1; u < x + STEP; u++) at(u, v);
  return best;
}
