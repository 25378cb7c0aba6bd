/** The outline of a matte at a level as short linked segments (marching squares; Lorensen and Cline 1987, in the plane). */
import type { Gray } from '../image/picture.ts';

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

/** Left top pixels of the 2x2 cells that the outline passes through, in reading order. */
function crossedCells({ width, height, data }: Gray, level: number): Int32Array {
  let cells = new Int32Array(4096);
  let count = 0;
  for (let y = 0; y + 1 < height; y++) {
    let at = y * width;
    const end = at + width - 1;
    let left = (data[at] > level ? 1 : 0) + (data[at + width] > level ? 1 : 0);
    for (; at < end; at++) {
      const right = (data[at + 1] > level ? 1 : 0) + (data[at + width + 1] > level ? 1 : 0);
      const inside = left + right;
      left = right;
      if (inside === 0 || inside === 4) continue;
      if (count === cells.length) {
        const more = new Int32Array(count * 2);
        more.set(cells);
        cells = more;
      }
      cells[count++] = at;
    }
  }
  return cells.subarray(0, count);
}

/** Where `matte` crosses `level`, placed by linear interpolation between pixel centres. */
export function contourAt(matte: Gray, level: number): Contour {
  const { width, data } = matte;
  const cells = crossedCells(matte, level);
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
    const across = [(level - a) / (b - a), 1, (level - c) / (d - c), 0];
    const down = [0, (level - b) / (d - b), 1, (level - a) / (c - a)];
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
      segments[2 * end] = x + 0.5 + across[side];
      segments[2 * end + 1] = y + 0.5 + down[side];
      const mate = side === TOP ? above[x] : side === LEFT ? fromLeft : -1;
      if (mate >= 0) {
        mates[end] = mate;
        mates[mate] = end;
      }
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
