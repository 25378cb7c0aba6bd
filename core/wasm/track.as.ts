/** The loops of aligning a pattern with a picture: looking at it, comparing the light, and the sums of a step. */

@inline
function at(p: usize, i: i32): v128 {
  return v128.load(p + ((i as usize) << 2));
}

/** Between the four pixels from each of four on, the first of which lie `p` floats after `image`; rows are `row` bytes. */
@inline
function bilinear(image: usize, row: usize, p: v128, sx: v128, sy: v128): v128 {
  const q0 = image + ((i32x4.extract_lane(p, 0) as usize) << 2);
  const q1 = image + ((i32x4.extract_lane(p, 1) as usize) << 2);
  const q2 = image + ((i32x4.extract_lane(p, 2) as usize) << 2);
  const q3 = image + ((i32x4.extract_lane(p, 3) as usize) << 2);
  const u01 = v128.load64_lane(q1, v128.load64_zero(q0), 1);
  const u23 = v128.load64_lane(q3, v128.load64_zero(q2), 1);
  const l01 = v128.load64_lane(q1 + row, v128.load64_zero(q0 + row), 1);
  const l23 = v128.load64_lane(q3 + row, v128.load64_zero(q2 + row), 1);
  const upperLeft = v128.shuffle<f32>(u01, u23, 0, 2, 4, 6);
  const lowerLeft = v128.shuffle<f32>(l01, l23, 0, 2, 4, 6);
  const upper = f32x4.add(upperLeft, f32x4.mul(f32x4.sub(v128.shuffle<f32>(u01, u23, 1, 3, 5, 7), upperLeft), sx));
  const lower = f32x4.add(lowerLeft, f32x4.mul(f32x4.sub(v128.shuffle<f32>(l01, l23, 1, 3, 5, 7), lowerLeft), sx));
  return f32x4.add(upper, f32x4.mul(f32x4.sub(lower, upper), sy));
}

/**
 * Values of a picture where a motion puts `count` samples (a multiple of four) at `u`, `v`: bilinear, NaN outside, to `seen`. `motion`
 * holds nine floats that take (u, v, 1) to places in pixels from the centre of the first one at `image`, whose rows are `stride` floats.
 * Inside is from `x0`, `y0` on and below `x1`, `y1`. Returns how many are.
 */
export function trackLook(u: usize, v: usize, count: i32, motion: usize, image: usize, stride: i32, x0: f32, y0: f32, x1: f32, y1: f32, seen: usize): i32 {
  const a = v128.load32_splat(motion);
  const b = v128.load32_splat(motion + 4);
  const c = v128.load32_splat(motion + 8);
  const d = v128.load32_splat(motion + 12);
  const e = v128.load32_splat(motion + 16);
  const f = v128.load32_splat(motion + 20);
  const g = v128.load32_splat(motion + 24);
  const h = v128.load32_splat(motion + 28);
  const i = v128.load32_splat(motion + 32);
  const left = f32x4.splat(x0);
  const top = f32x4.splat(y0);
  const right = f32x4.splat(x1);
  const bottom = f32x4.splat(y1);
  const nothing = f32x4.splat(NaN);
  const seenFromSide = load<f32>(motion, 24) !== 0 || load<f32>(motion, 28) !== 0 || load<f32>(motion, 32) !== 1;
  const strides = i32x4.splat(stride);
  const row = (stride as usize) << 2;
  let inside = 0;
  for (let k = 0; k < count; k += 4) {
    const uu = at(u, k);
    const vv = at(v, k);
    let x = f32x4.add(f32x4.add(f32x4.mul(a, uu), f32x4.mul(b, vv)), c);
    let y = f32x4.add(f32x4.add(f32x4.mul(d, uu), f32x4.mul(e, vv)), f);
    if (seenFromSide) {
      const w = f32x4.add(f32x4.add(f32x4.mul(g, uu), f32x4.mul(h, vv)), i);
      x = f32x4.div(x, w);
      y = f32x4.div(y, w);
    }
    const there = v128.and(v128.and(f32x4.ge(x, left), f32x4.ge(y, top)), v128.and(f32x4.lt(x, right), f32x4.lt(y, bottom)));
    const lanes = i32x4.bitmask(there);
    const to = seen + ((k as usize) << 2);
    if (lanes == 0) {
      v128.store(to, nothing);
      continue;
    }
    inside += popcnt(lanes);
    const fx = f32x4.floor(x);
    const fy = f32x4.floor(y);
    // Lanes outside look at the first pixel.
    const p = v128.and(i32x4.add(i32x4.mul(i32x4.trunc_sat_f32x4_s(fy), strides), i32x4.trunc_sat_f32x4_s(fx)), there);
    const value = bilinear(image, row, p, f32x4.sub(x, fx), f32x4.sub(y, fy));
    v128.store(to, v128.bitselect(value, nothing, there));
  }
  return inside;
}

