/**
 * Lets a curve that was carried to a frame settle on the edge it lay on where it was drawn: along its normals the brightness across
 * the edge is looked for as it was there, and neighbours move alike. For outlines that bend more than their track can say.
 */
import type { Gray } from '../image/picture.ts';
import { clamp, smoothstep } from '../math/clamp.ts';
import { flatten, pointOn, type Shape, segment } from '../path/path.ts';

export interface SettleSettings {
  /** Pixels to each side within which the edge is looked for. */
  band: number;
  /** How far towards what was found the curve goes, 0 to 1. */
  strength: number;
}

/** Pixels within and without the curve whose brightness is compared: more within, for what lies behind changes. */
const WITHIN = 6;
const WITHOUT = 1;
/** Pixels between places along the curve, and steps of a pixel across it. */
const APART = 3;
const STEP = 0.5;
/** Cost of neighbours that move unlike, for a pixel squared, against that of brightness that is unlike (0 to 2). */
const STIFFNESS = 0.15;
/** Cost of moving at all, for the whole band. */
const STAY = 0.08;
/** Slope in grey levels over a profile below which there is no edge to settle on. */
const FLAT = 2;

/** Places along a curve with their outward normals and which piece of it they lie on. */
interface Places {
  count: number;
  x: Float64Array;
  y: Float64Array;
  nx: Float64Array;
  ny: Float64Array;
  /** Vertex before, and how far along to the next, 0 to 1. */
  vertex: Int32Array;
  along: Float64Array;
}

function placesOn(shape: Shape): Places {
  const list: [number, number, number, number, number, number][] = [];
  for (let i = 0; i < shape.length; i++) {
    const s = segment(shape, i);
    const length =
      Math.hypot(s[6] - s[0], s[7] - s[1]) * 0.5 +
      0.5 * (Math.hypot(s[2] - s[0], s[3] - s[1]) + Math.hypot(s[4] - s[2], s[5] - s[3]) + Math.hypot(s[6] - s[4], s[7] - s[5]));
    const n = Math.max(1, Math.round(length / APART));
    for (let k = 0; k < n; k++) {
      const t = (k + 0.5) / n;
      const u = 1 - t;
      const { x, y } = pointOn(s, t);
      const straight = s[0] === s[2] && s[1] === s[3] && s[4] === s[6] && s[5] === s[7];
      const dx = straight ? s[6] - s[0] : u * u * (s[2] - s[0]) + 2 * u * t * (s[4] - s[2]) + t * t * (s[6] - s[4]);
      const dy = straight ? s[7] - s[1] : u * u * (s[3] - s[1]) + 2 * u * t * (s[5] - s[3]) + t * t * (s[7] - s[5]);
      const norm = Math.hypot(dx, dy) || 1;
      list.push([x, y, dy / norm, -dx / norm, i, t]);
    }
  }
  // One way round, so that inside lies on the same side everywhere.
  const p = flatten(shape, 1, 1, 0.5);
  let area = 0;
  for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) area += p[j] * p[i + 1] - p[i] * p[j + 1];
  const side = area >= 0 ? 1 : -1;
  const column = (k: number, by = 1) => Float64Array.from(list, (row) => row[k] * by);
  return {
    count: list.length,
    x: column(0),
    y: column(1),
    nx: column(2, side),
    ny: column(3, side),
    vertex: Int32Array.from(list, (r) => r[4]),
    along: column(5),
  };
}

function sample({ width, height, data }: Gray, x: number, y: number): number {
  const px = clamp(x - 0.5, 0, width - 1.001);
  const py = clamp(y - 0.5, 0, height - 1.001);
  const [x0, y0] = [Math.floor(px), Math.floor(py)];
  const [fx, fy] = [px - x0, py - y0];
  const i = y0 * width + x0;
  const [right, down] = [x0 < width - 1 ? 1 : 0, y0 < height - 1 ? width : 0];
  return (data[i] * (1 - fx) + data[i + right] * fx) * (1 - fy) + (data[i + down] * (1 - fx) + data[i + down + right] * fx) * fy;
}

/** Brightness across the curve at each place, in steps, with `more` pixels on each side. */
function across(picture: Gray, { count, x, y, nx, ny }: Places, more: number): { values: Float32Array; size: number } {
  const size = Math.round((WITHIN + WITHOUT + 2 * more) / STEP) + 1;
  const values = new Float32Array(count * size);
  for (let k = 0; k < count; k++)
    for (let s = 0; s < size; s++) {
      const d = s * STEP - WITHIN - more;
      values[k * size + s] = sample(picture, x[k] + nx[k] * d, y[k] + ny[k] * d);
    }
  return { values, size };
}

/** What a curve's edge looked like where it was drawn. */
export interface EdgeLooks {
  values: Float32Array;
  size: number;
  count: number;
  /** Vertices of the curve. */
  vertices: number;
}

/** Remembers the edge that a closed curve lies on; `picture` is luma in grey levels, the curve in its pixels. */
export function edgeLooks(picture: Gray, shape: Shape): EdgeLooks {
  const places = placesOn(shape);
  return { ...across(picture, places, 0), count: places.count, vertices: shape.length };
}

/** How unlike two profiles are whatever their light, 0 to 2; 1 where either is flat. */
function unlike(a: Float32Array, i: number, b: Float32Array, j: number, n: number): number {
  let [sa, sb, saa, sbb, sab] = [0, 0, 0, 0, 0];
  for (let k = 0; k < n; k++) {
    const [p, q] = [a[i + k], b[j + k]];
    sa += p;
    sb += q;
    saa += p * p;
    sbb += q * q;
    sab += p * q;
  }
  const [va, vb] = [saa - (sa * sa) / n, sbb - (sb * sb) / n];
  if (va < FLAT * FLAT * n || vb < FLAT * FLAT * n) return 1;
  return 1 - (sab - (sa * sb) / n) / Math.sqrt(va * vb);
}

