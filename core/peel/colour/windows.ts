/**
 * Colour models for places along the edge: windows of the anchor frame, each with the colours of the subject and of the
 * surroundings there, moved along with the edge (X. Bai, J. Wang, D. Simons, G. Sapiro, "Video SnapCut", SIGGRAPH 2009). The
 * models stay as they were made: windows that learn from their own results drift away.
 */
import { clamp } from '../../math/clamp.ts';
import { CELLS, type LabPicture } from '../picture/lab.ts';
import { eachPlaceAlong } from '../picture/masks.ts';
import { fitMixture, type Mixture, posteriorOf } from './colour-model.ts';

export const WINDOW = 28;
const APART = 20;
const LATTICE = 3;
const GAUSSIANS = 3;
/** Fewer samples than this make no model. */
const LEAST_SAMPLES = 12;
/** How far the colours of the whole are trusted where no window is near. */
const UNKNOWN_TRUST = 0.7;

interface LocalWindow {
  keep: Mixture;
  drop: Mixture;
  /** How right this model, and the model of the whole frame, are about the anchor frame here, [0,1]. */
  trust: number;
  wholeTrust: number;
  /** How likely the cells of the colour cube are the subject's; 0, which none is, where nobody has asked yet. */
  table: Float32Array;
}

export interface Windows {
  models: LocalWindow[];
  /** x and y of each window's middle, on the frame the mask is of. */
  centres: Float32Array;
}

/** How likely a colour (by its cell) is the subject's, by this window. */
function askWindow({ keep, drop, table }: LocalWindow, cell: number): number {
  if (table[cell] === 0) table[cell] = posteriorOf(keep, drop, cell);
  return table[cell];
}

/** Windows along the edge of `mask`. `distance` is its signed distance, `whole` the table of the whole frame. */
export function windowsAlong(picture: LabPicture, mask: Uint8Array, distance: Float32Array, whole: Float32Array): Windows {
  const { width, height } = picture;
  const models: LocalWindow[] = [];
  const centres: number[] = [];
  eachPlaceAlong(distance, width, height, APART, (x, y) => {
    const model = windowAt(picture, mask, distance, whole, x, y);
    if (!model) return;
    models.push(model);
    centres.push(x + 0.5, y + 0.5);
  });
  return { models, centres: Float32Array.from(centres) };
}

function windowAt(picture: LabPicture, mask: Uint8Array, distance: Float32Array, whole: Float32Array, cx: number, cy: number): LocalWindow | null {
  const { width, height, lab: colours, cell } = picture;
  const keep: number[] = [];
  const drop: number[] = [];
  const inside: number[] = [];
  for (let y = Math.max(0, cy - WINDOW); y <= Math.min(height - 1, cy + WINDOW); y += LATTICE)
    for (let x = Math.max(0, cx - WINDOW); x <= Math.min(width - 1, cx + WINDOW); x += LATTICE) {
      if ((x - cx) ** 2 + (y - cy) ** 2 > WINDOW * WINDOW) continue;
      const i = y * width + x;
      inside.push(i);
      // Thin parts have nothing farther than two pixels from the edge.
      if (mask[i] ? distance[i] <= 1 : distance[i] >= -2) continue;
      (mask[i] ? keep : drop).push(colours[3 * i], colours[3 * i + 1], colours[3 * i + 2]);
    }
  if (keep.length < 3 * LEAST_SAMPLES || drop.length < 3 * LEAST_SAMPLES) return null;
  const model: LocalWindow = {
    keep: fitMixture(Float32Array.from(keep), GAUSSIANS),
    drop: fitMixture(Float32Array.from(drop), GAUSSIANS),
    trust: 0,
    wholeTrust: 0,
    table: new Float32Array(CELLS ** 3),
  };
  let [sum, own, all] = [0, 0, 0];
  for (const i of inside) {
    const q = Math.exp(-(distance[i] ** 2) / (2 * (WINDOW / 2.5) ** 2));
    sum += q;
    own += q * Math.abs(mask[i] - askWindow(model, cell[i]));
    all += q * Math.abs(mask[i] - whole[cell[i]]);
  }
  model.trust = 1 - own / sum;
  model.wholeTrust = 1 - all / sum;
  return model;
}

/**
 * What the colours of a picture's undecided pixels say: how likely they are the subject's, and how far that is to be trusted.
 * The picture may be a part of the frame from (left, top) on; windows lie where they are on the frame.
 */
export function colourSays(
  { cell, width, height }: LabPicture,
  { left, top }: { left: number; top: number },
  undecided: Uint8Array,
  table: Float32Array,
  { models, centres }: Windows,
): { likely: Float32Array; trust: Float32Array } {
  const n = width * height;
  const likely = new Float32Array(n);
  const trust = new Float32Array(n);
  // Of each pixel, summed over the windows round it, the nearer the more: weight, likelihood, trust in the window and in the whole.
  const sums = new Float32Array(4 * n);
  for (let k = 0; k < models.length; k++) {
    const model = models[k];
    const [cx, cy] = [centres[2 * k] - left - 0.5, centres[2 * k + 1] - top - 0.5];
    for (let y = Math.max(0, Math.ceil(cy - WINDOW)); y <= Math.min(height - 1, cy + WINDOW); y++) {
      const down = (y - cy) ** 2;
      const across = Math.sqrt(WINDOW ** 2 - down);
      const end = y * width + Math.min(width - 1, Math.floor(cx + across));
      const first = y * width + Math.max(0, Math.ceil(cx - across));
      for (let i = first; i <= end; i++) {
        if (!undecided[i]) continue;
        const x = i - y * width - cx;
        const w = 1 / (Math.sqrt(x * x + down) + 4);
        sums[4 * i] += w;
        sums[4 * i + 1] += w * askWindow(model, cell[i]);
        sums[4 * i + 2] += w * model.trust;
        sums[4 * i + 3] += w * model.wholeTrust;
      }
    }
  }
  for (let i = 0; i < n; i++) {
    if (!undecided[i]) continue;
    const p = table[cell[i]];
    const weight = sums[4 * i];
    if (weight === 0) {
      likely[i] = p;
      trust[i] = UNKNOWN_TRUST;
      continue;
    }
    const own = sums[4 * i + 2] / weight;
    const a = Math.max(0.02, own - 0.5) ** 2;
    const b = Math.max(0.02, sums[4 * i + 3] / weight - 0.5) ** 2;
    likely[i] = ((a * sums[4 * i + 1]) / weight + b * p) / (a + b);
    trust[i] = own;
  }
  return { likely, trust };
}

/** The weight that colour has in a decision, by how far it is to be trusted. */
export const colourWeight = (trust: number): number => clamp((trust - 0.35) / 0.5, 0, 1);