@inline
function sumUp(sum: v128, w: v128): v128 {
  return f64x2.add(sum, f64x2.add(f64x2.promote_low_f32x4(w), f64x2.promote_low_f32x4(v128.shuffle<f32>(w, w, 2, 3, 0, 1))));
}

@inline
function store2(to: usize, i: usize, v: v128): void {
  store<f64>(to + (i << 3), f64x2.extract_lane(v, 0) + f64x2.extract_lane(v, 1));
}

/**
 * Six sums over `count` samples that are seen (not NaN) of weight, and weight times pattern, seen, pattern², pattern·seen, seen², as
 * doubles at `sums`; both less `middle`, so that their squares stay small.
 */
export function trackLight(seen: usize, value: usize, weight: usize, count: i32, middle: f32, sums: usize): void {
  let sw = f64x2.splat(0);
  let st = f64x2.splat(0);
  let si = f64x2.splat(0);
  let stt = f64x2.splat(0);
  let sti = f64x2.splat(0);
  let sii = f64x2.splat(0);
  const m = f32x4.splat(middle);
  for (let k = 0; k < count; k += 4) {
    const s = at(seen, k);
    const there = f32x4.eq(s, s);
    const w = v128.and(at(weight, k), there);
    const i = v128.and(f32x4.sub(s, m), there);
    const t = f32x4.sub(at(value, k), m);
    const wt = f32x4.mul(w, t);
    const wi = f32x4.mul(w, i);
    sw = sumUp(sw, w);
    st = sumUp(st, wt);
    si = sumUp(si, wi);
    stt = sumUp(stt, f32x4.mul(wt, t));
    sti = sumUp(sti, f32x4.mul(wt, i));
    sii = sumUp(sii, f32x4.mul(wi, i));
  }
  store2(sums, 0, sw);
  store2(sums, 1, st);
  store2(sums, 2, si);
  store2(sums, 3, stt);
  store2(sums, 4, sti);
  store2(sums, 5, sii);
}

/** Pattern seen under light: (seen - offset) / gain - value, to `residual`; NaN where nothing is seen. */
export function trackResiduals(seen: usize, value: usize, count: i32, gain: f32, offset: f32, residual: usize): void {
  const by = f32x4.splat(1 / gain);
  const off = f32x4.splat(offset);
  for (let k = 0; k < count; k += 4)
    v128.store(residual + ((k as usize) << 2), f32x4.sub(f32x4.mul(f32x4.sub(at(seen, k), off), by), at(value, k)));
}

/**
 * Weights that count: those at `weight` times the biweight of the residuals up to `reach` times that of each sample's cell (`cell`
 * holds bytes, `cells` floats). Returns how many agree by more than a quarter.
 */
export function trackWeights(residual: usize, weight: usize, cell: usize, cells: usize, count: i32, reach: f32, counted: usize): i32 {
  const by = f32x4.splat(1 / reach);
  const one = f32x4.splat(1);
  const quarter = f32x4.splat(0.25);
  let agree = 0;
  for (let k = 0; k < count; k += 4) {
    const q = f32x4.mul(at(residual, k), by);
    const rest = f32x4.sub(one, f32x4.mul(q, q));
    // Not for NaN, which is no greater than anything.
    const near = f32x4.gt(rest, f32x4.splat(0));
    const c = cell + (k as usize);
    let own = v128.load32_splat(cells + ((load<u8>(c) as usize) << 2));
    own = v128.load32_lane(cells + ((load<u8>(c, 1) as usize) << 2), own, 1);
    own = v128.load32_lane(cells + ((load<u8>(c, 2) as usize) << 2), own, 2);
    own = v128.load32_lane(cells + ((load<u8>(c, 3) as usize) << 2), own, 3);
    const inlier = v128.and(f32x4.mul(f32x4.mul(rest, rest), own), near);
    agree += popcnt(i32x4.bitmask(f32x4.gt(inlier, quarter)));
    v128.store(counted + ((k as usize) << 2), f32x4.mul(at(weight, k), inlier));
  }
  return agree;
}

