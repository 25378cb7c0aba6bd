/**
 * Anti-aliased even-odd fill with exact area coverage. Each row gathers signed cover and area in the cells its edges touch
 * (the cell method of scan-line rasterisers); a cell that several separate stretches of outline cross, where signed areas
 * could cancel, is measured again by fine scan lines.
 */
import { type Gray, newGray } from '../image/picture.ts';

const FINE_LINES = 64;

interface Edges {
  /** x0,y0,x1,y1 with y0 < y1, and the direction the outline ran (+1 down, -1 up). */
  ends: Float64Array;
  direction: Int8Array;
  /** Running number along the outlines; neighbours differ by one. */
  order: Int32Array;
  count: number;
}

function gatherEdges(polylines: readonly Float64Array[], height: number): Edges {
  let total = 0;
  for (const p of polylines) total += p.length / 2;
  const ends = new Float64Array(total * 4);
  const direction = new Int8Array(total);
  const order = new Int32Array(total);
  let count = 0;
  let number = 0;
  for (const p of polylines) {
    const n = p.length / 2;
    for (let i = 0; i < n; i++, number++) {
      const j = i + 1 === n ? 0 : i + 1;
      const y0 = p[2 * i + 1];
      const y1 = p[2 * j + 1];
      if (y0 === y1 || Math.max(y0, y1) <= 0 || Math.min(y0, y1) >= height) continue;
      const down = y1 > y0;
      const [a, b] = down ? [i, j] : [j, i];
      ends[count * 4] = p[2 * a];
      ends[count * 4 + 1] = p[2 * a + 1];
      ends[count * 4 + 2] = p[2 * b];
      ends[count * 4 + 3] = p[2 * b + 1];
      direction[count] = down ? 1 : -1;
      order[count] = number;
      count++;
    }
    number += 2;
  }
  return { ends, direction, order, count };
}

/** Numbers of the edges in the order of the rows they begin in (a counting sort: there are many edges and few rows). */
function byFirstRow({ ends, count }: Edges, height: number): Int32Array {
  const starts = new Int32Array(height + 1);
  const rowOf = (e: number) => Math.max(0, Math.floor(ends[e * 4 + 1]));
  for (let e = 0; e < count; e++) starts[rowOf(e) + 1]++;
  for (let y = 0; y < height; y++) starts[y + 1] += starts[y];
  const sorted = new Int32Array(count);
  for (let e = 0; e < count; e++) sorted[starts[rowOf(e)]++] = e;
  return sorted;
}

/** Even-odd share of cell (x, row) covered, by fine scan lines with exact ends. */
function fineCell(edges: Edges, active: Int32Array, activeCount: number, x: number, row: number): number {
  let sum = 0;
  const cuts: number[] = [];
  for (let line = 0; line < FINE_LINES; line++) {
    const y = row + (line + 0.5) / FINE_LINES;
    cuts.length = 0;
    for (let k = 0; k < activeCount; k++) {
      const e = active[k] * 4;
      const y0 = edges.ends[e + 1];
      const y1 = edges.ends[e + 3];
      if (y < y0 || y >= y1) continue;
      cuts.push(edges.ends[e] + ((y - y0) / (y1 - y0)) * (edges.ends[e + 2] - edges.ends[e]));
    }
    cuts.sort((a, b) => a - b);
    for (let k = 0; k + 1 < cuts.length; k += 2) sum += Math.max(0, Math.min(cuts[k + 1], x + 1) - Math.max(cuts[k], x));
  }
  return sum / FINE_LINES;
}

/** Insertion sort: a row touches few cells, and nearly in order. */
function sortSmall(list: Int32Array, count: number): void {
  for (let i = 1; i < count; i++) {
    const value = list[i];
    let k = i - 1;
    for (; k >= 0 && list[k] > value; k--) list[k + 1] = list[k];
    list[k + 1] = value;
  }
}

/** Even-odd fold of a winding that may be fractional: 0 at even, 1 at odd. */
const evenOdd = (winding: number): number => {
  const w = winding < 0 ? -winding : winding;
  const f = w - 2 * Math.floor(w / 2);
  return f > 1 ? 2 - f : f;
};

/**
 * Share of each pixel inside the outlines, even-odd, in [0,1].
 * @param polylines closed outlines in pixels, x0,y0,x1,y1,…; the last point joins the first
 */
