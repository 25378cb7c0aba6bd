/**
 * A graph whose nodes are pixels with up to eight neighbours, and its minimum cut, by the augmenting-path method with two search
 * trees of Y. Boykov and V. Kolmogorov, "An Experimental Comparison of Min-Cut/Max-Flow Algorithms for Energy Minimization in
 * Vision", PAMI 2004.
 *
 * Node `i` has the arcs 8·i to 8·i + 7, one a direction; the opposite of direction d is 7 - d. An arc that leads nowhere has the
 * neighbour -1 and takes nothing.
 */

/** e^-x for x >= 0, to five digits; without tables, since the host lays memory out from its first byte. */
@inline
function fall(x: f32): f32 {
  const t = -x * 1.4426950408889634;
  const whole = floor(t);
  if (whole < -126) return 0;
  const f = t - whole;
  const part: f32 = 1 + f * (0.6931472 + f * (0.2402265 + f * (0.0555041 + f * (0.0096181 + f * 0.0013334))));
  return reinterpret<f32>(((whole as i32) + 127) << 23) * part;
}

/** What a boundary costs between two pixels whose colours lie at `p` and `q`. */
@inline
function boundary(p: usize, q: usize, unit: f32, beta: f32): i32 {
  const l = load<f32>(p) - load<f32>(q);
  const a = load<f32>(p, 4) - load<f32>(q, 4);
  const b = load<f32>(p, 8) - load<f32>(q, 8);
  return nearest(unit * fall(beta * (l * l + a * a + b * b))) as i32;
}

/** Ties pixel `i` (node `node`) with `j`, its neighbour in direction `d`, which comes before it or is decided. Gives the pull of a decided one. */
@inline
function link(
  node: i32, d: i32, i: i32, j: i32, unit: f32, beta: f32, lab: usize, labels: usize, nodeAt: usize, neighbour: usize, capacity: usize, later: bool,
): i32 {
  const other = load<i32>(nodeAt + ((j as usize) << 2));
  const arc = ((8 * node + d) as usize) << 2;
  if (other >= 0) store<i32>(neighbour + arc, other);
  // The later of two nodes works out what lies between them, for both.
  if (other >= 0 && later) return 0;
  const cost = boundary(lab + (i as usize) * 12, lab + (j as usize) * 12, unit, beta);
  if (other >= 0) {
    store<i32>(capacity + arc, cost);
    store<i32>(capacity + (((8 * other + 7 - d) as usize) << 2), cost);
    return 0;
  }
  return load<u8>(labels + (j as usize)) ? cost : -cost;
}

/**
 * Makes the undecided pixels of a picture nodes: what they are drawn to (`logit`, `scale` units each) and what their boundaries
 * cost, `strength`·`scale` units between alike pixels, less by `beta` the more they differ; decided neighbours pull with their
 * labels. `nodeAt` gets the node of each pixel, -1 for the decided ones; `neighbour`, `capacity` and `terminal` must hold that
 * many nodes. Gives how many there are.
 */
export function cutGraph(
  lab: usize, labels: usize, undecided: usize, logit: usize, width: i32, height: i32, strength: f32, beta: f32, scale: f32,
  nodeAt: usize, neighbour: usize, capacity: usize, terminal: usize,
): i32 {
  const count = width * height;
  let nodes = 0;
  for (let i = 0; i < count; i++) store<i32>(nodeAt + ((i as usize) << 2), load<u8>(undecided + (i as usize)) ? nodes++ : -1);
  memory.fill(neighbour, 255, (nodes as usize) << 5);
  memory.fill(capacity, 0, (nodes as usize) << 5);
  const straight = strength * scale;
  const diagonal = straight * 0.70710678;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const node = load<i32>(nodeAt + ((i as usize) << 2));
      if (node < 0) continue;
      const left = x > 0;
      const right = x + 1 < width;
      let pull = nearest(load<f32>(logit + ((i as usize) << 2)) * scale) as i32;
      if (y > 0) {
        if (left) pull += link(node, 0, i, i - width - 1, diagonal, beta, lab, labels, nodeAt, neighbour, capacity, false);
        pull += link(node, 1, i, i - width, straight, beta, lab, labels, nodeAt, neighbour, capacity, false);
        if (right) pull += link(node, 2, i, i - width + 1, diagonal, beta, lab, labels, nodeAt, neighbour, capacity, false);
      }
      if (left) pull += link(node, 3, i, i - 1, straight, beta, lab, labels, nodeAt, neighbour, capacity, false);
      if (right) pull += link(node, 4, i, i + 1, straight, beta, lab, labels, nodeAt, neighbour, capacity, true);
      if (y + 1 < height) {
        if (left) pull += link(node, 5, i, i + width - 1, diagonal, beta, lab, labels, nodeAt, neighbour, capacity, true);
        pull += link(node, 6, i, i + width, straight, beta, lab, labels, nodeAt, neighbour, capacity, true);
        if (right) pull += link(node, 7, i, i + width + 1, diagonal, beta, lab, labels, nodeAt, neighbour, capacity, true);
      }
      store<i32>(terminal + ((node as usize) << 2), pull);
    }
  return nodes;
}