@inline
function placed(v: v128): v128 {
  return v128.and(v, f32x4.eq(v, v));
}

/** Samples, in fours, that are taken at once. */
const CHUNK = 8;

/**
 * The sums of a step: over `count` samples (a multiple of four, no NaN where `counted` is not 0) of the change of brightness for each
 * of the motion's `parameters` (2, 4, 6 or 8, in the order of smallMotion), for gain and for offset, times weight and residual, as
 * floats at `right`; and with `normal` not 0 of the products of all pairs of them times weight, the lower triangle row after row. All
 * have four lanes. `scratch` holds (parameters + 3) times 128 bytes.
 */
export function trackSums(
  u: usize,
  v: usize,
  slopeU: usize,
  slopeV: usize,
  value: usize,
  counted: usize,
  residual: usize,
  count: i32,
  parameters: i32,
  right: usize,
  normal: usize,
  scratch: usize,
): void {
  const size = parameters + 2;
  memory.fill(right, 0, (size as usize) << 4);
  if (normal) memory.fill(normal, 0, ((size * (size + 1)) as usize) << 3);
  const weights = scratch + ((size as usize) << 7);
  for (let from = 0; from < count; from += 4 * CHUNK) {
    const fours = min(CHUNK, (count - from) >> 2);
    for (let n = 0; n < fours; n++) {
      const k = from + (n << 2);
      const to = scratch + ((n as usize) << 4);
      const s = at(slopeU, k);
      const t = at(slopeV, k);
      // What fills up the last four has no place.
      const a = placed(at(u, k));
      const b = placed(at(v, k));
      v128.store(to, s);
      v128.store(to + 128, t);
      const along = f32x4.add(f32x4.mul(s, a), f32x4.mul(t, b));
      if (parameters == 4) {
        v128.store(to + 256, along);
        v128.store(to + 384, f32x4.sub(f32x4.mul(t, a), f32x4.mul(s, b)));
      } else if (parameters >= 6) {
        v128.store(to + 256, f32x4.mul(s, a));
        v128.store(to + 384, f32x4.mul(s, b));
        v128.store(to + 512, f32x4.mul(t, a));
        v128.store(to + 640, f32x4.mul(t, b));
      }
      if (parameters == 8) {
        v128.store(to + 768, f32x4.neg(f32x4.mul(along, a)));
        v128.store(to + 896, f32x4.neg(f32x4.mul(along, b)));
      }
      v128.store(to + ((parameters as usize) << 7), at(value, k));
      v128.store(to + (((parameters + 1) as usize) << 7), f32x4.splat(1));
      v128.store(weights + ((n as usize) << 4), at(counted, k));
    }
    let pair = normal;
    for (let i = 0; i < size; i++) {
      const ci = scratch + ((i as usize) << 7);
      let sum = v128.load(right + ((i as usize) << 4));
      for (let n = 0; n < fours; n++) {
        const w = v128.load(weights + ((n as usize) << 4));
        const r = v128.and(at(residual, from + (n << 2)), f32x4.gt(w, f32x4.splat(0)));
        sum = f32x4.add(sum, f32x4.mul(f32x4.mul(w, r), v128.load(ci + ((n as usize) << 4))));
      }
      v128.store(right + ((i as usize) << 4), sum);
      if (!normal) continue;
      for (let j = 0; j <= i; j++) {
        const cj = scratch + ((j as usize) << 7);
        let product = v128.load(pair);
        for (let n = 0; n < fours; n++) {
          const o = (n as usize) << 4;
          product = f32x4.add(product, f32x4.mul(v128.load(weights + o), f32x4.mul(v128.load(ci + o), v128.load(cj + o))));
        }
        v128.store(pair, product);
        pair += 16;
      }
    }
  }
}

