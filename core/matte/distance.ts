/**
 * Distance from pixels to the outline of a matte. Each pixel remembers its nearest outline segment; segments spread outwards
 * from the outline in waves (vector propagation; Danielsson 1980, by ordered propagation as in Ragnemalm 1992), and every
 * distance is taken to the segment itself, so the outline counts with its place between the pixels. Only the band within
 * reach is ever visited.
 */
import type { Gray } from '../image/picture.ts';
import { type Contour, contourAt } from './contour.ts';

/** How many joined segments back the direction of an outline is read where it leaves the picture. */
const LOOK_BACK = 6;

/** Signed distances in a box of the picture. Pixels outside the box are farther from the outline than the reach. */
export interface DistanceField {
  left: number;
  top: number;
  width: number;
  height: number;
  /** Pixels inside the outline are positive; clamped to ±reach. */
  data: Float32Array;
}

/**
 * Signed distance in pixels to where `matte` crosses `level`. Where the outline leaves the picture it is taken to go on straight.
 * @param reach how far from the outline distances are needed, pixels, > 0
 * @returns null where the matte never crosses the level
 */
export function signedDistance(matte: Gray, level: number, reach: number): DistanceField | null {
  const contour = contourAt(matte, level);
  if (contour.count === 0) return null;
  const segments = extendOpenEnds(contour, reach);
  const box = boxOf(contour, matte, reach);
  const squared = spread(segments, contour.count, box, reach);
  for (let y = 0, i = 0; y < box.height; y++) {
    const from = (y + box.top) * matte.width + box.left;
    for (let x = 0; x < box.width; x++, i++) {
      const d = Math.sqrt(squared[i]);
      squared[i] = matte.data[from + x] > level ? d : -d;
    }
  }
  return { ...box, data: squared };
}

interface Box {
  left: number;
  top: number;
  width: number;
  height: number;
}

function boxOf({ segments, count }: Contour, { width, height }: Gray, reach: number): Box {
  let x0 = width;
  let y0 = height;
  let x1 = 0;
  let y1 = 0;
  for (let i = 0; i < 4 * count; i += 2) {
    if (segments[i] < x0) x0 = segments[i];
    if (segments[i] > x1) x1 = segments[i];
    if (segments[i + 1] < y0) y0 = segments[i + 1];
    if (segments[i + 1] > y1) y1 = segments[i + 1];
  }
  const left = Math.max(0, Math.floor(x0 - reach) - 1);
  const top = Math.max(0, Math.floor(y0 - reach) - 1);
  const right = Math.min(width, Math.ceil(x1 + reach) + 1);
  const bottom = Math.min(height, Math.ceil(y1 + reach) + 1);
  return { left, top, width: right - left, height: bottom - top };
}

/** A copy of the segments in which those that end at the border of the picture go on `reach` pixels. */
function extendOpenEnds({ segments, mates, count }: Contour, reach: number): Float32Array {
  const out = segments.slice();
  for (let end = 0; end < 2 * count; end++) {
    if (mates[end] >= 0) continue;
    let far = end ^ 1;
    for (let k = 0; k < LOOK_BACK && mates[far] >= 0; k++) far = mates[far] ^ 1;
    const dx = segments[2 * end] - segments[2 * far];
    const dy = segments[2 * end + 1] - segments[2 * far + 1];
    const length = Math.sqrt(dx * dx + dy * dy);
    if (length < 1e-6) continue;
    out[2 * end] += (dx / length) * reach;
    out[2 * end + 1] += (dy / length) * reach;
  }
  return out;
}

/** Squared distance from (x, y) to segment `s`; `directions` holds its unit direction and length. */
function squaredTo(x: number, y: number, s: number, segments: Float32Array, directions: Float32Array): number {
  const px = x - segments[4 * s];
  const py = y - segments[4 * s + 1];
  const ux = directions[3 * s];
  const uy = directions[3 * s + 1];
  const length = directions[3 * s + 2];
  let along = px * ux + py * uy;
  if (along < 0) along = 0;
  else if (along > length) along = length;
  const ex = px - along * ux;
  const ey = py - along * uy;
  // Rounded as it is stored, so that two segments equally near cannot take a pixel from each other for ever.
  return Math.fround(ex * ex + ey * ey);
}

/** Squared distances in the box, at most reach². */
function spread(segments: Float32Array, count: number, { left, top, width, height }: Box, reach: number): Float32Array {
  const field = new Float32Array(width * height).fill(reach * reach);
  const nearest = new Int32Array(width * height);
  const waiting = new Uint8Array(width * height);
  let wave: Int32Array = new Int32Array(Math.min(width * height, 16 * count + 1024));
  let next: Int32Array = new Int32Array(wave.length);
  let waveCount = 0;
  const directions = new Float32Array(count * 3);
  for (let s = 0; s < count; s++) {
    const ax = segments[4 * s];
    const ay = segments[4 * s + 1];
    const dx = segments[4 * s + 2] - ax;
    const dy = segments[4 * s + 3] - ay;
    const length = Math.sqrt(dx * dx + dy * dy);
    directions[3 * s] = length > 0 ? dx / length : 1;
    directions[3 * s + 1] = length > 0 ? dy / length : 0;
    directions[3 * s + 2] = length;
    const x0 = Math.max(0, Math.floor(Math.min(ax, ax + dx) - left - 0.5));
    const x1 = Math.min(width - 1, Math.ceil(Math.max(ax, ax + dx) - left - 0.5));
    const y0 = Math.max(0, Math.floor(Math.min(ay, ay + dy) - top - 0.5));
    const y1 = Math.min(height - 1, Math.ceil(Math.max(ay, ay + dy) - top - 0.5));
    for (let y = y0; y <= y1; y++) {
      for (let x = x0; x <= x1; x++) {
        const d = squaredTo(x + left + 0.5, y + top + 0.5, s, segments, directions);
        const at = y * width + x;
        if (d >= field[at]) continue;
        field[at] = d;
        nearest[at] = s;
        if (waiting[at] === 0) {
          waiting[at] = 1;
          if (waveCount === wave.length) wave = grown(wave, width * height);
          wave[waveCount++] = at;
        }
      }
    }
  }
  while (waveCount > 0) {
    let nextCount = 0;
    if (next.length < Math.min(width * height, 8 * waveCount)) next = new Int32Array(Math.min(width * height, 8 * waveCount));
    for (let k = 0; k < waveCount; k++) waiting[wave[k]] = 0;
    for (let k = 0; k < waveCount; k++) {
      const at = wave[k];
      const s = nearest[at];
      const y = (at / width) | 0;
      const x = at - y * width;
      const x0 = x > 0 ? x - 1 : 0;
      const x1 = x + 1 < width ? x + 1 : x;
      const y1 = y + 1 < height ? y + 1 : y;
      for (let ny = y > 0 ? y - 1 : 0; ny <= y1; ny++) {
        for (let nx = x0; nx <= x1; nx++) {
          const to = ny * width + nx;
          if (nearest[to] === s && field[to] < reach * reach) continue;
          const d = squaredTo(nx + left + 0.5, ny + top + 0.5, s, segments, directions);
          if (d >= field[to]) continue;
          field[to] = d;
          nearest[to] = s;
          if (waiting[to] === 0) {
            waiting[to] = 1;
            next[nextCount++] = to;
          }
        }
      }
    }
    [wave, next] = [next, wave];
    waveCount = nextCount;
  }
  return field;
}

function grown(list: Int32Array, most: number): Int32Array {
  const more = new Int32Array(Math.min(most, list.length * 2));
  more.set(list);
  return more;
}
