/**
 * The outline of a matte at a level as short linked segments (marching squares; Lorensen and Cline 1987, in the plane). Where
 * the edge is hard, a pixel's value is the share of it that is covered, and the place of the edge is had from that share and
 * the edge's direction (Gustavson and Strand 2011), which is exact for straight edges; elsewhere by linear interpolation.
 */
import { type Gray, type Region, wholeOf } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { borrowKernels } from '../wasm/host.ts';

const TOP = 0;
const RIGHT = 1;
const BOTTOM = 2;
const LEFT = 3;

export interface Contour {
  /** x0,y0,x1,y1 a segment, in pixels (centres at .5). */
  segments: Float32Array;
  /** For end e (segment s has ends 2s and 2s+1) the end that joins it, or -1 where the outline leaves the picture. */
  mates: Int32Array;
  count: number;
}

/** Sides of a cell that a segment joins, by which corners are inside (1 left top, 2 right top, 4 left bottom, 8 right bottom). */
const SIDES: (readonly [number, number])[] = [];
SIDES[1] = SIDES[14] = [TOP, LEFT];
SIDES[2] = SIDES[13] = [TOP, RIGHT];
SIDES[4] = SIDES[11] = [LEFT, BOTTOM];
SIDES[8] = SIDES[7] = [BOTTOM, RIGHT];
SIDES[3] = SIDES[12] = [LEFT, RIGHT];
SIDES[5] = SIDES[10] = [TOP, BOTTOM];

/** Left top pixels of the 2x2 cells in `region` that the outline passes through, in reading order. */
function crossedCells({ width, height, data }: Gray, level: number, region: Region): Int32Array {
  const left = Math.max(0, region.left - 1);
  const top = Math.max(0, region.top - 1);
  const columns = Math.min(width, region.right + 1) - left;
  const rows = Math.min(height, region.bottom + 1) - top;
  if (columns < 2 || rows < 2) return new Int32Array(0);
  // The kernel reads a little past the end of a row.
  const stride = columns + 4;
  const { kernels, floats } = borrowKernels(2 * stride * rows);
  for (let y = 0; y < rows; y++) {
    const from = (y + top) * width + left;
    floats.set(data.subarray(from, from + columns), y * stride);
  }
  const found = stride * rows;
  const count = kernels.crossedCells(0, stride, columns, rows, level, found * 4);
  const cells = new Int32Array(floats.buffer, found * 4, count).slice();
  for (let k = 0; k < count; k++) {
    const y = Math.floor(cells[k] / stride);
    cells[k] = (y + top) * width + left + cells[k] - y * stride;
  }
  return cells;
}

/** Change over two pixels from which on an edge counts as hard, as a share of the whole step. */
const HARD = 0.8;

/** Distance of a pixel's centre inside a straight edge with the unit normal (nx, ny) that covers the share `c` of the pixel. */
function insideByCoverage(nx: number, ny: number, c: number): number {
  let gx = Math.abs(nx);
  let gy = Math.abs(ny);
  if (gx < gy) [gx, gy] = [gy, gx];
  const corner = (0.5 * gy) / gx;
  if (c < corner) return -0.5 * (gx + gy) + Math.sqrt(2 * gx * gy * c);
  if (c > 1 - corner) return 0.5 * (gx + gy) - Math.sqrt(2 * gx * gy * (1 - c));
  return (c - 0.5) * gx;
}

/** Share of the way from pixel `p` to its neighbour `q` (a step of `step` along x or y) at which the matte crosses `level`. */
function crossing({ width, height, data }: Gray, level: number, p: number, q: number, horizontal: boolean): number {
  const a = data[p];
  const b = data[q];
  const linear = (level - a) / (b - a);
  let sum = 0;
  let weight = 0;
  for (let k = 0; k < 2; k++) {
    const at = k === 0 ? p : q;
    const c = data[at] / (2 * level);
    if (c <= 0 || c >= 1) continue;
    const x = at % width;
    const y = (at - x) / width;
    if (x === 0 || y === 0 || x === width - 1 || y === height - 1) continue;
    // Sobel's differences give the direction of the edge.
    const up = at - width;
    const down = at + width;
    const gx = data[up + 1] + 2 * data[at + 1] + data[down + 1] - data[up - 1] - 2 * data[at - 1] - data[down - 1];
    const gy = data[down - 1] + 2 * data[down] + data[down + 1] - data[up - 1] - 2 * data[up] - data[up + 1];
    const length = Math.sqrt(gx * gx + gy * gy);
    if (length / 4 < HARD * 2 * level) continue;
    const along = (horizontal ? gx : gy) / length;
    if (along * (b - a) <= 0.2 * Math.abs(b - a)) continue;
    const t = (k === 0 ? 0 : 1) - insideByCoverage(gx / length, gy / length, c) / along;
    const w = c * (1 - c);
    sum += t * w;
    weight += w;
  }
  return weight > 0 ? clamp(sum / weight, 0, 1) : linear;
}

