/** Specks and holes: connected pieces of a matte, and taking the small ones away. */
import type { Gray, Region } from '../image/picture.ts';

/** Stretches of neighbouring pixels in rows, joined where they touch from row to row (union-find over runs). */
interface Runs {
  /** First pixel of a run in the picture, and the one after its last. */
  from: number[];
  to: number[];
  /** Of a run's root: the weight of the whole piece, and whether it touches the border of the region. */
  parent: number[];
  weight: number[];
  atBorder: boolean[];
}

/** Runs of what lies above `limit` (or, for holes, below it); a pixel counts what it has (or lacks) of `strongest`. */
function findRuns({ data, width }: Gray, { left, top, right, bottom }: Region, limit: number, ofHoles: boolean, strongest: number): Runs {
  const runs: Runs = { from: [], to: [], parent: [], weight: [], atBorder: [] };
  const { parent } = runs;
  const root = (a: number): number => {
    let r = a;
    while (parent[r] !== r) r = parent[r];
    while (parent[a] !== r) [parent[a], a] = [r, parent[a]];
    return r;
  };
  const join = (a: number, b: number) => {
    const [p, q] = [root(a), root(b)];
    if (p === q) return;
    parent[q] = p;
    runs.weight[p] += runs.weight[q];
    runs.atBorder[p] ||= runs.atBorder[q];
  };
  let above = 0;
  let aboveEnd = 0;
  for (let y = top; y < bottom; y++) {
    const row = y * width;
    const own = runs.from.length;
    for (let x = left; x < right; ) {
      if (ofHoles ? data[row + x] >= limit : data[row + x] <= limit) {
        x++;
        continue;
      }
      const first = x;
      let sum = 0;
      for (; x < right; x++) {
        const value = data[row + x];
        if (ofHoles ? value >= limit : value <= limit) break;
        sum += value;
      }
      const weight = ofHoles ? x - first - sum / strongest : sum / strongest;
      runs.from.push(row + first);
      runs.to.push(row + x);
      parent.push(parent.length);
      runs.weight.push(weight);
      runs.atBorder.push(first === left || x === right || y === top || y === bottom - 1);
    }
    // Both rows are in order, so one walk along them finds all that touch.
    let i = above;
    for (let k = own; k < runs.from.length; k++) {
      while (i < aboveEnd && runs.to[i] + width <= runs.from[k]) i++;
      for (let j = i; j < aboveEnd && runs.from[j] + width < runs.to[k]; j++) join(j, k);
    }
    [above, aboveEnd] = [own, runs.from.length];
  }
  for (let k = 0; k < parent.length; k++) parent[k] = root(k);
  return runs;
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
    const { from, to, parent, weight } = findRuns(matte, box, rim, false, strongest);
    for (let k = 0; k < from.length; k++) if (weight[parent[k]] < specks) data.fill(0, from[k], to[k]);
  }
  if (holes > 0) {
    const { from, to, parent, weight, atBorder } = findRuns(matte, box, strongest - rim, true, strongest);
    for (let k = 0; k < from.length; k++) if (!atBorder[parent[k]] && weight[parent[k]] < holes) data.fill(strongest, from[k], to[k]);
  }
}
