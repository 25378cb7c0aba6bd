/**
 * What colours the subject and its surroundings have: two mixtures of Gaussians in L*a*b*, fitted to the stroked pixels
 * (C. Rother, V. Kolmogorov, A. Blake, "GrabCut", SIGGRAPH 2004), tabled over the cells of the colour cube.
 */
import { CELLS, labOf } from './lab.ts';

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
  const k = Math.max(1, Math.min(count, n));
  const means = farApart(samples, n, k);
  const share = new Float64Array(n * k);
  // First by the nearest mean, then softly.
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
    share[i * k + best] = 1;
  }
  let mixture = maximise(samples, share, n, k);
  for (let round = 0; round < ROUNDS; round++) {
    for (let i = 0; i < n; i++) {
      let most = Number.NEGATIVE_INFINITY;
      for (let c = 0; c < k; c++) {
        const v = logTerm(mixture.terms, c, samples[3 * i], samples[3 * i + 1], samples[3 * i + 2]);
        share[i * k + c] = v;
        if (v > most) most = v;
      }
      let sum = 0;
      for (let c = 0; c < k; c++) {
        share[i * k + c] = Math.exp(share[i * k + c] - most);
        sum += share[i * k + c];
      }
      for (let c = 0; c < k; c++) share[i * k + c] /= sum;
    }
    mixture = maximise(samples, share, n, k);
  }
  return mixture;
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

function maximise(samples: Float32Array, share: Float64Array, n: number, k: number): Mixture {
  const terms = new Float64Array(TERM * k);
  for (let c = 0; c < k; c++) {
    let weight = 0;
    let [ml, ma, mb] = [0, 0, 0];
    for (let i = 0; i < n; i++) {
      const w = share[i * k + c];
      weight += w;
      ml += w * samples[3 * i];
      ma += w * samples[3 * i + 1];
      mb += w * samples[3 * i + 2];
    }
    const safe = Math.max(weight, 1e-9);
    [ml, ma, mb] = [ml / safe, ma / safe, mb / safe];
    let [ll, la, lb, aa, ab, bb] = [0, 0, 0, 0, 0, 0];
    for (let i = 0; i < n; i++) {
      const w = share[i * k + c];
      const dl = samples[3 * i] - ml;
      const da = samples[3 * i + 1] - ma;
      const db = samples[3 * i + 2] - mb;
      ll += w * dl * dl;
      la += w * dl * da;
      lb += w * dl * db;
      aa += w * da * da;
      ab += w * da * db;
      bb += w * db * db;
    }
    ll = ll / safe + GRAIN;
    aa = aa / safe + GRAIN;
    bb = bb / safe + GRAIN;
    [la, lb, ab] = [la / safe, lb / safe, ab / safe];
    const [i00, i01, i02] = [aa * bb - ab * ab, lb * ab - la * bb, la * ab - aa * lb];
    const det = Math.max(1e-9, ll * i00 + la * i01 + lb * i02);
    const at = TERM * c;
    terms[at] = Math.log(Math.max(weight, 1e-9) / n) - 0.5 * Math.log(det) - 1.5 * Math.log(2 * Math.PI);
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

/** The density of a mixture at a colour. */
export function density({ count, terms }: Mixture, l: number, a: number, b: number): number {
  let sum = 0;
  for (let c = 0; c < count; c++) sum += Math.exp(logTerm(terms, c, l, a, b));
  return sum;
}

/** How far a colour that neither side knows is drawn to doubt: a density that both sides have everywhere. */
const FLOOR = 1e-8;

const lab = new Float32Array(3);
const WIDE = 256 / CELLS;
const middleOf = (part: number): number => (part & (CELLS - 1)) * WIDE + WIDE / 2;

/** How likely a pixel of this cell of the colour cube is the subject's, by the cell's middle, in [0,1]. */
export function posteriorOf(keep: Mixture, drop: Mixture, cell: number): number {
  labOf(middleOf(cell >> 10), middleOf(cell >> 5), middleOf(cell), lab, 0);
  const k = density(keep, lab[0], lab[1], lab[2]) + FLOOR;
  const d = density(drop, lab[0], lab[1], lab[2]) + FLOOR;
  return k / (k + d);
}

/** The same for all cells. */
export const posteriorTable = (keep: Mixture, drop: Mixture): Float32Array =>
  Float32Array.from({ length: CELLS ** 3 }, (_, cell) => posteriorOf(keep, drop, cell));

/** The log of the odds of a share, which is kept `least` away from 0 and 1. */
export function logitOf(share: number, least: number): number {
  const p = Math.min(1 - least, Math.max(least, share));
  return Math.log(p / (1 - p));
}