/**
 * The curve moved onto its edge on another frame. A curve of other vertices than `looks` was made of, or one of fewer than three
 * places, is given back as it is.
 */
export function settled(picture: Gray, shape: Shape, looks: EdgeLooks, { band, strength }: SettleSettings): Shape {
  const places = placesOn(shape);
  const { count } = places;
  if (looks.vertices !== shape.length || count < 3 || looks.count < 3 || strength <= 0) return shape;
  const here = across(picture, places, band);
  const moves = here.size - looks.size + 1;
  const cost = new Float64Array(count * moves);
  for (let k = 0; k < count; k++) {
    // Curves keep their order, so the share of the whole tells which place of the drawn one this is, though it may have grown.
    const like = Math.min(looks.count - 1, Math.floor(((k + 0.5) * looks.count) / count));
    for (let m = 0; m < moves; m++) {
      const d = (m - (moves - 1) / 2) * STEP;
      cost[k * moves + m] = unlike(looks.values, like * looks.size, here.values, k * here.size + m, looks.size) + STAY * (d / band) ** 2;
    }
  }
  const best = smoothest(cost, count, moves);
  return bent(shape, places, best, { band, strength });
}

/** The moves, in pixels, of least cost round a closed curve where neighbours move alike (dynamic programming, twice round). */
function smoothest(cost: Float64Array, count: number, moves: number): Float64Array {
  const rounds = 2 * count;
  const from = new Int16Array(rounds * moves);
  let now = cost.slice(0, moves);
  const next = new Float64Array(moves);
  const unit = STIFFNESS * STEP * STEP;
  for (let r = 1; r < rounds; r++) {
    const k = r % count;
    for (let m = 0; m < moves; m++) {
      let [least, at] = [Number.POSITIVE_INFINITY, m];
      for (let o = Math.max(0, m - 4); o <= Math.min(moves - 1, m + 4); o++) {
        const c = now[o] + unit * (m - o) * (m - o);
        if (c < least) [least, at] = [c, o];
      }
      next[m] = least + cost[k * moves + m];
      from[r * moves + m] = at;
    }
    now = next.slice();
  }
  let m = now.indexOf(Math.min(...now));
  const out = new Float64Array(count);
  // What the second time round says has forgotten where the first began.
  for (let r = rounds - 1; r >= count; r--) {
    out[r % count] = (m - (moves - 1) / 2) * STEP;
    m = from[r * moves + m];
  }
  return out;
}

/** Pixels squared by which a vertex holds back against what its places say; rounds of the solver. */
const HOLD = 0.05;
const ROUNDS = 30;

/**
 * The shape whose vertices, each taking its handles along, bring the curve nearest to the moves of its places in the sense of least
 * squares (by conjugate gradients: Hestenes and Stiefel 1952).
 */
function bent(shape: Shape, { count, nx, ny, vertex, along }: Places, moves: Float64Array, { band, strength }: SettleSettings): Shape {
  const n = shape.length;
  const share = (t: number) => smoothstep(t);
  /** What the curve does at each place, along its normal, when the vertices move by `d`; and that turned round. */
  const spread = (d: Float64Array, out: Float64Array) => {
    for (let k = 0; k < count; k++) {
      const [a, b] = [2 * vertex[k], 2 * ((vertex[k] + 1) % n)];
      const t = share(along[k]);
      out[k] = nx[k] * ((1 - t) * d[a] + t * d[b]) + ny[k] * ((1 - t) * d[a + 1] + t * d[b + 1]);
    }
  };
  const gather = (r: Float64Array, out: Float64Array) => {
    out.fill(0);
    for (let k = 0; k < count; k++) {
      const [a, b] = [2 * vertex[k], 2 * ((vertex[k] + 1) % n)];
      const t = share(along[k]);
      out[a] += (1 - t) * nx[k] * r[k];
      out[a + 1] += (1 - t) * ny[k] * r[k];
      out[b] += t * nx[k] * r[k];
      out[b + 1] += t * ny[k] * r[k];
    }
  };
  const d = new Float64Array(2 * n);
  const [residual, direction, image, placed] = [new Float64Array(2 * n), new Float64Array(2 * n), new Float64Array(2 * n), new Float64Array(count)];
  gather(moves, residual);
  direction.set(residual);
  const square = (v: Float64Array) => v.reduce((sum, x) => sum + x * x, 0);
  let size = square(residual);
  for (let round = 0; round < ROUNDS && size > 1e-9; round++) {
    spread(direction, placed);
    gather(placed, image);
    let along2 = 0;
    for (let i = 0; i < 2 * n; i++) {
      image[i] += HOLD * direction[i];
      along2 += image[i] * direction[i];
    }
    const step = size / along2;
    for (let i = 0; i < 2 * n; i++) {
      d[i] += step * direction[i];
      residual[i] -= step * image[i];
    }
    const next = square(residual);
    for (let i = 0; i < 2 * n; i++) direction[i] = residual[i] + (next / size) * direction[i];
    size = next;
  }
  return shape.map((v, i) => {
    const far = Math.hypot(d[2 * i], d[2 * i + 1]);
    const by = far > band ? (strength * band) / far : strength;
    return { ...v, x: v.x + by * d[2 * i], y: v.y + by * d[2 * i + 1] };
  });
}
