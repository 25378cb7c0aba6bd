/**
 * Direct alignment of a pattern with a picture by the inverse compositional method: S. Baker, I. Matthews, "Lucas-Kanade 20 Years
 * On: A Unifying Framework", IJCV 2004; with gain and offset of the light (A. Bartoli, "Groupwise Geometric and Photometric
 * Direct Image Registration", PAMI 2008) and, where asked, the biweight of Beaton and Tukey (1974) against what hides a part of it.
 */
import { clamp } from '../math/clamp.ts';
import { type Homography, inverseOf, type MotionModel, multiply } from '../math/homography.ts';
import { solveSymmetric } from '../math/solve.ts';
import { alignerFor } from './aligner.ts';
import { smallMotion } from './pattern.ts';
import type { Pyramid } from './pyramid.ts';
import { CELLS, PARAMETERS, type Pattern } from './samples.ts';

export interface Fit {
  /** From the pattern's own coordinates to the plate. */
  homography: number[];
  /** Brightness seen is the pattern's times gain plus offset. */
  gain: number;
  offset: number;
  /** Correlation of what is seen with the pattern, -1 to 1, of the samples that agree; 0 where nothing is to be seen. */
  score: number;
  /** The same of all samples in the picture, by their own weights. */
  plain: number;
  /** Share of the samples in the picture that agree. */
  agreeing: number;
  /** Share of the pattern within the picture. */
  seen: number;
  /** Where what does not agree was left out: the weight of each of its cells, row after row. */
  cells?: Float32Array;
}

export interface AlignOptions {
  model: MotionModel;
  rounds: number;
  /** Leave out what does not agree. */
  robust?: boolean;
  gain?: number;
  offset?: number;
}

/** Samples whose grey value is this far off agree always: grain, compression. */
const GRAIN = 3;
/** Where the biweight ends, in standard deviations. */
const TUKEY = 4.685;

const bins = new Int32Array(513);
const normal = new Float64Array(100);
const right = new Float64Array(10);

const cellSum = new Float64Array(CELLS * CELLS);
const cellCount = new Int32Array(CELLS * CELLS);
const cellWeight = new Float32Array(CELLS * CELLS);

/** Standard deviation of the residuals by their median, in grey levels; never below the grain. */
function spread(residual: Float32Array, n: number): number {
  bins.fill(0);
  let total = 0;
  for (let k = 0; k < n; k++) {
    const r = residual[k];
    if (Number.isNaN(r)) continue;
    bins[Math.min(512, Math.abs(r) * 2) | 0]++;
    total++;
  }
  let below = 0;
  let bin = 0;
  while (bin < 512 && below + bins[bin] < total / 2) below += bins[bin++];
  const median = (bin + (bins[bin] > 0 ? (total / 2 - below) / bins[bin] : 0)) / 2;
  return Math.max(GRAIN, 1.4826 * median);
}

/**
 * Weights of whole cells of the pattern: what hides something hides a piece of it, in which single samples agree by chance. A cell
 * counts in full up to one and a half times the usual residual and not at all from three times on.
 */
function weighCells(residual: Float32Array, cell: Uint8Array, n: number): void {
  cellSum.fill(0);
  cellCount.fill(0);
  for (let k = 0; k < n; k++) {
    const r = residual[k];
    if (Number.isNaN(r)) continue;
    const c = cell[k];
    cellSum[c] += Math.min(10000, r * r);
    cellCount[c]++;
  }
  const means: number[] = [];
  for (let c = 0; c < cellSum.length; c++) {
    cellSum[c] = cellCount[c] > 0 ? Math.sqrt(cellSum[c] / cellCount[c]) : 0;
    if (cellCount[c] >= 4) means.push(cellSum[c]);
  }
  means.sort((a, b) => a - b);
  const usual = Math.max(GRAIN, means.length > 0 ? means[means.length >> 1] : GRAIN);
  for (let c = 0; c < cellSum.length; c++) cellWeight[c] = clamp((3 - cellSum[c] / usual) / 1.5, 0, 1);
}

/**
 * Moves the pattern from `start` to where it agrees with level `level` of a picture. Steps that lead nowhere leave the last place
 * as it is; whether it is any good, the scores say.
 */
export function align(pattern: Pattern, pyramid: Pyramid, level: number, start: Homography, options: AlignOptions): Fit {
  const { model, rounds } = options;
  const n = pattern.u.length;
  const m = PARAMETERS[model];
  // Steps are told apart from none in pixels of this level.
  const small = 0.003 * 2 ** level;
  const aligner = alignerFor(pattern, pyramid, level);
  if (!options.robust) {
    const { homography, gain, offset, score, inside } = aligner.align(start, options.gain ?? 0, options.offset ?? 0, m, rounds, small);
    if (score === null) return { homography, gain: 1, offset: 0, score: 0, plain: 0, agreeing: 0, seen: n > 0 ? inside / n : 0 };
    return { homography, gain, offset, score, plain: score, agreeing: 1, seen: inside / n };
  }
  const k2 = m + 2;
  let homography = [...start];
  let { gain, offset } = { gain: options.gain ?? 0, offset: options.offset ?? 0 };
  let agreeing = 1;
  let inside = aligner.look(homography);
  const nothing = () => ({ homography, gain: 1, offset: 0, score: 0, plain: 0, agreeing: 0, seen: n > 0 ? inside / n : 0 });
  for (let round = 0; ; round++) {
    if (inside < Math.max(k2 + 1, n * 0.1)) return nothing();
    if (round === 0 && !(gain > 0)) {
      const light = aligner.light(false);
      // A picture that is unlike the pattern says nothing about the light.
      gain = light.score > 0.3 ? clamp(light.gain, 0.25, 4) : 1;
      offset = light.score > 0.3 ? light.offset : 0;
    }
    const residual = aligner.residuals(gain, offset);
    const reach = TUKEY * spread(residual, n);
    weighCells(residual, pattern.cell, n);
    agreeing = aligner.weigh(reach, cellWeight) / inside;
    if (round === rounds) break;
    const total = aligner.sums(m, right, normal);
    // What the grain alone could say holds each parameter of the motion back: plain patterns stay where they are.
    for (let i = 0; i < m; i++) normal[i * k2 + i] += 0.05 * total;
    normal[m * k2 + m] += 1e-3 * total;
    normal[(m + 1) * k2 + m + 1] += 1e-9 * total;
    if (!solveSymmetric(normal, right, k2)) break;
    const back = inverseOf(smallMotion(model, right));
    if (!back) break;
    const next = multiply(homography, back);
    if (!next.every(Number.isFinite) || !(next[8] > 1e-6)) break;
    const size = Math.sqrt(Math.abs(homography[0] * homography[4] - homography[1] * homography[3]));
    let step = 0;
    for (let i = 0; i < m; i++) step = Math.max(step, Math.abs(right[i]));
    homography = next.map((x) => x / next[8]);
    const gained = gain * (1 + right[m]);
    offset += gain * right[m + 1];
    gain = clamp(gained, 0.1, 8);
    inside = aligner.look(homography);
    if (step * size < small) break;
  }
  const light = aligner.light(true);
  return { homography, gain, offset, score: light.score, plain: aligner.light(false).score, agreeing, seen: inside / n, cells: cellWeight.slice() };
}
