/**
 * Minimum cut of a graph whose nodes are pixels with up to eight neighbours, by the augmenting-path method with two search
 * trees of Y. Boykov and V. Kolmogorov, "An Experimental Comparison of Min-Cut/Max-Flow Algorithms for Energy Minimization in
 * Vision", PAMI 2004.
 */

/** Steps to the eight neighbours; the opposite of direction `d` is 7 - d. */
export const STEP_X = [-1, 0, 1, -1, 1, -1, 0, 1] as const;
export const STEP_Y = [-1, -1, -1, 0, 0, 1, 1, 1] as const;

/** Eight arcs for each node: arc 8·node + direction. */
export interface PixelGraph {
  nodes: number;
  /** The node an arc leads to; -1 where there is none (its capacity is 0). */
  neighbour: Int32Array;
  /** What an arc can take, >= 0. Used up by the cut. */
  capacity: Int32Array;
  /** Capacity from the source (positive) or to the sink (negative) of each node. Used up by the cut. */
  terminal: Int32Array;
}

const FREE = -1;
const TERMINAL = 8;
const ORPHAN = 9;
const FAR = 0x7fffffff;

/** Which nodes lie on the source's side of a minimum cut: 1 there, 0 elsewhere. Among several cuts, the one nearest the source. */
export function minimumCut({ nodes, neighbour, capacity, terminal }: PixelGraph): Uint8Array {
  // The arc to a node's parent in its tree, and whose tree it is in.
  const parent = new Int8Array(nodes).fill(FREE);
  const ofSink = new Uint8Array(nodes);
  // Distance to the terminal, right as of the time in `stamp`.
  const distance = new Int32Array(nodes);
  const stamp = new Int32Array(nodes);
  // Active nodes in a queue linked through `next`; a node that is not in it has -1, the last leads to itself.
  const next = new Int32Array(nodes).fill(-1);
  let head = -1;
  let tail = -1;
  let orphans = new Int32Array(1024);
  let time = 0;

  let last = 0;
  const abandon = (node: number) => {
    parent[node] = ORPHAN;
    if (last === orphans.length) {
      const more = new Int32Array(2 * last);
      more.set(orphans);
      orphans = more;
    }
    orphans[last++] = node;
  };
  const reverseOf = (arc: number) => 8 * neighbour[arc] + 7 - (arc & 7);
  const activate = (i: number) => {
    if (next[i] >= 0) return;
    if (tail >= 0) next[tail] = i;
    else head = i;
    tail = i;
    next[i] = i;
  };
  for (let i = 0; i < nodes; i++) {
    if (terminal[i] === 0) continue;
    ofSink[i] = terminal[i] < 0 ? 1 : 0;
    parent[i] = TERMINAL;
    distance[i] = 1;
    activate(i);
  }

  let current = -1;
  for (;;) {
    let i = current;
    if (i >= 0) {
      next[i] = -1;
      if (parent[i] === FREE) i = -1;
    }
    while (i < 0 && head >= 0) {
      i = head;
      if (next[i] === i) {
        head = -1;
        tail = -1;
      } else head = next[i];
      next[i] = -1;
      if (parent[i] === FREE) i = -1;
    }
    if (i < 0) break;

    // Growth: take free neighbours into the tree until it touches the other one.
    let bridge = -1;
    const sinkSide = ofSink[i];
    for (let d = 0; d < 8; d++) {
      const arc = 8 * i + d;
      const j = neighbour[arc];
      if (j < 0) continue;
      // From the source's tree flow goes out to the neighbour, into the sink's it comes from there.
      const used = sinkSide ? 8 * j + 7 - d : arc;
      if (capacity[used] === 0) continue;
      if (parent[j] === FREE) {
        ofSink[j] = sinkSide;
        parent[j] = 7 - d;
        stamp[j] = stamp[i];
        distance[j] = distance[i] + 1;
        activate(j);
      } else if (ofSink[j] !== sinkSide) {
        bridge = used;
        break;
      } else if (stamp[j] <= stamp[i] && distance[j] > distance[i]) {
        // A shorter way to the terminal.
        parent[j] = 7 - d;
        stamp[j] = stamp[i];
        distance[j] = distance[i] + 1;
      }
    }
    time++;
    if (bridge < 0) {
      current = -1;
      continue;
    }
    next[i] = i;
    current = i;

    // Augmentation along the path over the bridge.
    let amount = capacity[bridge];
    let k = bridge >> 3;
    while (parent[k] !== TERMINAL) {
      const up = 8 * k + parent[k];
      const down = reverseOf(up);
      if (capacity[down] < amount) amount = capacity[down];
      k = neighbour[up];
    }
    if (terminal[k] < amount) amount = terminal[k];
    k = neighbour[bridge];
    while (parent[k] !== TERMINAL) {
      const up = 8 * k + parent[k];
      if (capacity[up] < amount) amount = capacity[up];
      k = neighbour[up];
    }
    if (-terminal[k] < amount) amount = -terminal[k];

    let first = 0;
    last = 0;
    capacity[bridge] -= amount;
    capacity[reverseOf(bridge)] += amount;
    k = bridge >> 3;
    while (parent[k] !== TERMINAL) {
      const up = 8 * k + parent[k];
      const down = reverseOf(up);
      capacity[up] += amount;
      capacity[down] -= amount;
      const above = neighbour[up];
      if (capacity[down] === 0) abandon(k);
      k = above;
    }
    terminal[k] -= amount;
    if (terminal[k] === 0) abandon(k);
    k = neighbour[bridge];
    while (parent[k] !== TERMINAL) {
      const up = 8 * k + parent[k];
      capacity[up] -= amount;
      capacity[reverseOf(up)] += amount;
      const above = neighbour[up];
      if (capacity[up] === 0) abandon(k);
      k = above;
    }
    terminal[k] += amount;
    if (terminal[k] === 0) abandon(k);

    // Adoption: every orphan looks for a parent in its own tree that still leads to the terminal, or goes free.
    while (first < last) {
      const o = orphans[first++];
      const side = ofSink[o];
      let best = FREE;
      let least = FAR;
      for (let d = 0; d < 8; d++) {
        const arc = 8 * o + d;
        const j = neighbour[arc];
        if (j < 0 || ofSink[j] !== side || parent[j] === FREE || capacity[side ? arc : 8 * j + 7 - d] === 0) continue;
        let steps = 0;
        for (let n = j; ; n = neighbour[8 * n + parent[n]]) {
          if (stamp[n] === time) {
            steps += distance[n];
            break;
          }
          steps++;
          if (parent[n] === TERMINAL) {
            stamp[n] = time;
            distance[n] = 1;
            break;
          }
          if (parent[n] === ORPHAN) {
            steps = FAR;
            break;
          }
        }
        if (steps === FAR) continue;
        if (steps < least) {
          least = steps;
          best = d;
        }
        for (let n = j; stamp[n] !== time; n = neighbour[8 * n + parent[n]]) {
          stamp[n] = time;
          distance[n] = steps--;
        }
      }
      parent[o] = best;
      if (best !== FREE) {
        stamp[o] = time;
        distance[o] = least + 1;
        continue;
      }
      for (let d = 0; d < 8; d++) {
        const arc = 8 * o + d;
        const j = neighbour[arc];
        if (j < 0 || ofSink[j] !== side || parent[j] === FREE) continue;
        if (capacity[side ? arc : 8 * j + 7 - d] > 0) activate(j);
        if (parent[j] >= 0 && parent[j] < TERMINAL && neighbour[8 * j + parent[j]] === o) abandon(j);
      }
    }
  }
  const kept = new Uint8Array(nodes);
  for (let i = 0; i < nodes; i++) kept[i] = parent[i] !== FREE && !ofSink[i] ? 1 : 0;
  return kept;
}
