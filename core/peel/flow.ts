/**
 * Dense motion from one picture to another by inverse search: T. Kroeger, R. Timofte, D. Dai, L. Van Gool, "Fast Optical Flow
 * using Dense Inverse Search", ECCV 2016. Patches also try the motion of their neighbours (as in PatchMatch, Barnes et al.
 * 2009); there is no smoothing of the field.
 */

/** One channel of a picture, any unit. */
export interface Channel {
  width: number;
  height: number;
  data: Float32Array;
}

/** For each pixel of the first picture where it has gone: x and y in pixels, one after the other. */
export interface Flow {
  width: number;
  height: number;
  data: Float32Array;
}

const PATCH = 8;
const STRIDE = 3;
const ROUNDS = 8;
/** Smallest side of the coarsest level. */
const COARSEST = 20;
/** A patch that moves farther than this from where it began its search has lost its way. */
const ASTRAY = PATCH;

export function half({ width, height, data }: Channel): Channel {
  const [w, h] = [width >> 1, height >> 1];
  const out = new Float32Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = 2 * y * width + 2 * x;
      out[y * w + x] = (data[i] + data[i + 1] + data[i + width] + data[i + width + 1]) / 4;
    }
  return { width: w, height: h, data: out };
}

export function pyramidOf(channel: Channel): Channel[] {
  const levels = [channel];
  for (let last = channel; Math.min(last.width, last.height) >= 2 * COARSEST; levels.push(last)) last = half(last);
  return levels;
}

/** The value at a place, bilinear, borders repeated. */
function sample(data: Float32Array, width: number, height: number, x: number, y: number): number {
  const cx = x < 0 ? 0 : Math.min(x, width - 1);
  const cy = y < 0 ? 0 : Math.min(y, height - 1);
  const x0 = cx | 0;
  const y0 = cy | 0;
  const x1 = x0 < width - 1 ? x0 + 1 : x0;
  const y1 = y0 < height - 1 ? y0 + 1 : y0;
  const fx = cx - x0;
  const fy = cy - y0;
  const a = data[y0 * width + x0];
  const b = data[y0 * width + x1];
  const c = data[y1 * width + x0];
  const d = data[y1 * width + x1];
  return a + (b - a) * fx + (c - a + (a - b - c + d) * fx) * fy;
}

const gradX = new Float32Array(PATCH * PATCH);
const gradY = new Float32Array(PATCH * PATCH);
const own = new Float32Array(PATCH * PATCH);
const other = new Float32Array(PATCH * PATCH);

/** Fills `other` with the patch moved by (u, v), its mean made that of `own`; gives the mean squared difference. */
function compare({ data, width, height }: Channel, px: number, py: number, u: number, v: number): number {
  let mean = 0;
  const [x0, y0] = [Math.floor(px + u), Math.floor(py + v)];
  if (x0 >= 0 && y0 >= 0 && x0 + PATCH < width && y0 + PATCH < height) {
    // All of the patch lies as far between its pixels.
    const fx = px + u - x0;
    const fy = py + v - y0;
    const [a, b, c, d] = [(1 - fx) * (1 - fy), fx * (1 - fy), (1 - fx) * fy, fx * fy];
    for (let k = 0, y = 0; y < PATCH; y++) {
      let at = (y0 + y) * width + x0;
      let left = data[at] * a + data[at + width] * c;
      for (let x = 0; x < PATCH; x++, k++) {
        at++;
        const [upper, lower] = [data[at], data[at + width]];
        const value = left + upper * b + lower * d;
        left = upper * a + lower * c;
        other[k] = value;
        mean += value - own[k];
      }
    }
  } else
    for (let k = 0, y = 0; y < PATCH; y++)
      for (let x = 0; x < PATCH; x++, k++) {
        other[k] = sample(data, width, height, px + x + u, py + y + v);
        mean += other[k] - own[k];
      }
  mean /= PATCH * PATCH;
  let sum = 0;
  for (let k = 0; k < PATCH * PATCH; k++) {
    const e = other[k] - mean - own[k];
    other[k] -= mean;
    sum += e * e;
  }
  return sum / (PATCH * PATCH);
}

/** Loads the patch of the first picture at (px, py) with its gradients; gives what inverts its normal equations, or null where it is plain. */
function loadPatch(first: Channel, px: number, py: number): [number, number, number] | null {
  const { data, width, height } = first;
  let [xx, xy, yy] = [0, 0, 0];
  for (let k = 0, y = 0; y < PATCH; y++)
    for (let x = 0; x < PATCH; x++, k++) {
      const [i, j] = [px + x, py + y];
      const at = j * width + i;
      own[k] = data[at];
      const gx = (data[i < width - 1 ? at + 1 : at] - data[i > 0 ? at - 1 : at]) / 2;
      const gy = (data[j < height - 1 ? at + width : at] - data[j > 0 ? at - width : at]) / 2;
      gradX[k] = gx;
      gradY[k] = gy;
      xx += gx * gx;
      xy += gx * gy;
      yy += gy * gy;
    }
  // A grain of noise keeps a straight edge from sliding along itself.
  xx += 1;
  yy += 1;
  const det = xx * yy - xy * xy;
  return det > 1e-6 ? [yy / det, -xy / det, xx / det] : null;
}