/** Bilinear at places in pixels, kept within 0 and `right`, `bottom` (two less than the picture's size for the corner). */
@inline
function within(image: usize, strides: v128, row: usize, x: v128, y: v128, right: v128, bottom: v128): v128 {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const cx = f32x4.pmax(zero, f32x4.pmin(x, f32x4.add(right, one)));
  const cy = f32x4.pmax(zero, f32x4.pmin(y, f32x4.add(bottom, one)));
  const x0 = f32x4.pmin(f32x4.floor(cx), right);
  const y0 = f32x4.pmin(f32x4.floor(cy), bottom);
  const p = i32x4.add(i32x4.mul(i32x4.trunc_sat_f32x4_s(y0), strides), i32x4.trunc_sat_f32x4_s(x0));
  return bilinear(image, row, p, f32x4.sub(cx, x0), f32x4.sub(cy, y0));
}

/**
 * What a picture of `width` by `height` pixels, its rows `stride` floats, shows where a motion (as for trackLook) puts `count` samples: its value, NaN more than
 * half a pixel beyond its border, and its slope along u and v by differences of two pixels; beyond the border the last value repeats.
 * Returns how many have a value.
 */
export function trackPattern(
  u: usize, v: usize, count: i32, motion: usize, image: usize, stride: i32, width: i32, height: i32, value: usize, slopeU: usize, slopeV: usize,
): i32 {
  const a = v128.load32_splat(motion);
  const b = v128.load32_splat(motion + 4);
  const c = v128.load32_splat(motion + 8);
  const d = v128.load32_splat(motion + 12);
  const e = v128.load32_splat(motion + 16);
  const f = v128.load32_splat(motion + 20);
  const g = v128.load32_splat(motion + 24);
  const h = v128.load32_splat(motion + 28);
  const i = v128.load32_splat(motion + 32);
  const least = f32x4.splat(-0.5);
  const right = f32x4.splat((width - 2) as f32);
  const bottom = f32x4.splat((height - 2) as f32);
  const mostX = f32x4.splat((width as f32) - 0.5);
  const mostY = f32x4.splat((height as f32) - 0.5);
  const one = f32x4.splat(1);
  const half = f32x4.splat(0.5);
  let inside = 0;
  const strides = i32x4.splat(stride);
  const row = (stride as usize) << 2;
  for (let k = 0; k < count; k += 4) {
    const uu = at(u, k);
    const vv = at(v, k);
    const w = f32x4.add(f32x4.add(f32x4.mul(g, uu), f32x4.mul(h, vv)), i);
    const x = f32x4.div(f32x4.add(f32x4.add(f32x4.mul(a, uu), f32x4.mul(b, vv)), c), w);
    const y = f32x4.div(f32x4.add(f32x4.add(f32x4.mul(d, uu), f32x4.mul(e, vv)), f), w);
    const there = v128.and(v128.and(f32x4.ge(x, least), f32x4.ge(y, least)), v128.and(f32x4.le(x, mostX), f32x4.le(y, mostY)));
    inside += popcnt(i32x4.bitmask(there));
    const here = within(image, strides, row, x, y, right, bottom);
    const gx = f32x4.mul(half, f32x4.sub(within(image, strides, row, f32x4.add(x, one), y, right, bottom), within(image, strides, row, f32x4.sub(x, one), y, right, bottom)));
    const gy = f32x4.mul(half, f32x4.sub(within(image, strides, row, x, f32x4.add(y, one), right, bottom), within(image, strides, row, x, f32x4.sub(y, one), right, bottom)));
    const to = (k as usize) << 2;
    v128.store(value + to, v128.bitselect(here, f32x4.splat(NaN), there));
    // How the neighbourhood is stretched there.
    const xu = f32x4.sub(a, f32x4.mul(x, g));
    const xv = f32x4.sub(b, f32x4.mul(x, h));
    const yu = f32x4.sub(d, f32x4.mul(y, g));
    const yv = f32x4.sub(e, f32x4.mul(y, h));
    v128.store(slopeU + to, f32x4.div(f32x4.add(f32x4.mul(gx, xu), f32x4.mul(gy, yu)), w));
    v128.store(slopeV + to, f32x4.div(f32x4.add(f32x4.mul(gx, xv), f32x4.mul(gy, yv)), w));
  }
  return inside;
}

