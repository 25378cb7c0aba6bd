/**
 * Direct alignment of a pattern with a picture by the inverse compositional method: S. Baker, I. Matthews, "Lucas-Kanade 20 Years
 * On: A Unifying Framework", IJCV 2004; with gain and offset of the light (A. Bartoli, "Groupwise Geometric and Photometric
 * Direct Image Registration", PAMI 2008) and, where asked, the biweight of Beaton and Tukey (1974) against what hides a part of it.
 */
import { composed, type Homography, inverseOf, type MotionModel } from '../math/homography.ts';
import { solveSymmetric } from '../math/solve.ts';
import type { Levels } from './levels.ts';
import { changesOf, PARAMETERS, type Pattern, productsOf, smallMotion, wholeProducts } from './pattern.ts';

export interface Fit {
  /** From the pattern's own coordinates to the plate. */
  place: number[];
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
const MOST = 20000;

const seenValue = new Float32Array(MOST);
const residual = new Float32Array(MOST);
const counted = new Float32Array(MOST);
const bins = new Int32Array(513);
const normal = new Float64Array(100);
const right = new Float64Array(10);

/** Values of the picture where `place` puts the samples; gives how many lie in it. Others are NaN. */
function look({ u, v }: Pattern, levels: Levels, level: number, place: Homography): number {
  const { width, height, data } = levels.images[level];
  const scale = 2 ** -level;
  const [a, b, c, d, e, f, g, h, i] = [
    place[0] * scale,
    place[1] * scale,
    place[2] * scale,
    place[3] * scale,
    place[4] * scale,
    place[5] * scale,
    place[6],
    place[7],
    place[8],
  ];
  const left = levels.left * scale + 0.5;
  const top = levels.top * scale + 0.5;
  let inside = 0;
  for (let k = 0; k < u.length; k++) {
    const w = g * u[k] + h * v[k] + i;
    const x = (a * u[k] + b * v[k] + c) / w - left;
    const y = (d * u[k] + e * v[k] + f) / w - top;
    if (!(x >= 0 && y >= 0 && x < width - 1 && y < height - 1)) {
      seenValue[k] = Number.NaN;
      continue;
    }
    const x0 = x | 0;
    const y0 = y | 0;
    const p = y0 * width + x0;
    const fx = x - x0;
    const upper = data[p] + (data[p + 1] - data[p]) * fx;
    const lower = data[p + width] + (data[p + width + 1] - data[p + width]) * fx;
    seenValue[k] = upper + (lower - upper) * (y - y0);
    inside++;
  }
  return inside;
}

/** Standard deviation of the residuals by their median, in grey levels; never below the grain. */
function spread(n: number): number {
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

/** Cells of a pattern each way, over its own square. */
export const CELLS = 8;
const cellSum = new Float64Array(CELLS * CELLS);
const cellCount = new Int32Array(CELLS * CELLS);
const cellWeight = new Float32Array(CELLS * CELLS);
export const cellOf = (u: number, v: number): number => Math.min(CELLS - 1, ((u + 1) * CELLS) >> 1) + CELLS * Math.min(CELLS - 1, ((v + 1) * CELLS) >> 1);

/**
 * Weights of whole cells of the pattern: what hides something hides a piece of it, in which single samples agree by chance. A cell
 * counts in full up to one and a half times the usual residual and not at all from three times on.
 */
function weighCells({ u, v }: Pattern): void {
  cellSum.fill(0);
  cellCount.fill(0);
  for (let k = 0; k < u.length; k++) {
    const r = residual[k];
    if (Number.isNaN(r)) continue;
    const c = cellOf(u[k], v[k]);
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
  for (let c = 0; c < cellSum.length; c++) cellWeight[c] = Math.max(0, Math.min(1, (3 - cellSum[c] / usual) / 1.5));
}

/** Gain and offset that bring the pattern nearest to what is seen, by the weights of the samples. */
function lightOf(pattern: Pattern, weight: Float32Array): { gain: number; offset: number; score: number } {
  const { value } = pattern;
  let [sw, st, si, stt, sti, sii] = [0, 0, 0, 0, 0, 0];
  for (let k = 0; k < value.length; k++) {
    const i = seenValue[k];
    if (Number.isNaN(i)) continue;
    const w = weight[k];
    const t = value[k];
    sw += w;
    st += w * t;
    si += w * i;
    stt += w * t * t;
    sti += w * t * i;
    sii += w * i * i;
  }
  if (!(sw > 0)) return { gain: 1, offset: 0, score: 0 };
  const vt = stt / sw - (st / sw) ** 2;
  const vi = sii / sw - (si / sw) ** 2;
  const vti = sti / sw - (st / sw) * (si / sw);
  const gain = vt > 1e-6 ? vti / vt : 1;
  return { gain, offset: si / sw - (gain * st) / sw, score: vt > 1e-6 && vi > 1e-6 ? vti / Math.sqrt(vt * vi) : 0 };
}

/**
 * Moves the pattern from `start` to where it agrees with level `level` of a picture. Steps that lead nowhere leave the last place
 * as it is; whether it is any good, the scores say.
 */
export function align(pattern: Pattern, levels: Levels, level: number, start: Homography, options: AlignOptions): Fit {
  const { model, rounds, robust = false } = options;
  const n = pattern.u.length;
  const m = PARAMETERS[model];
  const k2 = m + 2;
  const changes = changesOf(pattern, model);
  let place = [...start];
  let { gain, offset } = { gain: options.gain ?? 0, offset: options.offset ?? 0 };
  let inside = 0;
  let agreeing = 1;
  // Steps are told apart from none in pixels of this level.
  const small = 0.003 * 2 ** level;
  for (let round = 0; ; round++) {
    inside = look(pattern, levels, level, place);
    if (inside < Math.max(k2 + 1, n * 0.1)) return { place, gain: 1, offset: 0, score: 0, plain: 0, agreeing: 0, seen: n > 0 ? inside / n : 0 };
    if (round === 0 && !(gain > 0)) {
      const light = lightOf(pattern, pattern.weight);
      // A picture that is unlike the pattern says nothing about the light.
      gain = light.score > 0.3 ? Math.min(4, Math.max(0.25, light.gain)) : 1;
      offset = light.score > 0.3 ? light.offset : 0;
    }
    const { value, weight } = pattern;
    for (let k = 0; k < n; k++) residual[k] = (seenValue[k] - offset) / gain - value[k];
    if (robust) {
      const reach = TUKEY * spread(n);
      weighCells(pattern);
      let agree = 0;
      for (let k = 0; k < n; k++) {
        const q = residual[k] / reach;
        const inlier = q * q < 1 ? (1 - q * q) ** 2 * cellWeight[cellOf(pattern.u[k], pattern.v[k])] : 0;
        counted[k] = weight[k] * inlier;
        if (inlier > 0.25) agree++;
      }
      agreeing = agree / inside;
    } else for (let k = 0; k < n; k++) counted[k] = Number.isNaN(seenValue[k]) ? 0 : weight[k];
    if (round === rounds) break;
    if (!robust && inside === n) normal.set(wholeProducts(pattern, model));
    else productsOf(changes, counted, k2, normal);
    right.fill(0);
    let total = 0;
    for (let k = 0, o = 0; k < n; k++, o += k2) {
      const w = counted[k];
      if (!(w > 0)) continue;
      total += w;
      const wr = w * residual[k];
      for (let i = 0; i < k2; i++) right[i] += wr * changes[o + i];
    }
    // What the grain alone could say holds each parameter of the motion back: plain patterns stay where they are.
    for (let i = 0; i < m; i++) normal[i * k2 + i] += 0.05 * total;
    normal[m * k2 + m] += 1e-3 * total;
    normal[(m + 1) * k2 + m + 1] += 1e-9 * total;
    if (!solveSymmetric(normal, right, k2)) break;
    const back = inverseOf(smallMotion(model, right));
    if (!back) break;
    const next = composed(place, back);
    if (!next.every(Number.isFinite) || !(next[8] > 1e-6)) break;
    const size = Math.sqrt(Math.abs(place[0] * place[4] - place[1] * place[3]));
    let step = 0;
    for (let i = 0; i < m; i++) step = Math.max(step, Math.abs(right[i]));
    place = next.map((x) => x / next[8]);
    const gained = gain * (1 + right[m]);
    offset += gain * right[m + 1];
    gain = Math.min(8, Math.max(0.1, gained));
    if (step * size < small) {
      inside = look(pattern, levels, level, place);
      break;
    }
  }
  const light = lightOf(pattern, counted);
  const plain = robust ? lightOf(pattern, pattern.weight).score : light.score;
  return { place, gain, offset, score: light.score, plain, agreeing, seen: inside / n, ...(robust ? { cells: cellWeight.slice() } : {}) };
}
