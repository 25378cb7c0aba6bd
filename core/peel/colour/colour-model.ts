/**
 * What colours the subject and its surroundings have: two mixtures of Gaussians in L*a*b*, fitted to the stroked pixels
 * (C. Rother, V. Kolmogorov, A. Blake, "GrabCut", SIGGRAPH 2004), tabled over the cells of the colour cube.
 */
import { clamp } from '../../math/clamp.ts';
import { borrowKernels } from '../../wasm/host.ts';
import { CELLS, labOf } from '../picture/lab.ts';

/** Added to each variance: the grain of a picture, so that a flat colour does not make a needle. */
const GRAIN = 4;
const ROUNDS = 6;

/** Gaussians of one mixture: for each the log of its weight over its norm, its mean (3) and its inverse covariance (6). */
export interface Mixture {
  count: number;
  /** 10 numbers each: log factor, mean L a b, inverse covariance LL La Lb aa ab bb. */
  terms: Float64Array;
}

const TERM = 10;

/**
 * Fits a mixture to `samples` (L, a, b each) with weights, by expectation and maximisation from a spread of first means that
 * are far apart (Gonzalez 1985), so that it needs no chance.
 */
export function fitMixture(samples: Float32Array, count: number): Mixture {
  const n = samples.length / 3;
  const k = clamp(n, 1, count);
  const padded = Math.ceil(n / 4) * 4;
  // Layout, in floats: L | a | b | weights | terms | scratch | sums, of four lanes each.
  const atTerms = 4 * padded;
  const atScratch = atTerms + Math.ceil((TERM * k) / 4) * 4;
  const atSums = atScratch + 4 * k;
  const { kernels, floats } = borrowKernels(atSums + 4 * TERM * k);
  floats.fill(0, 0, atTerms);
  for (let i = 0; i < n; i++) {
    for (let c = 0; c < 3; c++) floats[c * padded + i] = samples[3 * i + c];
    floats[3 * padded + i] = 1;
  }
  let mixture = maximise(sumsByNearest(samples, n, farApart(samples, n, k), k), n, k);
  const sums = new Float64Array(TERM * k);
  for (let round = 0; round < ROUNDS; round++) {
    floats.set(mixture.terms, atTerms);
    kernels.mixtureSums(0, 4 * padded, 8 * padded, 12 * padded, padded, 4 * atTerms, k, 4 * atScratch, 4 * atSums);
    for (let i = 0; i < sums.length; i++) {
      const at = atSums + 4 * i;
      sums[i] = floats[at] + floats[at + 1] + floats[at + 2] + floats[at + 3];
    }
    mixture = maximise(sums, n, k);
  }
  return mixture;
}

/** For each mean what the samples nearest to it add up to: their number, sums, and sums of products. */
function sumsByNearest(samples: Float32Array, n: number, means: Float64Array, k: number): Float64Array {
  const sums = new Float64Array(TERM * k);
  for (let i = 0; i < n; i++) {
    let best = 0;
    let least = Number.POSITIVE_INFINITY;
    for (let c = 0; c < k; c++) {
      const d = squared(samples, 3 * i, means, 3 * c);
      if (d < least) {
        least = d;
        best = c;
      }
    }
    const l = samples[3 * i];
    const a = samples[3 * i + 1];
    const b = samples[3 * i + 2];
    const at = TERM * best;
    sums[at]++;
    sums[at + 1] += l;
    sums[at + 2] += a;
    sums[at + 3] += b;
    sums[at + 4] += l * l;
    sums[at + 5] += l * a;
    sums[at + 6] += l * b;
    sums[at + 7] += a * a;
    sums[at + 8] += a * b;
    sums[at + 9] += b * b;
  }
  return sums;
}

const squared = (a: ArrayLike<number>, i: number, b: ArrayLike<number>, j: number): number =>
  (a[i] - b[j]) ** 2 + (a[i + 1] - b[j + 1]) ** 2 + (a[i + 2] - b[j + 2]) ** 2;

function farApart(samples: Float32Array, n: number, k: number): Float64Array {
  const means = new Float64Array(3 * k);
  for (let c = 0; c < 3; c++) {
    for (let i = 0; i < n; i++) means[c] += samples[3 * i + c];
    means[c] /= n;
  }
  const nearest = new Float64Array(n).fill(Number.POSITIVE_INFINITY);
  for (let c = 1; c < k; c++) {
    let far = 0;
    for (let i = 0; i < n; i++) {
      nearest[i] = Math.min(nearest[i], squared(samples, 3 * i, means, 3 * (c - 1)));
      if (nearest[i] > nearest[far]) far = i;
    }
    for (let d = 0; d < 3; d++) means[3 * c + d] = samples[3 * far + d];
  }
  return means;
}

