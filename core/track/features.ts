/**
 * Details of a picture that can be told from each other, to find a region again that jumped, turned and grew at once: corners (Shi and
 * Tomasi 1994), each with the patch round it turned to the side where it is lighter (Rosin 1999), and the move, turn and scale on which
 * most pairs agree (Fischler and Bolles 1981).
 */
import type { Gray, Region } from '../image/picture.ts';
import { applyTo, type Homography } from '../math/homography.ts';
import { randomFrom } from '../math/random.ts';
import { cornersIn } from './corners.ts';

export interface Feature {
  /** Pixels of the picture, its first pixel's outer corner at 0. */
  x: number;
  y: number;
  /** Radians. */
  turn: number;
  /** Brightness round it, mean 0 and length 1. */
  patch: Float32Array;
}

/** Places of a patch each way, and pixels between them. */
const SIDE = 9;
const APART = 2;
/** Pixels within which the lighter side is told, and to the border of the picture. */
const ROUND = 8;
const BORDER = Math.ceil(((SIDE - 1) / 2) * APART * Math.SQRT2) + 1;
/** Pixels between features. */
const BETWEEN = 4;
/** How alike two patches have to be, and the next best by how much less. */
const ALIKE = 0.5;
const AHEAD = 0.98;
/** Pixels by which a pair may miss the motion, tries, and how many pairs have to agree. */
const MISS = 3;
const TRIES = 300;
const PAIRS = 7;

/** Up to `count` features of the piece of a picture where `inside` says so, the clearest first. */
export function featuresOf(picture: Gray, piece: Region, count: number, inside: (x: number, y: number) => boolean = () => true): Feature[] {
  const left = Math.max(BORDER, Math.floor(piece.left));
  const top = Math.max(BORDER, Math.floor(piece.top));
  const right = Math.min(picture.width - BORDER, Math.ceil(piece.right));
  const bottom = Math.min(picture.height - BORDER, Math.ceil(piece.bottom));
  const [w, h] = [right - left, bottom - top];
  if (w < 3 || h < 3) return [];
  const worth = cornersIn(picture, { left, top, right, bottom }, 2);
  const peaks: number[] = [];
  for (let y = 1; y < h - 1; y++)
    for (let x = 1; x < w - 1; x++) {
      const i = y * w + x;
      const v = worth[i];
      if (v <= 1 || !inside(left + x + 0.5, top + y + 0.5)) continue;
      if (v >= worth[i - 1] && v > worth[i + 1] && v >= worth[i - w] && v > worth[i + w]) peaks.push(i);
    }
  peaks.sort((a, b) => worth[b] - worth[a]);
  const found: Feature[] = [];
  for (const i of peaks) {
    if (found.length >= count) break;
    const [x, y] = [left + (i % w) + 0.5, top + Math.floor(i / w) + 0.5];
    if (found.some((f) => Math.abs(f.x - x) < BETWEEN && Math.abs(f.y - y) < BETWEEN)) continue;
    const turn = lighterSide(picture, x, y);
    found.push({ x, y, turn, patch: patchAt(picture, x, y, turn) });
  }
  return found;
}

function lighterSide({ data, width }: Gray, x: number, y: number): number {
  const [cx, cy] = [Math.floor(x), Math.floor(y)];
  let [mx, my] = [0, 0];
  for (let dy = -ROUND; dy <= ROUND; dy++)
    for (let dx = -ROUND; dx <= ROUND; dx++) {
      if (dx * dx + dy * dy > ROUND * ROUND) continue;
      const v = data[(cy + dy) * width + cx + dx];
      mx += v * dx;
      my += v * dy;
    }
  return Math.atan2(my, mx);
}

function patchAt({ data, width }: Gray, x: number, y: number, turn: number): Float32Array {
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const patch = new Float32Array(SIDE * SIDE);
  let mean = 0;
  for (let j = 0, k = 0; j < SIDE; j++)
    for (let i = 0; i < SIDE; i++, k++) {
      const [u, v] = [(i - (SIDE - 1) / 2) * APART, (j - (SIDE - 1) / 2) * APART];
      const [px, py] = [x + c * u - s * v - 0.5, y + s * u + c * v - 0.5];
      const [x0, y0] = [Math.floor(px), Math.floor(py)];
      const [fx, fy] = [px - x0, py - y0];
      const p = y0 * width + x0;
      patch[k] = (data[p] * (1 - fx) + data[p + 1] * fx) * (1 - fy) + (data[p + width] * (1 - fx) + data[p + width + 1] * fx) * fy;
      mean += patch[k] / (SIDE * SIDE);
    }
  let length = 0;
  for (let k = 0; k < patch.length; k++) {
    patch[k] -= mean;
    length += patch[k] * patch[k];
  }
  const by = 1 / Math.max(1e-6, Math.sqrt(length));
  for (let k = 0; k < patch.length; k++) patch[k] *= by;
  return patch;
}

/**
 * The move, turn and scale that takes most features of `from` to alike ones of `to`; null where fewer than a few pairs agree. The same
 * for the same features.
 */
export function motionOfFeatures(from: readonly Feature[], to: readonly Feature[]): Homography | null {
  const pairs: [Feature, Feature][] = [];
  for (const f of from) {
    let [best, second, like]: [number, number, Feature | null] = [0, 0, null];
    for (const t of to) {
      let alike = 0;
      for (let k = 0; k < f.patch.length; k++) alike += f.patch[k] * t.patch[k];
      if (alike > best) [best, second, like] = [alike, best, t];
      else if (alike > second) second = alike;
    }
    if (like && best > ALIKE && second < AHEAD * best) pairs.push([f, like]);
  }
  if (pairs.length < PAIRS) return null;
  const random = randomFrom(pairs.length);
  let most: [Feature, Feature][] = [];
  for (let n = 0; n < TRIES; n++) {
    const a = pairs[Math.floor(random() * pairs.length)];
    const b = pairs[Math.floor(random() * pairs.length)];
    const motion = similarityOf([a, b]);
    if (!motion) continue;
    const agree = pairs.filter(([f, t]) => {
      const [x, y] = applyTo(motion, f.x, f.y);
      return Math.hypot(x - t.x, y - t.y) < MISS;
    });
    if (agree.length > most.length) most = agree;
  }
  return most.length >= PAIRS ? similarityOf(most) : null;
}

/** The move, turn and scale that comes nearest to all pairs in the sense of least squares; null where they lie on one place. */
function similarityOf(pairs: readonly [Feature, Feature][]): Homography | null {
  const n = pairs.length;
  let [fx, fy, tx, ty] = [0, 0, 0, 0];
  for (const [f, t] of pairs) {
    fx += f.x / n;
    fy += f.y / n;
    tx += t.x / n;
    ty += t.y / n;
  }
  let [along, across, size] = [0, 0, 0];
  for (const [f, t] of pairs) {
    const [ax, ay, bx, by] = [f.x - fx, f.y - fy, t.x - tx, t.y - ty];
    along += ax * bx + ay * by;
    across += ax * by - ay * bx;
    size += ax * ax + ay * ay;
  }
  if (size < 4 * n) return null;
  const [c, s] = [along / size, across / size];
  const scale = Math.hypot(c, s);
  return scale > 0.3 && scale < 3 ? [c, -s, tx - c * fx + s * fy, s, c, ty - s * fx - c * fy, 0, 0, 1] : null;
}
