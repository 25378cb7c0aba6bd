/** Cutting some of the pixels of a picture: the undecided ones become nodes of a graph, the rest pull with their labels. */

import { borrowKernels } from '../../wasm/host.ts';
import type { LabPicture } from '../picture/lab.ts';
import { sizeOf } from '../picture/masks.ts';
import { KEEP, NOT_PAINTED } from '../strokes/strokes.ts';

/** How many whole units a nat has in the graph. */
const SCALE = 32;

/** Decides the painted pixels by what is painted on them, in place. */
export function decidePainted(labels: Uint8Array, undecided: Uint8Array, seeds: Uint8Array): void {
  for (let i = 0; i < seeds.length; i++) {
    if (seeds[i] === NOT_PAINTED) continue;
    labels[i] = seeds[i] === KEEP ? 1 : 0;
    undecided[i] = 0;
  }
}

/** What a boundary costs between two neighbours: `strength` where they look alike, less the more they differ. */
export interface Smoothness {
  strength: number;
  /** 1 / (2·mean squared difference of neighbours), of the picture. */
  beta: number;
}

/**
 * Decides the pixels of `undecided` (1 where so) in `labels` (1 kept, 0 dropped), in place, so that the sum of what the pixels
 * and the boundaries between unlike neighbours cost is the least.
 * @param logit how much each pixel is drawn to be kept, in nats; only read where undecided.
 */
export function cutUndecided(
  { width, height, lab }: LabPicture,
  labels: Uint8Array,
  undecided: Uint8Array,
  logit: Float32Array,
  { strength, beta }: Smoothness,
): void {
  const n = width * height;
  const nodes = sizeOf(undecided);
  if (nodes === 0) return;
  // Layout, in bytes: colours | pulls | nodes of the pixels | neighbours | capacities | terminals | scratch | labels | undecided | kept.
  const atLogit = 12 * n;
  const atNodes = 16 * n;
  const atNeighbour = 20 * n;
  const atCapacity = atNeighbour + 32 * nodes;
  const atTerminal = atCapacity + 32 * nodes;
  const atScratch = atTerminal + 4 * nodes;
  const atLabels = atScratch + 18 * nodes;
  const atUndecided = atLabels + n;
  const atKept = atUndecided + n;
  const { kernels, floats } = borrowKernels((atKept + nodes) / 4 + 1);
  const bytes = new Uint8Array(floats.buffer);
  floats.set(lab, 0);
  floats.set(logit, atLogit / 4);
  bytes.set(labels, atLabels);
  bytes.set(undecided, atUndecided);
  kernels.cutGraph(0, atLabels, atUndecided, atLogit, width, height, strength, beta, SCALE, atNodes, atNeighbour, atCapacity, atTerminal);
  kernels.minimumCut(nodes, atNeighbour, atCapacity, atTerminal, atScratch, atKept);
  let node = atKept;
  for (let i = 0; i < n; i++) if (undecided[i]) labels[i] = bytes[node++];
}
