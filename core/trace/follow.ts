/**
 * Which place on an outline a place on another has gone to: the cheapest way round both together, by where they are and how they
 * run there (dynamic time warping of closed lines; H. Sakoe, S. Chiba 1978, started at the pair of places that fits best).
 */
import { areaOf, type Outline } from './outlines.ts';

/** Places that an outline is compared at. */
export const PLACES = 320;
/** How far from an even pace round both the way may go, as a share of the places. */
const BAND = Math.round(PLACES / 8);
/** Cost of a right angle between the ways of two outlines, against a distance of a tenth of their size. */
const TURNED = 1.5;
/** Cost of going faster or slower round one than round the other. */
const UNEVEN = 0.02;

/** An outline with what following it needs. */
export interface Followed {
  outline: Outline;
  /** Length along the outline up to each of its points; the whole length at the end. */
  lengths: Float64Array;
  /** x, y of PLACES places at even lengths, and the unit vector of the way there. */
  places: Float64Array;
  ways: Float64Array;
  /** Middle of its points, and the square root of its area. */
  x: number;
  y: number;
  size: number;
  area: number;
}

export function toFollow(outline: Outline): Followed {
  const n = outline.length / 2;
  const lengths = new Float64Array(n + 1);
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    lengths[i + 1] = lengths[i] + Math.sqrt((outline[2 * j] - outline[2 * i]) ** 2 + (outline[2 * j + 1] - outline[2 * i + 1]) ** 2);
  }
  const area = areaOf(outline);
  const out: Followed = {
    outline,
    lengths,
    places: new Float64Array(2 * PLACES),
    ways: new Float64Array(2 * PLACES),
    x: 0,
    y: 0,
    size: Math.sqrt(Math.abs(area)),
    area,
  };
  for (let k = 0; k < PLACES; k++) {
    const p = placeAt(out, k / PLACES);
    out.places.set([p.x, p.y], 2 * k);
    out.x += p.x / PLACES;
    out.y += p.y / PLACES;
  }
  for (let k = 0; k < PLACES; k++) {
    const [a, b] = [(k + PLACES - 2) % PLACES, (k + 2) % PLACES];
    const [dx, dy] = [out.places[2 * b] - out.places[2 * a], out.places[2 * b + 1] - out.places[2 * a + 1]];
    const length = Math.sqrt(dx * dx + dy * dy) || 1;
    out.ways.set([dx / length, dy / length], 2 * k);
  }
  return out;
}

/** The place at a share of an outline's length; shares go round. */
export function placeAt({ outline, lengths }: Pick<Followed, 'outline' | 'lengths'>, share: number): { x: number; y: number } {
  const n = outline.length / 2;
  const at = (share - Math.floor(share)) * lengths[n];
  let [low, high] = [0, n];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (lengths[middle] <= at) low = middle;
    else high = middle;
  }
  const j = (low + 1) % n;
  const span = lengths[low + 1] - lengths[low];
  const t = span > 0 ? (at - lengths[low]) / span : 0;
  return { x: outline[2 * low] + (outline[2 * j] - outline[2 * low]) * t, y: outline[2 * low + 1] + (outline[2 * j + 1] - outline[2 * low + 1]) * t };
}

/** Where the places of one outline have gone on another. */
export interface Way {
  /** Share of the other's length for each place of the first, and for the first once more, a round later; rising. */
  shares: Float64Array;
  /** Mean distance of the places, the move and turn of the whole taken out, as a share of the size. */
  distance: number;
}

/** The turn (radians) and the even pace (places that `b` is ahead) with which `a` lies best on `b`, a small turn preferred. */
function bestTurn(a: Followed, b: Followed, size: number): { angle: number; ahead: number } {
  let best = { angle: 0, ahead: 0, cost: Number.POSITIVE_INFINITY };
  for (let ahead = 0; ahead < PLACES; ahead++) {
    // Procrustes: the turn that brings the places together, and what it leaves.
    let [along, across, squares] = [0, 0, 0];
    for (let i = 0; i < PLACES; i += 2) {
      const m = (i + ahead) % PLACES;
      const [ax, ay] = [a.places[2 * i] - a.x, a.places[2 * i + 1] - a.y];
      const [bx, by] = [b.places[2 * m] - b.x, b.places[2 * m + 1] - b.y];
      along += ax * bx + ay * by;
      across += ax * by - ay * bx;
      squares += ax * ax + ay * ay + bx * bx + by * by;
    }
    const angle = Math.atan2(across, along);
    const left = squares - 2 * Math.sqrt(along * along + across * across);
    const cost = (200 * left) / (PLACES * size * size) + TURNED * angle * angle;
    if (cost < best.cost) best = { angle, ahead, cost };
  }
  return best;
}