const FREE: i32 = -1;
const TERMINAL: i32 = 8;
const ORPHAN: i32 = 9;
const FAR: i32 = 0x7fffffff;

// What one cut works with; a thread makes one at a time.
let neighbours: usize = 0;
let capacities: usize = 0;
let terminals: usize = 0;
/** The direction of the arc to a node's parent in its tree (a byte a node), and whose tree it is in: 1 for the sink's. */
let parents: usize = 0;
let sinks: usize = 0;
/** Distance to the terminal, right as of the time in the stamp. */
let distances: usize = 0;
let stamps: usize = 0;
/** Active nodes in a queue linked through `following`; a node that is not in it has -1, the last leads to itself. */
let following: usize = 0;
let head: i32 = -1;
let tail: i32 = -1;
/** Nodes that lost their parent, in a queue as well; no node is in it twice. */
let orphaned: usize = 0;
let firstOrphan: i32 = -1;
let lastOrphan: i32 = -1;

@inline
function at(place: usize, i: i32): i32 {
  return load<i32>(place + ((i as usize) << 2));
}
@inline
function put(place: usize, i: i32, v: i32): void {
  store<i32>(place + ((i as usize) << 2), v);
}
@inline
function add(place: usize, i: i32, v: i32): void {
  const p = place + ((i as usize) << 2);
  store<i32>(p, load<i32>(p) + v);
}
@inline
function parentOf(i: i32): i32 {
  return load<i8>(parents + (i as usize)) as i32;
}
@inline
function setParent(i: i32, direction: i32): void {
  store<i8>(parents + (i as usize), direction as i8);
}
@inline
function ofSink(i: i32): i32 {
  return load<u8>(sinks + (i as usize)) as i32;
}
@inline
function reverseOf(arc: i32): i32 {
  return 8 * at(neighbours, arc) + 7 - (arc & 7);
}
@inline
function above(i: i32): i32 {
  return at(neighbours, 8 * i + parentOf(i));
}

function activate(i: i32): void {
  if (at(following, i) >= 0) return;
  if (tail >= 0) put(following, tail, i);
  else head = i;
  tail = i;
  put(following, i, i);
}

function abandon(i: i32): void {
  setParent(i, ORPHAN);
  if (lastOrphan >= 0) put(orphaned, lastOrphan, i);
  else firstOrphan = i;
  lastOrphan = i;
  put(orphaned, i, -1);
}

/** The next active node; -1 where there is none any more. */
function nextActive(): i32 {
  while (head >= 0) {
    const i = head;
    const after = at(following, i);
    if (after === i) {
      head = -1;
      tail = -1;
    } else head = after;
    put(following, i, -1);
    if (parentOf(i) !== FREE) return i;
  }
  return -1;
}

/** Takes free neighbours of a node into its tree until it touches the other one: gives the arc over which it does, or -1. */
function grow(i: i32): i32 {
  const side = ofSink(i);
  for (let d = 0; d < 8; d++) {
    const arc = 8 * i + d;
    const j = at(neighbours, arc);
    if (j < 0) continue;
    // From the source's tree flow goes out to the neighbour, into the sink's it comes from there.
    const used = side ? 8 * j + 7 - d : arc;
    if (at(capacities, used) === 0) continue;
    if (parentOf(j) === FREE) {
      store<u8>(sinks + (j as usize), side as u8);
      setParent(j, 7 - d);
      put(stamps, j, at(stamps, i));
      put(distances, j, at(distances, i) + 1);
      activate(j);
    } else if (ofSink(j) !== side) return used;
    else if (at(stamps, j) <= at(stamps, i) && at(distances, j) > at(distances, i)) {
      // A shorter way to the terminal.
      setParent(j, 7 - d);
      put(stamps, j, at(stamps, i));
      put(distances, j, at(distances, i) + 1);
    }
  }
  return -1;
}

