/** Cutting some of the pixels of a picture: the undecided ones become nodes of a graph, the rest pull with their labels. */
import type { LabPicture } from './lab.ts';
import { minimumCut, STEP_X, STEP_Y } from './max-flow.ts';
import { DROP, KEEP } from './strokes.ts';

/** What an unstroked pixel can weigh at most, in nats, and how many whole units a nat has in the graph. */
const SCALE = 32;
const CERTAIN = 1e6;

/** What an unpainted pixel is drawn to, or the tie of a painted one. */
export const tie = (seed: number, logit: number): number => (seed === KEEP ? CERTAIN : seed === DROP ? -CERTAIN : logit);

/** What a boundary costs between two neighbours: `strength` where they look alike, less the more they differ. */
export interface Smoothness {
  strength: number;
  /** 1 / (2·mean squared difference of neighbours), of the picture. */
  beta: number;
}

/** The beta of a picture: how much its neighbouring colours differ on average (Rother et al. 2004, eq. 5). */
export function contrastOf({ width, height, lab }: LabPicture): number {
  let sum = 0;
  let count = 0;
  for (let y = 0; y + 1 < height; y += 2)
    for (let x = 0; x + 1 < width; x += 2) {
      const i = 3 * (y * width + x);
      const right = i + 3;
      const down = i + 3 * width;
      for (let c = 0; c < 3; c++) sum += (lab[i + c] - lab[right + c]) ** 2 + (lab[i + c] - lab[down + c]) ** 2;
      count += 2;
    }
  return count === 0 || sum === 0 ? 0 : 1 / (2 * (sum / count));
}

/**
 * Decides the pixels of `undecided` (1 where so) in `labels` (1 kept, 0 dropped), in place, so that the sum of what the pixels
 * and the boundaries between unlike neighbours cost is the least.
 * @param logit how much each pixel is drawn to be kept, in nats; only read where undecided. {@link tie} ties it.
 */
export function cutUndecided(
  { width, height, lab }: LabPicture,
  labels: Uint8Array,
  undecided: Uint8Array,
  logit: Float32Array,
  { strength, beta }: Smoothness,
): void {
  const n = width * height;
  const nodeAt = new Int32Array(n).fill(-1);
  let nodes = 0;
  for (let i = 0; i < n; i++) if (undecided[i]) nodeAt[i] = nodes++;
  if (nodes === 0) return;
  const neighbour = new Int32Array(8 * nodes).fill(-1);
  const capacity = new Int32Array(8 * nodes);
  const terminal = new Int32Array(nodes);
  const unit = strength * SCALE;
  let node = 0;
  for (let i = 0; i < n; i++) {
    if (!undecided[i]) continue;
    const x = i % width;
    const y = (i / width) | 0;
    const p = 3 * i;
    let pull = Math.round(logit[i] * SCALE);
    for (let d = 0; d < 8; d++) {
      const u = x + STEP_X[d];
      const v = y + STEP_Y[d];
      if (u < 0 || v < 0 || u >= width || v >= height) continue;
      const j = v * width + u;
      const other = nodeAt[j];
      // The later of two nodes works out what lies between them, for both.
      if (other >= 0) neighbour[8 * node + d] = other;
      if (other > node) continue;
      const q = 3 * j;
      const difference = (lab[p] - lab[q]) ** 2 + (lab[p + 1] - lab[q + 1]) ** 2 + (lab[p + 2] - lab[q + 2]) ** 2;
      const length = d === 0 || d === 2 || d === 5 || d === 7 ? Math.SQRT1_2 : 1;
      const cost = Math.round(unit * length * Math.exp(-beta * difference));
      if (other >= 0) {
        capacity[8 * node + d] = cost;
        capacity[8 * other + 7 - d] = cost;
      } else pull += labels[j] ? cost : -cost;
    }
    terminal[node++] = pull;
  }
  const kept = minimumCut({ nodes, neighbour, capacity, terminal });
  for (let i = 0; i < n; i++) if (undecided[i]) labels[i] = kept[nodeAt[i]];
}