export function follow(a: Followed, b: Followed): Way {
  const size = Math.max(1, (a.size + b.size) / 2);
  const { angle, ahead: turn } = bestTurn(a, b, size);
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  // The first outline moved and turned onto the second.
  const places = new Float64Array(2 * PLACES);
  const ways = new Float64Array(2 * PLACES);
  for (let k = 0; k < PLACES; k++) {
    const [x, y] = [a.places[2 * k] - a.x, a.places[2 * k + 1] - a.y];
    places.set([b.x + c * x - s * y, b.y + s * x + c * y], 2 * k);
    const [u, v] = [a.ways[2 * k], a.ways[2 * k + 1]];
    ways.set([c * u - s * v, s * u + c * v], 2 * k);
  }
  const cost = (i: number, j: number): number => {
    const k = i % PLACES;
    const m = ((j % PLACES) + PLACES) % PLACES;
    const dx = places[2 * k] - b.places[2 * m];
    const dy = places[2 * k + 1] - b.places[2 * m + 1];
    const along = ways[2 * k] * b.ways[2 * m] + ways[2 * k + 1] * b.ways[2 * m + 1];
    return (100 * (dx * dx + dy * dy)) / (size * size) + TURNED * (1 - along);
  };
  // On the even pace, the place that fits best: the way begins there.
  let start = 0;
  for (let i = 1; i < PLACES; i++) if (cost(i, i + turn) < cost(start, start + turn)) start = i;

  const columns = 2 * BAND + 1;
  let sums = new Float64Array(columns).fill(Number.POSITIVE_INFINITY);
  sums[BAND] = cost(start, start + turn);
  const from = new Int8Array((PLACES + 1) * columns);
  for (let i = 1; i <= PLACES; i++) {
    const next = new Float64Array(columns).fill(Number.POSITIVE_INFINITY);
    for (let o = 0; o < columns; o++) {
      let [best, step] = [Number.POSITIVE_INFINITY, 0];
      // From none to three places on for one.
      for (let d = -1; d <= 2; d++) {
        const before = o - d;
        if (before < 0 || before >= columns) continue;
        const sum = sums[before] + UNEVEN * d * d;
        if (sum < best) [best, step] = [sum, d];
      }
      if (best === Number.POSITIVE_INFINITY) continue;
      next[o] = best + cost(start + i, start + i + turn + o - BAND);
      from[i * columns + o] = step;
    }
    sums = next;
  }
  const rounds = new Float64Array(PLACES + 1);
  for (let i = PLACES, o = BAND; i >= 0; i--) {
    rounds[i] = start + i + turn + o - BAND;
    o -= from[i * columns + o];
  }
  const shares = new Float64Array(PLACES + 1);
  let distance = 0;
  for (let i = 0; i < PLACES; i++) {
    const k = start + i;
    // Places before the start lie a round later on both.
    const at = k % PLACES;
    shares[at] = (rounds[i] - (k >= PLACES ? PLACES : 0)) / PLACES;
    const p = placeAt(b, shares[at]);
    distance += Math.sqrt((places[2 * at] - p.x) ** 2 + (places[2 * at + 1] - p.y) ** 2);
  }
  shares[PLACES] = shares[0] + 1;
  return { shares, distance: distance / PLACES / size };
}

/** The share on the second outline that a share on the first has gone to. */
export function forwards({ shares }: Way, share: number): number {
  const round = Math.floor(share);
  const at = (share - round) * PLACES;
  const k = Math.min(PLACES - 1, Math.floor(at));
  return round + shares[k] + (shares[k + 1] - shares[k]) * (at - k);
}

/** The share on the first outline that has gone to a share on the second. */
export function backwards({ shares }: Way, share: number): number {
  const round = Math.floor(share - shares[0]);
  const at = share - round;
  let [low, high] = [0, PLACES];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (shares[middle] <= at) low = middle;
    else high = middle;
  }
  const span = shares[low + 1] - shares[low];
  return round + (low + (span > 0 ? (at - shares[low]) / span : 0.5)) / PLACES;
}