/** Sends as much as goes from the source over the bridge to the sink; nodes whose way to the terminal is full become orphans. */
function augment(bridge: i32): void {
  let amount = at(capacities, bridge);
  let k = bridge >> 3;
  while (parentOf(k) !== TERMINAL) {
    const up = 8 * k + parentOf(k);
    amount = min(amount, at(capacities, reverseOf(up)));
    k = at(neighbours, up);
  }
  amount = min(amount, at(terminals, k));
  k = at(neighbours, bridge);
  while (parentOf(k) !== TERMINAL) {
    const up = 8 * k + parentOf(k);
    amount = min(amount, at(capacities, up));
    k = at(neighbours, up);
  }
  amount = min(amount, -at(terminals, k));

  add(capacities, bridge, -amount);
  add(capacities, reverseOf(bridge), amount);
  k = bridge >> 3;
  while (parentOf(k) !== TERMINAL) {
    const up = 8 * k + parentOf(k);
    const down = reverseOf(up);
    const next = at(neighbours, up);
    add(capacities, up, amount);
    add(capacities, down, -amount);
    if (at(capacities, down) === 0) abandon(k);
    k = next;
  }
  add(terminals, k, -amount);
  if (at(terminals, k) === 0) abandon(k);
  k = at(neighbours, bridge);
  while (parentOf(k) !== TERMINAL) {
    const up = 8 * k + parentOf(k);
    const next = at(neighbours, up);
    add(capacities, up, -amount);
    add(capacities, reverseOf(up), amount);
    if (at(capacities, up) === 0) abandon(k);
    k = next;
  }
  add(terminals, k, amount);
  if (at(terminals, k) === 0) abandon(k);
}

/** Steps from a node to its terminal, FAR where the way ends at an orphan. */
function stepsFrom(j: i32, time: i32): i32 {
  let steps = 0;
  let n = j;
  while (at(stamps, n) !== time) {
    steps++;
    const parent = parentOf(n);
    if (parent === ORPHAN) return FAR;
    if (parent === TERMINAL) {
      put(stamps, n, time);
      put(distances, n, 1);
      return steps;
    }
    n = at(neighbours, 8 * n + parent);
  }
  return steps + at(distances, n);
}

/** Every orphan looks for a parent in its own tree that still leads to the terminal, or goes free. */
function adopt(time: i32): void {
  while (firstOrphan >= 0) {
    const o = firstOrphan;
    firstOrphan = at(orphaned, o);
    if (firstOrphan < 0) lastOrphan = -1;
    const side = ofSink(o);
    let best = FREE;
    let least = FAR;
    for (let d = 0; d < 8; d++) {
      const arc = 8 * o + d;
      const j = at(neighbours, arc);
      if (j < 0 || ofSink(j) !== side || parentOf(j) === FREE || at(capacities, side ? arc : 8 * j + 7 - d) === 0) continue;
      let steps = stepsFrom(j, time);
      if (steps === FAR) continue;
      if (steps < least) {
        least = steps;
        best = d;
      }
      for (let n = j; at(stamps, n) !== time; n = above(n)) {
        put(stamps, n, time);
        put(distances, n, steps--);
      }
    }
    setParent(o, best);
    if (best !== FREE) {
      put(stamps, o, time);
      put(distances, o, least + 1);
      continue;
    }
    for (let d = 0; d < 8; d++) {
      const j = at(neighbours, 8 * o + d);
      if (j < 0 || ofSink(j) !== side || parentOf(j) === FREE) continue;
      if (at(capacities, side ? 8 * o + d : 8 * j + 7 - d) > 0) activate(j);
      const parent = parentOf(j);
      if (parent >= 0 && parent < TERMINAL && at(neighbours, 8 * j + parent) === o) abandon(j);
    }
  }
}

/**
 * Sets a byte of `kept` for each node: 1 on the source's side of a minimum cut, of several that nearest the source. Uses up
 * `capacity` (what an arc takes, >= 0) and `terminal` (capacity from the source, or to the sink where negative). `scratch` holds
 * 18 bytes a node.
 */
export function minimumCut(nodes: i32, neighbour: usize, capacity: usize, terminal: usize, scratch: usize, kept: usize): void {
  neighbours = neighbour;
  capacities = capacity;
  terminals = terminal;
  const words = (nodes as usize) << 2;
  distances = scratch;
  stamps = scratch + words;
  following = scratch + 2 * words;
  orphaned = scratch + 3 * words;
  parents = scratch + 4 * words;
  sinks = parents + (nodes as usize);
  memory.fill(distances, 0, 2 * words);
  memory.fill(following, 255, words);
  memory.fill(parents, 255, nodes as usize);
  memory.fill(sinks, 0, nodes as usize);
  head = tail = firstOrphan = lastOrphan = -1;
  for (let i = 0; i < nodes; i++) {
    const pull = at(terminal, i);
    if (pull === 0) continue;
    store<u8>(sinks + (i as usize), pull < 0 ? 1 : 0);
    setParent(i, TERMINAL);
    put(distances, i, 1);
    activate(i);
  }
  let time = 0;
  let current = -1;
  for (;;) {
    let i = current;
    if (i >= 0) {
      put(following, i, -1);
      if (parentOf(i) === FREE) i = -1;
    }
    if (i < 0) i = nextActive();
    if (i < 0) break;
    const bridge = grow(i);
    time++;
    current = -1;
    if (bridge < 0) continue;
    // The node may touch the other tree elsewhere too.
    put(following, i, i);
    current = i;
    augment(bridge);
    adopt(time);
  }
  for (let i = 0; i < nodes; i++) store<u8>(kept + (i as usize), parentOf(i) !== FREE && !ofSink(i) ? 1 : 0);
}
