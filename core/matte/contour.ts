/** The half-level outline of a matte as short linked segments (marching squares; Lorensen and Cline 1987, in the plane). */
import type { Gray } from '../image/picture.ts';

const LEVEL = 0.5;
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

/** Where `matte` crosses one half, placed by linear interpolation between pixel centres. */
export function halfLevelContour(matte: Gray): Contour {
  const { width, height, data } = matte;
  let segments = new Float32Array(4096);
  let mates = new Int32Array(2048);
  let count = 0;
  // The end waiting on the bottom side of the cell above, and on the right side of the cell before.
  const above = new Int32Array(width).fill(-1);
  let before = -1;

  for (let y = 0; y + 1 < height; y++) {
    const row = y * width;
    before = -1;
    let a = data[row];
    let c = data[row + width];
    for (let x = 0; x + 1 < width; x++) {
      const b = data[row + x + 1];
      const d = data[row + width + x + 1];
      const kind = (a > LEVEL ? 1 : 0) | (b > LEVEL ? 2 : 0) | (c > LEVEL ? 4 : 0) | (d > LEVEL ? 8 : 0);
      if (kind !== 0 && kind !== 15) {
        const top = x + 0.5 + (LEVEL - a) / (b - a);
        const bottom = x + 0.5 + (LEVEL - c) / (d - c);
        const left = y + 0.5 + (LEVEL - a) / (c - a);
        const right = y + 0.5 + (LEVEL - b) / (d - b);
        const push = (one: number, two: number) => {
          if (4 * count + 4 > segments.length) {
            const more = new Float32Array(segments.length * 2);
            more.set(segments);
            segments = more;
            const links = new Int32Array(mates.length * 2);
            links.set(mates);
            mates = links;
          }
          for (let k = 0; k < 2; k++) {
            const side = k === 0 ? one : two;
            const end = 2 * count + k;
            segments[2 * end] = side === TOP ? top : side === BOTTOM ? bottom : x + 0.5 + (side === RIGHT ? 1 : 0);
            segments[2 * end + 1] = side === LEFT ? left : side === RIGHT ? right : y + 0.5 + (side === BOTTOM ? 1 : 0);
            mates[end] = -1;
            const mate = side === TOP ? above[x] : side === LEFT ? before : -1;
            if (mate >= 0) {
              mates[end] = mate;
              mates[mate] = end;
            }
          }
          count++;
        };
        const waitBelow = (side: number, end: number) => {
          if (side === BOTTOM) above[x] = end;
          else if (side === RIGHT) before = end;
        };
        if (kind === 6 || kind === 9) {
          // A saddle: the mean says which two corners are joined.
          const joined = (a + b + c + d) / 4 > LEVEL === (kind === 9);
          const [first, second] = joined ? [[TOP, RIGHT], [LEFT, BOTTOM]] : [[TOP, LEFT], [BOTTOM, RIGHT]];
          push(first[0], first[1]);
          push(second[0], second[1]);
          for (const [k, pair] of [first, second].entries()) for (let e = 0; e < 2; e++) waitBelow(pair[e], 2 * (count - 2 + k) + e);
        } else {
          const [one, two] = SIDES[kind];
          push(one, two);
          waitBelow(one, 2 * count - 2);
          waitBelow(two, 2 * count - 1);
        }
      }
      a = b;
      c = d;
    }
  }
  return { segments: segments.subarray(0, 4 * count), mates: mates.subarray(0, 2 * count), count };
}