export function fillPolylines(polylines: readonly Float64Array[], width: number, height: number, out: Gray = newGray(width, height)): Gray {
  const edges = gatherEdges(polylines, height);
  if (edges.count === 0) return out;
  const { ends, direction, order } = edges;
  const sorted = byFirstRow(edges, height);
  const active = new Int32Array(edges.count);
  let activeCount = 0;
  let next = 0;
  const cover = new Float64Array(width);
  const area = new Float64Array(width);
  // How many edges touched a cell, and the lowest and highest of their numbers.
  const tally = new Int32Array(width);
  const lowest = new Int32Array(width);
  const highest = new Int32Array(width);
  const touched = new Int32Array(width);
  const firstRow = Math.max(0, Math.floor(ends[sorted[0] * 4 + 1]));
  for (let row = firstRow; row < height; row++) {
    while (next < edges.count && ends[sorted[next] * 4 + 1] < row + 1) active[activeCount++] = sorted[next++];
    let kept = 0;
    for (let k = 0; k < activeCount; k++) if (ends[active[k] * 4 + 3] > row) active[kept++] = active[k];
    activeCount = kept;
    if (activeCount === 0) {
      if (next >= edges.count) break;
      continue;
    }
    let touchedCount = 0;
    const touch = (x: number, number: number) => {
      if (tally[x]++ === 0) {
        touched[touchedCount++] = x;
        lowest[x] = number;
        highest[x] = number;
      } else if (number < lowest[x]) lowest[x] = number;
      else if (number > highest[x]) highest[x] = number;
    };
    for (let k = 0; k < activeCount; k++) {
      const i = active[k];
      const e = i * 4;
      const ya = Math.max(ends[e + 1], row);
      const yb = Math.min(ends[e + 3], row + 1);
      if (yb <= ya) continue;
      const slope = (ends[e + 2] - ends[e]) / (ends[e + 3] - ends[e + 1]);
      const xa = ends[e] + (ya - ends[e + 1]) * slope;
      const xb = ends[e] + (yb - ends[e + 1]) * slope;
      let x0 = Math.min(xa, xb);
      let x1 = Math.max(xa, xb);
      // Right of the picture an edge changes nothing in it.
      if (x0 >= width) continue;
      const perPixel = x1 > x0 ? ((yb - ya) * direction[i]) / (x1 - x0) : 0;
      if (x0 < 0) {
        // Left of it, an edge counts for the whole row.
        const beyond = x1 <= 0 ? (yb - ya) * direction[i] : -x0 * perPixel;
        cover[0] += beyond;
        area[0] += beyond;
        touch(0, order[i]);
        if (x1 <= 0) continue;
        x0 = 0;
      }
      if (x1 > width) x1 = width;
      const lastCell = Math.min(width - 1, Math.floor(x1));
      if (x1 - x0 < 1e-9) {
        const d = (yb - ya) * direction[i];
        cover[lastCell] += d;
        area[lastCell] += d * (lastCell + 1 - x1);
        touch(lastCell, order[i]);
        continue;
      }
      for (let cell = Math.floor(x0); cell <= lastCell; cell++) {
        const from = Math.max(x0, cell);
        const to = Math.min(x1, cell + 1);
        if (to <= from) continue;
        const d = (to - from) * perPixel;
        cover[cell] += d;
        // Share of the cell to the right of the edge.
        area[cell] += d * (cell + 1 - (from + to) / 2);
        touch(cell, order[i]);
      }
    }
    sortSmall(touched, touchedCount);
    const cells = touched;
    let winding = 0;
    let x = 0;
    const base = row * width;
    for (let k = 0; k < touchedCount; k++) {
      const cell = cells[k];
      if (cell > x) {
        const value = evenOdd(winding);
        if (value > 1e-9) out.data.fill(value > 1 - 1e-9 ? 1 : value, base + x, base + Math.min(cell, width));
      }
      if (cell < width) {
        // Numbers with a gap are of stretches apart from each other.
        const value = highest[cell] - lowest[cell] >= tally[cell] ? fineCell(edges, active, activeCount, cell, row) : evenOdd(winding + area[cell]);
        out.data[base + cell] = value < 1e-9 ? 0 : value > 1 - 1e-9 ? 1 : value;
      }
      winding += cover[cell];
      x = cell + 1;
      cover[cell] = 0;
      area[cell] = 0;
      tally[cell] = 0;
    }
    const value = evenOdd(winding);
    if (x < width && value > 1e-9) out.data.fill(value > 1 - 1e-9 ? 1 : value, base + x, base + width);
  }
  return out;
}
