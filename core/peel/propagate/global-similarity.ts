/** The subject's motion as a whole, which parts of which little can be told go along with. */
import type { Box } from '../../image/picture.ts';
import { type Homography, translation } from '../../math/homography.ts';
import { distanceAt, type Motion } from '../motion/layers.ts';

/** Pixels from the edge from which on a place tells of it. */
const INSIDE = 2;
/** Coarse pixels that going forth and back may miss the place it began at, for a place to tell of it. */
const MOST_ERROR = 1;
/** Fewer coarse pixels tell nothing. */
const LEAST = 30;
/** So many pixels, the mean distance from the middle, tell turn and scale by half: what is small moves only. */
const STIFF = 20;
/** Pixels from the motion from which on one does not count: at first, at last, and how much of that is left each round. */
const FARTHEST = 16;
const NEAREST = 3;
const NARROWER = 0.7;

/**
 * Where coarse pixels of the subject go on the next frame if it moves as a whole: a move with turn and scale by least squares, in which
 * what moves otherwise loses its say by and by (the biweight of Beaton and Tukey, 1974). Null where too little tells.
 * @param distance from the subject's edge, in the box, pixels
 */
export function globalSimilarity(
  { forward: { width, height, data }, forwardBackwardError }: Motion,
  distance: Float32Array,
  box: Box,
  factor: number,
): Homography | null {
  const places: number[] = [];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (forwardBackwardError[i] < MOST_ERROR && distanceAt(distance, box, factor, x, y) > INSIDE) places.push(x, y, x + data[2 * i], y + data[2 * i + 1]);
    }
  const count = places.length / 4;
  if (count < LEAST) return null;
  const middle = (axis: 0 | 1): number => {
    const moves = new Float32Array(count);
    for (let k = 0; k < count; k++) moves[k] = places[4 * k + axis + 2] - places[4 * k + axis];
    return moves.sort()[count >> 1];
  };
  let motion: Homography = translation(middle(0), middle(1));
  const weights = new Float64Array(count);
  for (let reach = FARTHEST / factor; reach >= NEAREST / factor; reach *= NARROWER) {
    // About the middle of what counts: so turn and scale do not hang together with the move.
    let total = 0;
    const mean = [0, 0, 0, 0];
    for (let k = 0; k < count; k++) {
      const [x, y] = [places[4 * k], places[4 * k + 1]];
      const offX = places[4 * k + 2] - motion[0] * x - motion[1] * y - motion[2];
      const offY = places[4 * k + 3] - motion[3] * x - motion[4] * y - motion[5];
      const off = (offX * offX + offY * offY) / (reach * reach);
      weights[k] = off < 1 ? (1 - off) ** 2 : 0;
      total += weights[k];
      for (let c = 0; c < 4; c++) mean[c] += weights[k] * places[4 * k + c];
    }
    if (total < LEAST / 2) return motion;
    const [cx, cy, gx, gy] = mean.map((v) => v / total);
    const held = total * (STIFF / factor) ** 2;
    let [square, along, across] = [held, held, 0];
    for (let k = 0; k < count; k++) {
      const [x, y, u, v] = [places[4 * k] - cx, places[4 * k + 1] - cy, places[4 * k + 2] - gx, places[4 * k + 3] - gy];
      square += weights[k] * (x * x + y * y);
      along += weights[k] * (x * u + y * v);
      across += weights[k] * (x * v - y * u);
    }
    const [a, b] = [along / square, across / square];
    motion = [a, -b, gx - a * cx + b * cy, b, a, gy - b * cx - a * cy, 0, 0, 1];
  }
  return motion;
}
