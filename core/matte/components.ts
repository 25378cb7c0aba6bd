/** Specks and holes: connected pieces of a matte, and taking the small ones away. */
import type { Gray, Region } from '../image/picture.ts';

/**
 * Pieces of the mask `inside` that touch side by side, by a run-length union-find: `labels` gives each pixel its piece (0: none),
 * `areas` the pixels of each.
 */
function pieces(inside: Uint8Array, width: number, height: number): { labels: Int32Array; areas: Float64Array } {
  const labels = new Int32Array(width * height);
  const parent: number[] = [0];
  const root = (a: number): number => {
    let r = a;
    while (parent[r] !== r) r = parent[r];
    while (parent[a] !== r) [parent[a], a] = [r, parent[a]];
    return r;
  };
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (!inside[i]) continue;
      const left = x > 0 ? labels[i - 1] : 0;
      const up = y > 0 ? labels[i - width] : 0;
      if (left && up && left !== up) {
        const [a, b] = [root(left), root(up)];
        parent[Math.max(a, b)] = Math.min(a, b);
        labels[i] = Math.min(a, b);
      } else if (left || up) labels[i] = left || up;
      else {
        labels[i] = parent.length;
        parent.push(parent.length);
      }
    }
  const areas = new Float64Array(parent.length);
  for (let i = 0; i < labels.length; i++) {
    if (!labels[i]) continue;
    labels[i] = root(labels[i]);
    areas[labels[i]]++;
  }
  return { labels, areas };
}

/**
 * Takes pieces smaller than `specks` pixels away and fills holes smaller than `holes` pixels, in place. Inside is what lies
 * above `level`; holes are filled with `strongest`. A hole that touches the border of the picture is none.
 */
export function cleanPieces(matte: Gray, region: Region, level: number, strongest: number, specks: number, holes: number): void {
  // A pixel more all round, so that a soft rim goes with its piece.
  const left = Math.max(0, region.left - 1);
  const top = Math.max(0, region.top - 1);
  const width = Math.min(matte.width, region.right + 1) - left;
  const height = Math.min(matte.height, region.bottom + 1) - top;
  if (width <= 0 || height <= 0) return;
  const { data } = matte;
  const at = (i: number) => (top + Math.floor(i / width)) * matte.width + left + (i % width);
  const rim = level * 0.02;
  if (specks > 0) {
    // Pieces with their soft rims; what counts is the area of their alpha.
    const any = new Uint8Array(width * height);
    for (let i = 0; i < any.length; i++) any[i] = data[at(i)] > rim ? 1 : 0;
    const { labels, areas } = pieces(any, width, height);
    const weight = new Float64Array(areas.length);
    for (let i = 0; i < labels.length; i++) if (labels[i]) weight[labels[i]] += data[at(i)] / strongest;
    for (let i = 0; i < labels.length; i++) if (labels[i] && weight[labels[i]] < specks) data[at(i)] = 0;
  }
  if (holes > 0) {
    const gap = new Uint8Array(width * height);
    for (let i = 0; i < gap.length; i++) gap[i] = data[at(i)] < strongest - rim ? 1 : 0;
    const { labels, areas } = pieces(gap, width, height);
    const weight = new Float64Array(areas.length);
    const open = new Uint8Array(areas.length);
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        if (!labels[i]) continue;
        weight[labels[i]] += 1 - data[at(i)] / strongest;
        if (x === 0 || y === 0 || x === width - 1 || y === height - 1) open[labels[i]] = 1;
      }
    for (let i = 0; i < labels.length; i++) if (labels[i] && !open[labels[i]] && weight[labels[i]] < holes) data[at(i)] = strongest;
  }
}
