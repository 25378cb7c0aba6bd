/** Specks and holes: connected pieces of a matte, and taking the small ones away. */
import type { Gray, Region } from '../image/picture.ts';
import { joinedRuns } from '../image/runs.ts';
import { borrowKernels } from '../wasm/host.ts';

/** Stretches of neighbouring pixels in rows, joined where they touch from row to row. */
interface Runs {
  /** First pixel of a run in the picture, and the one after its last. */
  from: number[];
  to: number[];
  /** The first run of the piece that each belongs to. */
  root: Int32Array;
  /** Of that run: the weight of the whole piece, and whether it touches the border of the region. */
  weight: number[];
  atBorder: boolean[];
}

/** Rows that the kernel looks at in one go: few enough to stay in the near cache. */
const BATCH = 32;

/** Runs of what lies above `limit` (or, for holes, below it); a pixel counts what it has (or lacks) of `strongest`. */
function findRuns({ data, width }: Gray, { left, top, right, bottom }: Region, limit: number, ofHoles: boolean, strongest: number): Runs {
  const [from, to, weight]: number[][] = [[], [], []];
  const atBorder: boolean[] = [];
  const columns = right - left;
  const stride = (columns + 3) & ~3;
  // Layout: rows | four numbers for each run, of which a row has at most every second pixel.
  const atFound = BATCH * stride;
  const { kernels, floats } = borrowKernels(atFound + BATCH * 4 * ((columns + 1) >> 1));
  const whole = new Int32Array(floats.buffer);
  for (let y = top; y < bottom; y += BATCH) {
    const rows = Math.min(BATCH, bottom - y);
    for (let k = 0; k < rows; k++) floats.set(data.subarray((y + k) * width + left, (y + k) * width + right), k * stride);
    const count = kernels.rowRuns(0, stride, columns, rows, limit, ofHoles ? 1 : 0, atFound * 4);
    for (let r = 0, at = atFound; r < count; r++, at += 4) {
      const row = y + whole[at];
      const [first, last, sum] = [whole[at + 1], whole[at + 2], floats[at + 3] / strongest];
      from.push(row * width + left + first);
      to.push(row * width + left + last);
      weight.push(ofHoles ? last - first - sum : sum);
      atBorder.push(first === 0 || last === columns || row === top || row === bottom - 1);
    }
  }
  const root = joinedRuns(from, to, from.length, width);
  for (let k = 0; k < from.length; k++) {
    if (root[k] === k) continue;
    weight[root[k]] += weight[k];
    atBorder[root[k]] ||= atBorder[k];
  }
  return { from, to, root, weight, atBorder };
}

/**
 * Takes pieces smaller than `specks` pixels away and fills holes smaller than `holes` pixels, in place. Pieces are taken with
 * their soft rims, and what counts is the area of their alpha. A hole that touches the border of the region is none.
 */
export function cleanPieces(matte: Gray, region: Region, level: number, strongest: number, specks: number, holes: number): void {
  const box = {
    left: Math.max(0, region.left - 1),
    top: Math.max(0, region.top - 1),
    right: Math.min(matte.width, region.right + 1),
    bottom: Math.min(matte.height, region.bottom + 1),
  };
  const rim = level * 0.02;
  const { data } = matte;
  if (specks > 0) {
    const { from, to, root, weight } = findRuns(matte, box, rim, false, strongest);
    for (let k = 0; k < from.length; k++) if (weight[root[k]] < specks) data.fill(0, from[k], to[k]);
  }
  if (holes > 0) {
    const { from, to, root, weight, atBorder } = findRuns(matte, box, strongest - rim, true, strongest);
    for (let k = 0; k < from.length; k++) if (!atBorder[root[k]] && weight[root[k]] < holes) data.fill(strongest, from[k], to[k]);
  }
}