/** Where `matte` crosses `level`, looked for in `region`. */
export function contourAt(matte: Gray, level: number, region: Region = wholeOf(matte)): Contour {
  const { width, data } = matte;
  const cells = crossedCells(matte, level, region);
  // A saddle gives two segments.
  const segments = new Float32Array(cells.length * 8);
  const mates = new Int32Array(cells.length * 4).fill(-1);
  // The end waiting on the bottom side of the cell above each column, and on the right side of the cell before.
  const above = new Int32Array(width).fill(-1);
  let before = -1;
  let beforeAt = -1;
  let count = 0;
  for (const at of cells) {
    const x = at % width;
    const y = (at - x) / width;
    const a = data[at];
    const b = data[at + 1];
    const c = data[at + width];
    const d = data[at + width + 1];
    const kind = (a > level ? 1 : 0) | (b > level ? 2 : 0) | (c > level ? 4 : 0) | (d > level ? 8 : 0);
    let sides: readonly number[] = SIDES[kind];
    if (kind === 6 || kind === 9) {
      // The mean says which two corners of a saddle are joined.
      const joined = (a + b + c + d) / 4 > level === (kind === 9);
      sides = joined ? [TOP, RIGHT, LEFT, BOTTOM] : [TOP, LEFT, BOTTOM, RIGHT];
    }
    const fromLeft = beforeAt === at - 1 ? before : -1;
    for (let k = 0; k < sides.length; k++) {
      const side = sides[k];
      const end = 2 * count + k;
      const mate = side === TOP ? above[x] : side === LEFT ? fromLeft : -1;
      if (mate >= 0) {
        // The side is shared with a cell before, which has found the place.
        segments[2 * end] = segments[2 * mate];
        segments[2 * end + 1] = segments[2 * mate + 1];
        mates[end] = mate;
        mates[mate] = end;
        continue;
      }
      const beside = side === BOTTOM ? width : side === RIGHT ? 1 : 0;
      const t =
        side === TOP || side === BOTTOM
          ? crossing(matte, level, at + beside, at + beside + 1, true)
          : crossing(matte, level, at + beside, at + beside + width, false);
      segments[2 * end] = x + 0.5 + (side === LEFT ? 0 : side === RIGHT ? 1 : t);
      segments[2 * end + 1] = y + 0.5 + (side === TOP ? 0 : side === BOTTOM ? 1 : t);
    }
    for (let k = 0; k < sides.length; k++) {
      if (sides[k] === BOTTOM) above[x] = 2 * count + k;
      else if (sides[k] === RIGHT) {
        before = 2 * count + k;
        beforeAt = at;
      }
    }
    count += sides.length / 2;
  }
  return { segments: segments.subarray(0, 4 * count), mates: mates.subarray(0, 2 * count), count };
}

/** Closed loops x0,y0,x1,y1,… as a contour. */
export function contourOf(loops: readonly Float64Array[]): Contour {
  const count = loops.reduce((sum, loop) => sum + loop.length / 2, 0);
  const segments = new Float32Array(4 * count);
  const mates = new Int32Array(2 * count);
  let first = 0;
  for (const loop of loops) {
    const n = loop.length / 2;
    for (let i = 0; i < n; i++) {
      const s = first + i;
      const next = i + 1 < n ? i + 1 : 0;
      segments[4 * s] = loop[2 * i];
      segments[4 * s + 1] = loop[2 * i + 1];
      segments[4 * s + 2] = loop[2 * next];
      segments[4 * s + 3] = loop[2 * next + 1];
      mates[2 * s + 1] = 2 * (first + next);
      mates[2 * (first + next)] = 2 * s + 1;
    }
    first += n;
  }
  return { segments, mates, count };
}