/**
 * Half the size by the filter 1 3 3 1 both ways, borders repeated; an odd last row or column is left out. `line` holds `width` plus
 * twelve floats. Reads and writes up to three floats beyond a row's last.
 */
export function halveFloats(source: usize, width: i32, height: i32, target: usize, line: usize): void {
  const w = width >> 1;
  const h = height >> 1;
  const row = (width as usize) << 2;
  const first = line + 16;
  const three = f32x4.splat(3);
  const eighth = f32x4.splat(0.125);
  for (let y = 0; y < h; y++) {
    const r1 = source + (2 * y as usize) * row;
    const r2 = r1 + row;
    const r0 = y > 0 ? r1 - row : r1;
    const r3 = 2 * y + 2 < height ? r2 + row : r2;
    for (let x: usize = 0; x < row; x += 16) {
      const inner = f32x4.add(v128.load(r1 + x), v128.load(r2 + x));
      const outer = f32x4.add(v128.load(r0 + x), v128.load(r3 + x));
      v128.store(first + x, f32x4.mul(f32x4.add(outer, f32x4.mul(inner, three)), eighth));
    }
    store<f32>(first - 4, load<f32>(first));
    store<f32>(first + row, load<f32>(first + row - 4));
    const to = target + ((y * w) as usize << 2);
    for (let x = 0; x < w; x += 4) {
      const t = first + ((2 * x) as usize << 2);
      const a = v128.load(t);
      const b = v128.load(t + 16);
      const inner = f32x4.add(v128.shuffle<f32>(a, b, 0, 2, 4, 6), v128.shuffle<f32>(a, b, 1, 3, 5, 7));
      const before = v128.shuffle<f32>(v128.load(t - 4), v128.load(t + 12), 0, 2, 4, 6);
      const after = v128.shuffle<f32>(v128.load(t + 8), v128.load(t + 24), 0, 2, 4, 6);
      v128.store(to + ((x as usize) << 2), f32x4.mul(f32x4.add(f32x4.add(before, after), f32x4.mul(inner, three)), eighth));
    }
  }
}

@inline
function pair(a: usize, b: usize, weight: v128): v128 {
  return f32x4.mul(f32x4.add(v128.load(a), v128.load(b)), weight);
}

/**
 * The rows from one on up to another of a picture, smoothed both ways by a filter of five that is alike on both sides, borders repeated:
 * `weights` holds the middle one and two more. `line` holds `width` and sixteen floats more. Reads and writes up to three floats beyond
 * a row's last. The first of them goes to `target`.
 */
export function smoothRows(source: usize, width: i32, height: i32, from: i32, to: i32, weights: usize, line: usize, target: usize): void {
  const bytes = (width as usize) << 2;
  const first = line + 16;
  const w0 = v128.load32_splat(weights);
  const w1 = v128.load32_splat(weights + 4);
  const w2 = v128.load32_splat(weights + 8);
  for (let y = from; y < to; y++) {
    const own = source + (y as usize) * bytes;
    const a1 = source + (max(0, y - 1) as usize) * bytes;
    const a2 = source + (max(0, y - 2) as usize) * bytes;
    const b1 = source + (min(height - 1, y + 1) as usize) * bytes;
    const b2 = source + (min(height - 1, y + 2) as usize) * bytes;
    for (let x: usize = 0; x < bytes; x += 16)
      v128.store(first + x, f32x4.add(f32x4.mul(v128.load(own + x), w0), f32x4.add(pair(a1 + x, b1 + x, w1), pair(a2 + x, b2 + x, w2))));
    for (let k: usize = 1; k <= 2; k++) {
      store<f32>(first - (k << 2), load<f32>(first));
      store<f32>(first + bytes + ((k - 1) << 2), load<f32>(first + bytes - 4));
    }
    const at = target + ((y - from) as usize) * bytes;
    for (let x: usize = 0; x < bytes; x += 16) {
      const p = first + x;
      v128.store(at + x, f32x4.add(f32x4.mul(v128.load(p), w0), f32x4.add(pair(p - 4, p + 4, w1), pair(p - 8, p + 8, w2))));
    }
  }
}