function level(first: Channel, second: Channel, before: Flow | null): Flow {
  const { width, height } = first;
  const columns = Math.max(1, Math.floor((width - PATCH) / STRIDE) + 1);
  const rows = Math.max(1, Math.floor((height - PATCH) / STRIDE) + 1);
  const u = new Float32Array(columns * rows);
  const v = new Float32Array(columns * rows);
  const cost = new Float32Array(columns * rows);
  if (before)
    for (let r = 0; r < rows; r++)
      for (let c = 0; c < columns; c++) {
        const x = Math.min(before.width - 1, (c * STRIDE + PATCH / 2) >> 1);
        const y = Math.min(before.height - 1, (r * STRIDE + PATCH / 2) >> 1);
        u[r * columns + c] = 2 * before.data[2 * (y * before.width + x)];
        v[r * columns + c] = 2 * before.data[2 * (y * before.width + x) + 1];
      }
  for (let pass = 0; pass < 2; pass++) {
    for (let k = 0; k < columns * rows; k++) {
      // The second pass goes from the end, so that good motion spreads both ways.
      const p = pass === 0 ? k : columns * rows - 1 - k;
      const [c, r] = [p % columns, (p / columns) | 0];
      const [px, py] = [c * STRIDE, r * STRIDE];
      const inverse = loadPatch(first, px, py);
      let best = compare(second, px, py, u[p], v[p]);
      const side = pass === 0 ? -1 : 1;
      const across = c + side >= 0 && c + side < columns ? p + side : -1;
      const along = r + side >= 0 && r + side < rows ? p + side * columns : -1;
      for (let n = 0; n < 2; n++) {
        const q = n === 0 ? across : along;
        if (q < 0 || (u[q] === u[p] && v[q] === v[p])) continue;
        const there = compare(second, px, py, u[q], v[q]);
        if (there < best) {
          best = there;
          u[p] = u[q];
          v[p] = v[q];
        }
      }
      if (inverse) {
        const [u0, v0] = [u[p], v[p]];
        let [du, dv] = [u0, v0];
        for (let round = 0; round < ROUNDS; round++) {
          const now = compare(second, px, py, du, dv);
          if (now < best) {
            best = now;
            u[p] = du;
            v[p] = dv;
          } else if (round > 0 && now > best * 1.2) break;
          let [ex, ey] = [0, 0];
          for (let i = 0; i < PATCH * PATCH; i++) {
            const e = other[i] - own[i];
            ex += e * gradX[i];
            ey += e * gradY[i];
          }
          const [sx, sy] = [inverse[0] * ex + inverse[1] * ey, inverse[1] * ex + inverse[2] * ey];
          du -= sx;
          dv -= sy;
          if (Math.abs(du - u0) > ASTRAY || Math.abs(dv - v0) > ASTRAY || sx * sx + sy * sy < 1e-4) break;
        }
        const last = compare(second, px, py, du, dv);
        if (last < best && Math.abs(du - u0) <= ASTRAY && Math.abs(dv - v0) <= ASTRAY) {
          best = last;
          u[p] = du;
          v[p] = dv;
        }
      }
      cost[p] = best;
    }
  }
  // Each pixel takes the mean motion of the patches over it, the better ones counting for more.
  const data = new Float32Array(2 * width * height);
  const weight = new Float32Array(width * height);
  for (let p = 0; p < columns * rows; p++) {
    const [px, py] = [(p % columns) * STRIDE, ((p / columns) | 0) * STRIDE];
    const w = 1 / Math.max(1, cost[p]);
    for (let y = 0; y < PATCH && py + y < height; y++)
      for (let x = 0; x < PATCH && px + x < width; x++) {
        const i = (py + y) * width + px + x;
        data[2 * i] += w * u[p];
        data[2 * i + 1] += w * v[p];
        weight[i] += w;
      }
  }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (weight[i] > 0) {
        data[2 * i] /= weight[i];
        data[2 * i + 1] /= weight[i];
        continue;
      }
      // The last few pixels no patch covers.
      const j = Math.min(y, (rows - 1) * STRIDE + PATCH - 1) * width + Math.min(x, (columns - 1) * STRIDE + PATCH - 1);
      data[2 * i] = data[2 * j];
      data[2 * i + 1] = data[2 * j + 1];
    }
  return { width, height, data };
}

/** Motion from the first to the second picture, by their pyramids; both of one size. None where they are smaller than a patch. */
export function flowBetween(first: readonly Channel[], second: readonly Channel[]): Flow {
  const { width, height } = first[0];
  if (width < PATCH || height < PATCH) return { width, height, data: new Float32Array(2 * width * height) };
  let flow: Flow | null = null;
  for (let k = first.length - 1; k >= 0; k--) flow = level(first[k], second[k], flow);
  if (!flow) throw new RangeError('There is no picture to find motion in.');
  return flow;
}
