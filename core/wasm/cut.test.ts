import { describe, expect, it } from 'vitest';
import { randomFrom } from '../math/random.ts';
import { borrowKernels } from './host.ts';

/** Steps to the eight neighbours; the opposite of direction `d` is 7 - d. */
const STEP_X = [-1, 0, 1, -1, 1, -1, 0, 1];
const STEP_Y = [-1, -1, -1, 0, 0, 1, 1, 1];

/** Eight arcs for each node: arc 8·node + direction. */
interface PixelGraph {
  nodes: number;
  /** The node an arc leads to; -1 where there is none (its capacity is 0). */
  neighbour: Int32Array;
  /** What an arc can take, >= 0. */
  capacity: Int32Array;
  /** Capacity from the source (positive) or to the sink (negative) of each node. */
  terminal: Int32Array;
}

function minimumCut({ nodes, neighbour, capacity, terminal }: PixelGraph): Uint8Array {
  const { kernels, floats } = borrowKernels(22 * nodes + 8);
  const [atCapacity, atTerminal, atScratch, atKept] = [32, 64, 68, 86].map((bytes) => bytes * nodes);
  const words = new Int32Array(floats.buffer);
  words.set(neighbour, 0);
  words.set(capacity, atCapacity / 4);
  words.set(terminal, atTerminal / 4);
  kernels.minimumCut(nodes, 0, atCapacity, atTerminal, atScratch, atKept);
  return new Uint8Array(floats.buffer).slice(atKept, atKept + nodes);
}

function randomGraph(width: number, height: number, seed: number): PixelGraph {
  const random = randomFrom(seed);
  const nodes = width * height;
  const graph: PixelGraph = {
    nodes,
    neighbour: new Int32Array(8 * nodes).fill(-1),
    capacity: new Int32Array(8 * nodes),
    terminal: Int32Array.from({ length: nodes }, () => Math.round((random() - 0.5) * 60)),
  };
  for (let i = 0; i < nodes; i++)
    for (let d = 0; d < 8; d++) {
      const [x, y] = [(i % width) + STEP_X[d], Math.floor(i / width) + STEP_Y[d]];
      if (x < 0 || y < 0 || x >= width || y >= height) continue;
      graph.neighbour[8 * i + d] = y * width + x;
      graph.capacity[8 * i + d] = Math.floor(random() * 30);
    }
  return graph;
}

/** What it costs to have the nodes of `kept` on the source's side. */
function cost({ nodes, neighbour, capacity, terminal }: PixelGraph, kept: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 0; i < nodes; i++) {
    if (kept[i] && terminal[i] < 0) sum -= terminal[i];
    if (!kept[i] && terminal[i] > 0) sum += terminal[i];
    if (kept[i]) for (let a = 8 * i; a < 8 * i + 8; a++) if (neighbour[a] >= 0 && !kept[neighbour[a]]) sum += capacity[a];
  }
  return sum;
}

/** The value of the greatest flow, by shortest augmenting paths (Edmonds and Karp 1972), slow and plain. */
function greatestFlow({ nodes, neighbour, capacity, terminal }: PixelGraph): number {
  const room = capacity.slice();
  const in_ = terminal.map((t) => Math.max(0, t));
  const out = terminal.map((t) => Math.max(0, -t));
  for (let flow = 0; ; ) {
    const from = new Int32Array(nodes).fill(-2);
    const queue: number[] = [];
    for (let i = 0; i < nodes; i++)
      if (in_[i] > 0) {
        from[i] = -1;
        queue.push(i);
      }
    let end = -1;
    for (let k = 0; k < queue.length && end < 0; k++) {
      const i = queue[k];
      if (out[i] > 0) end = i;
      for (let a = 8 * i; a < 8 * i + 8; a++)
        if (neighbour[a] >= 0 && room[a] > 0 && from[neighbour[a]] === -2) {
          from[neighbour[a]] = a;
          queue.push(neighbour[a]);
        }
    }
    if (end < 0) return flow;
    let amount = out[end];
    let i = end;
    for (; from[i] >= 0; i = from[i] >> 3) amount = Math.min(amount, room[from[i]]);
    amount = Math.min(amount, in_[i]);
    in_[i] -= amount;
    out[end] -= amount;
    for (let k = end; from[k] >= 0; k = from[k] >> 3) {
      room[from[k]] -= amount;
      room[8 * k + 7 - (from[k] & 7)] += amount;
    }
    flow += amount;
  }
}

describe('minimumCut', () => {
  it.each(Array.from({ length: 40 }, (_, i) => [2 + (i % 9), 1 + ((i * 5) % 11), i + 1]))(
    'costs what the greatest flow is, on %i by %i nodes (%i)',
    (w, h, seed) => {
      const graph = randomGraph(w, h, seed);
      const kept = minimumCut(graph);
      expect(cost(graph, kept)).toBe(greatestFlow(graph));
    },
  );

  it('cuts a long chain at its weakest place, and has no side where nothing pulls', () => {
    const nodes = 500;
    const graph: PixelGraph = {
      nodes,
      neighbour: new Int32Array(8 * nodes).fill(-1),
      capacity: new Int32Array(8 * nodes),
      terminal: new Int32Array(nodes),
    };
    for (let i = 0; i + 1 < nodes; i++) {
      graph.neighbour[8 * i + 4] = i + 1;
      graph.neighbour[8 * (i + 1) + 3] = i;
      graph.capacity[8 * i + 4] = i === 311 ? 2 : 9;
      graph.capacity[8 * (i + 1) + 3] = i === 311 ? 2 : 9;
    }
    expect([...minimumCut(graph)].every((k) => k === 0)).toBe(true);
    graph.terminal[0] = 50;
    graph.terminal[nodes - 1] = -50;
    const kept = minimumCut(graph);
    expect(kept.lastIndexOf(1)).toBe(311);
    expect(kept.indexOf(0)).toBe(312);
  });
});