/** The Gaussians whose samples add up to these sums, of `n` samples in all. */
function maximise(sums: Float64Array, n: number, k: number): Mixture {
  const terms = new Float64Array(TERM * k);
  for (let c = 0; c < k; c++) {
    const at = TERM * c;
    const weight = Math.max(sums[at], 1e-9);
    const ml = sums[at + 1] / weight;
    const ma = sums[at + 2] / weight;
    const mb = sums[at + 3] / weight;
    const ll = Math.max(0, sums[at + 4] / weight - ml * ml) + GRAIN;
    const la = sums[at + 5] / weight - ml * ma;
    const lb = sums[at + 6] / weight - ml * mb;
    const aa = Math.max(0, sums[at + 7] / weight - ma * ma) + GRAIN;
    const ab = sums[at + 8] / weight - ma * mb;
    const bb = Math.max(0, sums[at + 9] / weight - mb * mb) + GRAIN;
    const [i00, i01, i02] = [aa * bb - ab * ab, lb * ab - la * bb, la * ab - aa * lb];
    const det = Math.max(1e-9, ll * i00 + la * i01 + lb * i02);
    terms[at] = Math.log(weight / n) - 0.5 * Math.log(det) - 1.5 * Math.log(2 * Math.PI);
    terms.set([ml, ma, mb, i00 / det, i01 / det, i02 / det, (ll * bb - lb * lb) / det, (la * lb - ll * ab) / det, (ll * aa - la * la) / det], at + 1);
  }
  return { count: k, terms };
}

/** The log of one Gaussian's share in the density at a colour. */
function logTerm(t: Float64Array, c: number, l: number, a: number, b: number): number {
  const k = TERM * c;
  const dl = l - t[k + 1];
  const da = a - t[k + 2];
  const db = b - t[k + 3];
  return t[k] - 0.5 * (t[k + 4] * dl * dl + t[k + 7] * da * da + t[k + 9] * db * db + 2 * (t[k + 5] * dl * da + t[k + 6] * dl * db + t[k + 8] * da * db));
}

/** Below this a share is far less than FLOOR, and not worth an exponential. */
const NOTHING = -40;

/** The density of a mixture at a colour. */
export function density({ count, terms }: Mixture, l: number, a: number, b: number): number {
  let sum = 0;
  for (let c = 0; c < count; c++) {
    const log = logTerm(terms, c, l, a, b);
    if (log > NOTHING) sum += Math.exp(log);
  }
  return sum;
}

/** How far a colour that neither side knows is drawn to doubt: a density that both sides have everywhere. */
const FLOOR = 1e-8;

const WIDE = 256 / CELLS;
const middleOf = (part: number): number => (part & (CELLS - 1)) * WIDE + WIDE / 2;
let cellColours: Float32Array | undefined;

/** L, a and b of the middle of every cell of the colour cube. */
function coloursOfCells(): Float32Array {
  if (cellColours) return cellColours;
  cellColours = new Float32Array(3 * CELLS ** 3);
  for (let cell = 0; cell < CELLS ** 3; cell++) labOf(middleOf(cell >> 10), middleOf(cell >> 5), middleOf(cell), cellColours, 3 * cell);
  return cellColours;
}

/** How likely a pixel of this cell of the colour cube is the subject's, by the cell's middle, in [0,1]. */
export function posteriorOf(keep: Mixture, drop: Mixture, cell: number): number {
  const lab = coloursOfCells();
  const k = density(keep, lab[3 * cell], lab[3 * cell + 1], lab[3 * cell + 2]) + FLOOR;
  const d = density(drop, lab[3 * cell], lab[3 * cell + 1], lab[3 * cell + 2]) + FLOOR;
  return k / (k + d);
}

/** The same for the cells that are asked for, all of them where nothing is said; 0 for the others. */
export function posteriorTable(keep: Mixture, drop: Mixture, cells: Uint16Array | null = null): Float32Array {
  const table = new Float32Array(CELLS ** 3);
  if (cells) for (let i = 0; i < cells.length; i++) table[cells[i]] = posteriorOf(keep, drop, cells[i]);
  else for (let cell = 0; cell < table.length; cell++) table[cell] = posteriorOf(keep, drop, cell);
  return table;
}

/** The log of the odds of a share, which is kept `least` away from 0 and 1. */
export function logitOf(share: number, least: number): number {
  const p = clamp(share, least, 1 - least);
  return Math.log(p / (1 - p));
}
