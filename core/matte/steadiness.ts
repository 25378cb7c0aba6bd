/**
 * Steadiness: outlines smoothed over time along their own motion. Each stretch of outline is followed into the frames round
 * it by block matching of signed distances, an even motion is fitted to what was found (so that trembling does not pass for
 * motion), and the distances there, brought back along it, are averaged.
 */
import type { Size } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';

/** Weight of the frame itself against each neighbour's: binomial over five frames. */
const OWN = 6;
const NEXT = 4;
const FAR = 1;

/** Share that the two next neighbours have where there are no others. */
export const NEIGHBOURS = (2 * NEXT) / (OWN + 2 * NEXT);

/** Signed distances of a whole picture, positive inside, clamped. */
export type Distances = Float32Array;

const BLOCK = 24;
/** Motion searched for, in pixels a frame away from the whole outline's own motion. */
const SEARCH = 6;
const SAMPLE = 3;
/** What a pixel of motion away from the whole's own costs, so that along a straight edge nothing is made up. */
const STIFFNESS = 0.02;

function centroid(field: Distances, { width, height }: Size): { x: number; y: number; area: number } {
  let x = 0;
  let y = 0;
  let area = 0;
  for (let row = 0; row < height; row += 2)
    for (let column = 0; column < width; column += 2)
      if (field[row * width + column] > 0) {
        x += column;
        y += row;
        area++;
      }
  return { x: x / Math.max(1, area), y: y / Math.max(1, area), area };
}

const sample = (field: Distances, { width, height }: Size, x: number, y: number): number => {
  const cx = clamp(x, 0, width - 1.001);
  const cy = clamp(y, 0, height - 1.001);
  const ix = Math.floor(cx);
  const iy = Math.floor(cy);
  const fx = cx - ix;
  const fy = cy - iy;
  const i = iy * width + ix;
  const top = field[i] + (field[i + 1] - field[i]) * fx;
  const bottom = field[i + width] + (field[i + width + 1] - field[i + width]) * fx;
  return top + (bottom - top) * fy;
};

/**
 * The distances of the middle frame, steadied.
 * @param fields distances on the frames round it: [before…, the frame itself, after…], an odd number; null where there is none
 * @param reach what they are clamped to, pixels
 * @param strength 0 leaves the frame as it is, 1 takes the whole mean
 */
export function steadied(fields: readonly (Distances | null)[], size: Size, reach: number, strength: number): Distances {
  const { width, height } = size;
  const middle = fields.length >> 1;
  const own = fields[middle] as Distances;
  const around = fields.flatMap((field, i) => (field && i !== middle ? [{ field, step: i - middle }] : []));
  if (around.length === 0) return own;
  const here = centroid(own, size);
  const whole = around.map(({ field, step }) => {
    const there = centroid(field, size);
    // An outline that goes out of the picture moves its centre of mass, not itself.
    const alike = Math.min(there.area, here.area) / Math.max(1, there.area, here.area) > 0.8;
    return alike ? { x: (there.x - here.x) / step, y: (there.y - here.y) / step } : { x: 0, y: 0 };
  });
  const meanX = Math.round(whole.reduce((s, w) => s + w.x, 0) / whole.length);
  const meanY = Math.round(whole.reduce((s, w) => s + w.y, 0) / whole.length);
  const columns = Math.ceil(width / BLOCK);
  const rows = Math.ceil(height / BLOCK);
  const vx = new Float32Array(columns * rows).fill(meanX);
  const vy = new Float32Array(columns * rows).fill(meanY);
  const busy = new Uint8Array(columns * rows);
  const near = Math.min(reach, 8);
  for (let by = 0; by < rows; by++)
    for (let bx = 0; bx < columns; bx++) {
      const points: number[] = [];
      for (let y = by * BLOCK; y < Math.min(height, (by + 1) * BLOCK); y += SAMPLE)
        for (let x = bx * BLOCK; x < Math.min(width, (bx + 1) * BLOCK); x += SAMPLE) if (Math.abs(own[y * width + x]) < near) points.push(x, y);
      if (points.length === 0) continue;
      const b = by * columns + bx;
      busy[b] = 1;
      let best = Number.POSITIVE_INFINITY;
      for (let dy = -SEARCH; dy <= SEARCH; dy++)
        for (let dx = -SEARCH; dx <= SEARCH; dx++) {
          let cost = STIFFNESS * (dx * dx + dy * dy) * (points.length / 2) * around.length;
          for (const { field, step } of around) {
            for (let i = 0; i < points.length; i += 2) {
              const x = clamp(points[i] + (meanX + dx) * step, 0, width - 1);
              const y = clamp(points[i + 1] + (meanY + dy) * step, 0, height - 1);
              const gap = field[y * width + x] - own[points[i + 1] * width + points[i]];
              cost += gap * gap;
              if (cost > best) break;
            }
            if (cost > best) break;
          }
          if (cost < best) {
            best = cost;
            vx[b] = meanX + dx;
            vy[b] = meanY + dy;
          }
        }
    }
  const smoothX = smoothMotion(vx, busy, columns, rows);
  const smoothY = smoothMotion(vy, busy, columns, rows);
  const out = own.slice();
  const weights = around.map(({ step }) => (Math.abs(step) === 1 ? NEXT : FAR));
  const total = OWN + weights.reduce((a, b) => a + b, 0);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (Math.abs(own[i]) >= near) continue;
      const mx = motionAt(smoothX, columns, rows, x, y);
      const my = motionAt(smoothY, columns, rows, x, y);
      let sum = OWN * own[i];
      for (const [k, { field, step }] of around.entries()) sum += weights[k] * sample(field, size, x + mx * step, y + my * step);
      out[i] = own[i] + (sum / total - own[i]) * strength;
    }
  return out;
}

/** Means over neighbouring blocks that hold outline. */
function smoothMotion(v: Float32Array, busy: Uint8Array, columns: number, rows: number): Float32Array {
  return v.map((own, i) => {
    const bx = i % columns;
    const by = Math.floor(i / columns);
    let sum = 0;
    let count = 0;
    for (let y = Math.max(0, by - 1); y <= Math.min(rows - 1, by + 1); y++)
      for (let x = Math.max(0, bx - 1); x <= Math.min(columns - 1, bx + 1); x++) {
        if (!busy[y * columns + x]) continue;
        sum += v[y * columns + x];
        count++;
      }
    return count > 0 ? sum / count : own;
  });
}

function motionAt(v: Float32Array, columns: number, rows: number, x: number, y: number): number {
  const fx = clamp(x / BLOCK - 0.5, 0, columns - 1);
  const fy = clamp(y / BLOCK - 0.5, 0, rows - 1);
  const x0 = Math.floor(fx);
  const y0 = Math.floor(fy);
  const x1 = Math.min(columns - 1, x0 + 1);
  const y1 = Math.min(rows - 1, y0 + 1);
  const top = v[y0 * columns + x0] + (v[y0 * columns + x1] - v[y0 * columns + x0]) * (fx - x0);
  const bottom = v[y1 * columns + x0] + (v[y1 * columns + x1] - v[y1 * columns + x0]) * (fx - x0);
  return top + (bottom - top) * (fy - y0);
}
