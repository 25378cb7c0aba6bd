/** Hot kernels in AssemblyScript with SIMD; built by scripts/build-wasm.mjs. The host lays buffers out in memory itself. */

/**
 * Floats of a row that lie together in the strips between the two passes of a blur: all that the taps of one column read is
 * then close together, in the nearest cache.
 */
const STRIP: i32 = 64;

/** Weighted sum of 16 neighbouring floats over the taps from `p` on, `step` bytes apart, stored at `to`. Symmetric weights. */
@inline
function sixteen(p: usize, step: usize, weights: usize, radius: i32, to: usize): void {
  const w0 = v128.load32_splat(weights + ((radius as usize) << 2));
  const middle = p + (radius as usize) * step;
  let a = f32x4.mul(w0, v128.load(middle));
  let b = f32x4.mul(w0, v128.load(middle, 16));
  let c = f32x4.mul(w0, v128.load(middle, 32));
  let d = f32x4.mul(w0, v128.load(middle, 48));
  let q = p + ((2 * radius) as usize) * step;
  for (let t = 0; t < radius; t++) {
    const w = v128.load32_splat(weights + ((t as usize) << 2));
    a = f32x4.add(a, f32x4.mul(w, f32x4.add(v128.load(p), v128.load(q))));
    b = f32x4.add(b, f32x4.mul(w, f32x4.add(v128.load(p, 16), v128.load(q, 16))));
    c = f32x4.add(c, f32x4.mul(w, f32x4.add(v128.load(p, 32), v128.load(q, 32))));
    d = f32x4.add(d, f32x4.mul(w, f32x4.add(v128.load(p, 48), v128.load(q, 48))));
    p += step;
    q -= step;
  }
  v128.store(to, a);
  v128.store(to, b, 16);
  v128.store(to, c, 32);
  v128.store(to, d, 48);
}

/**
 * One blur pass along rows. `source` holds `rows` rows of `stride` floats, each padded by `radius`·`channels` floats in front
 * and by as much and a strip behind. Writes into strips of 64 columns: column x of row y lies at
 * `target` + (x / 64)·`stripRows`·64 + y·64 + x % 64, in floats. `weights` holds 2·radius+1 floats, the same forwards and back.
 */
export function alongRows(source: usize, stride: i32, target: usize, stripRows: i32, count: i32, rows: i32, channels: i32, weights: usize, radius: i32): void {
  const step = (channels as usize) << 2;
  for (let y = 0; y < rows; y++) {
    const from = source + (((y * stride) as usize) << 2);
    for (let strip = 0; strip < count; strip += STRIP) {
      const to = target + (((strip * stripRows + y * STRIP) as usize) << 2);
      for (let x = 0; x < STRIP; x += 16) sixteen(from + (((strip + x) as usize) << 2), step, weights, radius, to + ((x as usize) << 2));
    }
  }
}

/**
 * One blur pass down the strips of 64 columns that begin at `source`, each of `rows` rows with `radius` rows of room before and
 * after; writes rows of `count` floats to `target`, which has a strip of room at its end.
 */
export function downColumns(source: usize, target: usize, count: i32, rows: i32, weights: usize, radius: i32): void {
  const row: usize = (STRIP as usize) << 2;
  const stripBytes = ((rows + 2 * radius) as usize) * row;
  // Stores go by 16: the end of a narrow last strip runs into the next row's start, so that strip is done first.
  for (let strip = ((count - 1) / STRIP) * STRIP; strip >= 0; strip -= STRIP) {
    const from = source + ((strip / STRIP) as usize) * stripBytes;
    // Rows outside the picture repeat the edge rows.
    for (let y = 0; y < radius; y++) {
      memory.copy(from + (y as usize) * row, from + (radius as usize) * row, row);
      memory.copy(from + ((radius + rows + y) as usize) * row, from + ((radius + rows - 1) as usize) * row, row);
    }
    const width = min(STRIP, count - strip);
    for (let y = 0; y < rows; y++) {
      const to = target + (((y * count + strip) as usize) << 2);
      for (let x = 0; x < width; x += 16) sixteen(from + (y as usize) * row + ((x as usize) << 2), row, weights, radius, to + ((x as usize) << 2));
    }
  }
}

/**
 * Finds the 2x2 cells that an outline passes through in `rows` rows of `stride` floats: those with corners both above `level`
 * and not. Looks at the first `columns` pixels of a row; reads three floats beyond. Writes the place of each cell's left top
 * pixel (y·stride + x) to `found` in reading order; returns how many there are.
 */
export function crossedCells(source: usize, stride: i32, columns: i32, rows: i32, level: f32, found: usize): i32 {
  const levels = f32x4.splat(level);
  let count = 0;
  for (let y = 0; y < rows - 1; y++) {
    const row = y * stride;
    let upper = source + ((row as usize) << 2);
    let lower = upper + ((stride as usize) << 2);
    for (let x = 0; x < columns - 1; x += 4) {
      const a = f32x4.gt(v128.load(upper), levels);
      const b = f32x4.gt(v128.load(upper, 4), levels);
      const c = f32x4.gt(v128.load(lower), levels);
      const d = f32x4.gt(v128.load(lower, 4), levels);
      upper += 16;
      lower += 16;
      const mixed = v128.andnot(v128.or(v128.or(a, b), v128.or(c, d)), v128.and(v128.and(a, b), v128.and(c, d)));
      let lanes = i32x4.bitmask(mixed);
      while (lanes != 0) {
        const lane = ctz(lanes);
        lanes &= lanes - 1;
        if (x + lane >= columns - 1) break;
        store<i32>(found + ((count as usize) << 2), row + x + lane);
        count++;
      }
    }
  }
  return count;
}

/**
 * Lowers `field` (`rows` rows of `stride` floats, of which `columns` count; three floats of room at its end) to the squared
 * distance from each pixel to the nearest of `count` chords of up to `reach` pixels. A chord is four floats: x0, y0, x1, y1 with
 * pixel centres at whole numbers.
 */
export function spreadChords(chords: usize, count: i32, field: usize, stride: i32, columns: i32, rows: i32, reach: f32): void {
  const lanes = f32x4(0, 1, 2, 3);
  for (let k = 0; k < count; k++) {
    const chord = chords + ((k as usize) << 4);
    const ax = load<f32>(chord);
    const ay = load<f32>(chord, 4);
    const dx = load<f32>(chord, 8) - ax;
    const dy = load<f32>(chord, 12) - ay;
    const length = sqrt<f32>(dx * dx + dy * dy);
    const ux: f32 = length > 0 ? dx / length : 1;
    const uy: f32 = length > 0 ? dy / length : 0;
    const x0 = min(ax, ax + dx) - reach;
    const x1 = max(ax, ax + dx) + reach;
    const y0 = max(0, ceil(min(ay, ay + dy) - reach) as i32);
    const y1 = min(rows - 1, floor(max(ay, ay + dy) + reach) as i32);
    // A slanting chord needs, of each row, only the stretch within reach of its line.
    const slants = abs(uy) > 0.001;
    const slant: f32 = slants ? reach / abs(uy) : 0;
    const uxs = f32x4.splat(ux);
    const uys = f32x4.splat(uy);
    const lengths = f32x4.splat(length);
    const zero = f32x4.splat(0);
    for (let y = y0; y <= y1; y++) {
      const py = (y as f32) - ay;
      let start = x0;
      let stop = x1;
      if (slants) {
        const middle = ax + (py * ux) / uy;
        start = max(start, middle - slant);
        stop = min(stop, middle + slant);
      }
      const from = max(0, ceil(start) as i32);
      const to = min(columns - 1, floor(stop) as i32);
      const pys = f32x4.splat(py);
      const yAlong = f32x4.mul(pys, uys);
      let at = field + (((y * stride + from) as usize) << 2);
      let px = f32x4.add(f32x4.splat((from as f32) - ax), lanes);
      const four = f32x4.splat(4);
      for (let x = from; x <= to; x += 4) {
        const along = f32x4.pmin(f32x4.pmax(f32x4.add(f32x4.mul(px, uxs), yAlong), zero), lengths);
        const ex = f32x4.sub(px, f32x4.mul(along, uxs));
        const ey = f32x4.sub(pys, f32x4.mul(along, uys));
        const d = f32x4.add(f32x4.mul(ex, ex), f32x4.mul(ey, ey));
        v128.store(at, f32x4.pmin(d, v128.load(at)));
        at += 16;
        px = f32x4.add(px, four);
      }
    }
  }
}

/** Squared to signed distances: the root, negative where `matte` is not above `level`. `count` floats, a multiple of four. */
export function signedRoots(field: usize, matte: usize, count: i32, level: f32): void {
  const levels = f32x4.splat(level);
  const end = field + ((count as usize) << 2);
  while (field < end) {
    const d = f32x4.sqrt(v128.load(field));
    v128.store(field, v128.bitselect(d, f32x4.neg(d), f32x4.gt(v128.load(matte), levels)));
    field += 16;
    matte += 16;
  }
}

/**
 * In place from signed distance to alpha: the table's first value below `outside` pixels out, its last from `inside` pixels in,
 * between them by linear interpolation in a table of `steps` + 2 floats (the last one twice). `count` is a multiple of four.
 */
export function profile(field: usize, count: i32, inside: f32, outside: f32, table: usize, steps: i32): void {
  const scale = (steps as f32) / (inside + outside);
  const last = f32x4.splat(steps as f32);
  const least = v128.load32_splat(table);
  const most = v128.load32_splat(table + ((steps as usize) << 2));
  const scales = f32x4.splat(scale);
  const offsets = f32x4.splat(outside);
  const zero = f32x4.splat(0);
  const end = field + ((count as usize) << 2);
  for (; field < end; field += 16) {
    const t = f32x4.mul(f32x4.add(v128.load(field), offsets), scales);
    const full = f32x4.ge(t, last);
    const none = f32x4.le(t, zero);
    v128.store(field, v128.bitselect(most, least, full));
    if (v128.any_true(v128.not(v128.or(full, none)))) {
      for (let lane = 0; lane < 4; lane++) {
        const own: f32 = lane < 2 ? (lane == 0 ? f32x4.extract_lane(t, 0) : f32x4.extract_lane(t, 1)) : lane == 2 ? f32x4.extract_lane(t, 2) : f32x4.extract_lane(t, 3);
        if (own <= 0 || own >= (steps as f32)) continue;
        const i = own as i32;
        const p = table + ((i as usize) << 2);
        const a = load<f32>(p);
        store<f32>(field + ((lane as usize) << 2), a + (load<f32>(p, 4) - a) * (own - (i as f32)));
      }
    }
  }
}

/**
 * As spreadChords, and notes for each pixel the widths of its nearest chord's feather there. A chord is eight floats: its ends
 * as before, then the inner width at both ends and the outer width at both ends. `inner` and `outer` are laid out as `field`.
 */
export function spreadFeather(
  chords: usize,
  count: i32,
  field: usize,
  inner: usize,
  outer: usize,
  stride: i32,
  columns: i32,
  rows: i32,
): void {
  const lanes = f32x4(0, 1, 2, 3);
  const zero = f32x4.splat(0);
  const four = f32x4.splat(4);
  const toInner = inner - field;
  const toOuter = outer - field;
  for (let k = 0; k < count; k++) {
    const chord = chords + ((k as usize) << 5);
    const ax = load<f32>(chord);
    const ay = load<f32>(chord, 4);
    const dx = load<f32>(chord, 8) - ax;
    const dy = load<f32>(chord, 12) - ay;
    const in0 = load<f32>(chord, 16);
    const in1 = load<f32>(chord, 20);
    const out0 = load<f32>(chord, 24);
    const out1 = load<f32>(chord, 28);
    // No farther than its own feather reaches, and a pixel for the hard edge.
    const reach = max(max(in0, in1), max(out0, out1)) + 1.5;
    const length = sqrt<f32>(dx * dx + dy * dy);
    const ux: f32 = length > 0 ? dx / length : 1;
    const uy: f32 = length > 0 ? dy / length : 0;
    const perLength: f32 = length > 0 ? 1 / length : 0;
    const y0 = max(0, ceil(min(ay, ay + dy) - reach) as i32);
    const y1 = min(rows - 1, floor(max(ay, ay + dy) + reach) as i32);
    const x0 = min(ax, ax + dx) - reach;
    const x1 = max(ax, ax + dx) + reach;
    // As in spreadChords, and by the circles at the ends: of each row only the stretch within reach.
    const slants = abs(uy) > 0.001;
    const slant: f32 = slants ? reach / abs(uy) : 0;
    const uxs = f32x4.splat(ux);
    const uys = f32x4.splat(uy);
    const lengths = f32x4.splat(length);
    const shares = f32x4.splat(perLength);
    const starts = f32x4.splat(in0);
    const startsOut = f32x4.splat(out0);
    const spanIn = f32x4.splat(in1 - in0);
    const spanOut = f32x4.splat(out1 - out0);
    for (let y = y0; y <= y1; y++) {
      const py = (y as f32) - ay;
      let start = x0;
      let stop = x1;
      if (slants) {
        const middle = ax + (py * ux) / uy;
        start = max(start, middle - slant);
        stop = min(stop, middle + slant);
      }
      // Above and below both ends the circles round them are narrower than the box.
      const beyond = max(max(-max(py, py - dy), min(py, py - dy)), 0);
      const half = sqrt<f32>(max(0, reach * reach - beyond * beyond));
      start = max(start, min(ax, ax + dx) - half);
      stop = min(stop, max(ax, ax + dx) + half);
      const from = max(0, ceil(start) as i32);
      const to = min(columns - 1, floor(stop) as i32);
      const pys = f32x4.splat(py);
      const yAlong = f32x4.mul(pys, uys);
      let at = field + (((y * stride + from) as usize) << 2);
      let px = f32x4.add(f32x4.splat((from as f32) - ax), lanes);
      for (let x = from; x <= to; x += 4) {
        const along = f32x4.pmin(f32x4.pmax(f32x4.add(f32x4.mul(px, uxs), yAlong), zero), lengths);
        const ex = f32x4.sub(px, f32x4.mul(along, uxs));
        const ey = f32x4.sub(pys, f32x4.mul(along, uys));
        const d = f32x4.add(f32x4.mul(ex, ex), f32x4.mul(ey, ey));
        const before = v128.load(at);
        const nearer = f32x4.lt(d, before);
        if (v128.any_true(nearer)) {
          v128.store(at, v128.bitselect(d, before, nearer));
          const share = f32x4.mul(along, shares);
          v128.store(at + toInner, v128.bitselect(f32x4.add(starts, f32x4.mul(spanIn, share)), v128.load(at + toInner), nearer));
          v128.store(at + toOuter, v128.bitselect(f32x4.add(startsOut, f32x4.mul(spanOut, share)), v128.load(at + toOuter), nearer));
        }
        at += 16;
        px = f32x4.add(px, four);
      }
    }
  }
}

/**
 * In place from coverage to feathered alpha. `field` holds squared distances with the widths of spreadFeather; where neither
 * width reaches half a pixel the coverage stays. `table` as in profile.
 */
export function featherAlpha(coverage: usize, field: usize, inner: usize, outer: usize, count: i32, table: usize, steps: i32): void {
  const most = steps as f32;
  const half = f32x4.splat(0.5);
  for (let i = 0; i < count; i++) {
    const at = (i as usize) << 2;
    // Most of a picture has no feather: four pixels at a time are passed by.
    if ((i & 3) == 0 && !v128.any_true(v128.or(f32x4.ge(v128.load(inner + at), half), f32x4.ge(v128.load(outer + at), half)))) {
      i += 3;
      continue;
    }
    const wide = load<f32>(inner + at);
    const wideOut = load<f32>(outer + at);
    if (wide < 0.5 && wideOut < 0.5) continue;
    const squared = load<f32>(field + at);
    const covered = load<f32>(coverage + at);
    const inside = covered > 0.5;
    const d = sqrt<f32>(squared);
    const within = max<f32>(0.5, wide);
    const without = max<f32>(0.5, wideOut);
    const t = (((inside ? d : -d) + without) / (within + without)) * most;
    if (t <= 0) store<f32>(coverage + at, load<f32>(table));
    else if (t >= most) store<f32>(coverage + at, load<f32>(table + ((steps as usize) << 2)));
    else {
      const k = t as i32;
      const p = table + ((k as usize) << 2);
      const a = load<f32>(p);
      store<f32>(coverage + at, a + (load<f32>(p, 4) - a) * (t - (k as f32)));
    }
  }
}

/**
 * Smooths a closed loop of `count` points (x, y as doubles) by `passes` pairs of steps, drawing every point by `lambda` and then
 * by `mu` of the way towards the middle of its neighbours. Works between `points` and `other`; the result is in `points`.
 */
export function fairLoop(points: usize, other: usize, count: i32, passes: i32, lambda: f64, mu: f64): void {
  let now = points;
  let next = other;
  const last = ((count - 1) as usize) << 4;
  for (let pass = 0; pass < 2 * passes; pass++) {
    const k = (pass & 1) == 0 ? lambda : mu;
    const own = f64x2.splat(1 - k);
    const half = f64x2.splat(k / 2);
    let before = v128.load(now + last);
    let here = v128.load(now);
    const first = here;
    for (let at: usize = 0; at < last; at += 16) {
      const after = v128.load(now + at, 16);
      v128.store(next + at, f64x2.add(f64x2.mul(own, here), f64x2.mul(half, f64x2.add(before, after))));
      before = here;
      here = after;
    }
    v128.store(next + last, f64x2.add(f64x2.mul(own, here), f64x2.mul(half, f64x2.add(before, first))));
    const swap = now;
    now = next;
    next = swap;
  }
}

/** More contrast round `middle`, in place: `count` floats, a multiple of four, times `k` away from it, cut to [0, most]. */
export function firm(field: usize, count: i32, middle: f32, k: f32, most: f32): void {
  const middles = f32x4.splat(middle);
  const times = f32x4.splat(k);
  const zero = f32x4.splat(0);
  const mosts = f32x4.splat(most);
  const end = field + ((count as usize) << 2);
  for (; field < end; field += 16) {
    const a = f32x4.add(middles, f32x4.mul(times, f32x4.sub(v128.load(field), middles)));
    v128.store(field, f32x4.pmax(zero, f32x4.pmin(mosts, a)));
  }
}

/**
 * Finds the stretches of neighbouring pixels above `limit` (with `below` not 0: below it) in `rows` rows of `stride` floats, of
 * which `columns` count; reads three floats beyond a row's last. Writes four numbers each to `found`: row, first pixel, the one
 * after the last (as integers), and the sum of the stretch's floats (as a float). Returns how many there are.
 */
export function rowRuns(source: usize, stride: i32, columns: i32, rows: i32, limit: f32, below: i32, found: usize): i32 {
  const limits = f32x4.splat(limit);
  const whole = columns & ~3;
  let count = 0;
  for (let y = 0; y < rows; y++) {
    let at = source + (((y * stride) as usize) << 2);
    let open = false;
    let first = 0;
    let sum: f64 = 0;
    let sums = f32x4.splat(0);
    for (let x = 0; x < columns; x += 4) {
      const values = v128.load(at);
      at += 16;
      let lanes = i32x4.bitmask(below != 0 ? f32x4.lt(values, limits) : f32x4.gt(values, limits));
      if (x >= whole) lanes &= (1 << (columns - whole)) - 1;
      if (lanes == 0 && !open) continue;
      if (lanes == 15 && open) {
        sums = f32x4.add(sums, values);
        continue;
      }
      for (let lane = 0; lane < 4; lane++) {
        const inside = (lanes >> lane) & 1;
        if (inside != 0) {
          if (!open) {
            open = true;
            first = x + lane;
            sum = 0;
            sums = f32x4.splat(0);
          }
          sum += load<f32>(at - 16 + ((lane as usize) << 2)) as f64;
        } else if (open) {
          open = false;
          found = putRun(found, y, first, x + lane, sum, sums);
          count++;
        }
      }
    }
    if (open) {
      found = putRun(found, y, first, columns, sum, sums);
      count++;
    }
  }
  return count;
}

@inline
function putRun(found: usize, row: i32, first: i32, end: i32, sum: f64, sums: v128): usize {
  store<i32>(found, row);
  store<i32>(found, first, 4);
  store<i32>(found, end, 8);
  const four = f32x4.extract_lane(sums, 0) + f32x4.extract_lane(sums, 1) + f32x4.extract_lane(sums, 2) + f32x4.extract_lane(sums, 3);
  store<f32>(found, (sum + (four as f64)) as f32, 12);
  return found + 16;
}

@inline
function sumOf(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3);
}

/** The value of a picture at a place, bilinear, borders repeated. */
function sampleAt(picture: usize, width: i32, height: i32, x: f32, y: f32): f32 {
  const cx = max<f32>(0, min<f32>(x, (width - 1) as f32));
  const cy = max<f32>(0, min<f32>(y, (height - 1) as f32));
  const x0 = cx as i32;
  const y0 = cy as i32;
  const right: usize = x0 < width - 1 ? 4 : 0;
  const down: usize = y0 < height - 1 ? (width as usize) << 2 : 0;
  const fx = cx - (x0 as f32);
  const fy = cy - (y0 as f32);
  const p = picture + (((y0 * width + x0) as usize) << 2);
  const upper = load<f32>(p) + (load<f32>(p + right) - load<f32>(p)) * fx;
  const lower = load<f32>(p + down) + (load<f32>(p + down + right) - load<f32>(p + down)) * fx;
  return upper + (lower - upper) * fy;
}

/**
 * Fills `other` with the 8x8 patch of a picture at (px, py), its mean made that of the patch `own`; gives the mean squared
 * difference of the two.
 */
function comparePatch(picture: usize, width: i32, height: i32, px: f32, py: f32, own: usize, other: usize): f32 {
  const left = floor(px);
  const top = floor(py);
  const x0 = left as i32;
  const y0 = top as i32;
  let sum = f32x4.splat(0);
  if (x0 >= 0 && y0 >= 0 && x0 + 8 < width && y0 + 8 < height) {
    const fx = px - left;
    const fy = py - top;
    const a = f32x4.splat((1 - fx) * (1 - fy));
    const b = f32x4.splat(fx * (1 - fy));
    const c = f32x4.splat((1 - fx) * fy);
    const d = f32x4.splat(fx * fy);
    const next = (width as usize) << 2;
    let row = picture + (((y0 * width + x0) as usize) << 2);
    for (let k: usize = 0; k < 256; k += 32) {
      for (let h: usize = 0; h < 32; h += 16) {
        const p = row + h;
        const upper = f32x4.add(f32x4.mul(a, v128.load(p)), f32x4.mul(b, v128.load(p, 4)));
        const lower = f32x4.add(f32x4.mul(c, v128.load(p + next)), f32x4.mul(d, v128.load(p + next, 4)));
        const value = f32x4.add(upper, lower);
        v128.store(other + k + h, value);
        sum = f32x4.add(sum, f32x4.sub(value, v128.load(own + k + h)));
      }
      row += next;
    }
  } else {
    let at: usize = 0;
    for (let y = 0; y < 8; y++)
      for (let x = 0; x < 8; x++, at += 4) store<f32>(other + at, sampleAt(picture, width, height, px + (x as f32), py + (y as f32)));
    for (let k: usize = 0; k < 256; k += 16) sum = f32x4.add(sum, f32x4.sub(v128.load(other + k), v128.load(own + k)));
  }
  const mean = f32x4.splat(sumOf(sum) / 64);
  let squares = f32x4.splat(0);
  for (let k: usize = 0; k < 256; k += 16) {
    const value = f32x4.sub(v128.load(other + k), mean);
    v128.store(other + k, value);
    const e = f32x4.sub(value, v128.load(own + k));
    squares = f32x4.add(squares, f32x4.mul(e, e));
  }
  return sumOf(squares) / 64;
}

/**
 * Inverse search of the motion of `columns` by `rows` patches of 8x8 pixels, `apart` pixels from each other, from one picture to
 * another of the same size (core/peel/flow.ts tells how). `u` and `v` hold where each patch begins its search and take where it
 * ended, `cost` its mean squared difference; `scratch` has room for 256 floats.
 */
export function patchFlow(
  first: usize,
  second: usize,
  width: i32,
  height: i32,
  columns: i32,
  rows: i32,
  apart: i32,
  u: usize,
  v: usize,
  cost: usize,
  scratch: usize,
  rounds: i32,
): void {
  const own = scratch;
  const other = scratch + 256;
  const gradX = scratch + 512;
  const gradY = scratch + 768;
  const patches = columns * rows;
  for (let pass = 0; pass < 2; pass++) {
    // The second pass goes from the end, so that good motion spreads both ways.
    const side = pass == 0 ? -1 : 1;
    for (let k = 0; k < patches; k++) {
      const p = pass == 0 ? k : patches - 1 - k;
      const c = p % columns;
      const r = p / columns;
      const px = c * apart;
      const py = r * apart;
      // The patch, its gradients, and what inverts its normal equations; a grain keeps a straight edge from sliding along itself.
      let xx: f32 = 1;
      let xy: f32 = 0;
      let yy: f32 = 1;
      let at: usize = 0;
      for (let y = 0; y < 8; y++)
        for (let x = 0; x < 8; x++, at += 4) {
          const i = px + x;
          const j = py + y;
          const q = first + (((j * width + i) as usize) << 2);
          const line = (width as usize) << 2;
          const gx = (load<f32>(i < width - 1 ? q + 4 : q) - load<f32>(i > 0 ? q - 4 : q)) / 2;
          const gy = (load<f32>(j < height - 1 ? q + line : q) - load<f32>(j > 0 ? q - line : q)) / 2;
          store<f32>(own + at, load<f32>(q));
          store<f32>(gradX + at, gx);
          store<f32>(gradY + at, gy);
          xx += gx * gx;
          xy += gx * gy;
          yy += gy * gy;
        }
      const det = xx * yy - xy * xy;
      const mine = (p as usize) << 2;
      const x = px as f32;
      const y = py as f32;
      let bestU = load<f32>(u + mine);
      let bestV = load<f32>(v + mine);
      let best = comparePatch(second, width, height, x + bestU, y + bestV, own, other);
      for (let n = 0; n < 2; n++) {
        if (n == 0 ? c + side < 0 || c + side >= columns : r + side < 0 || r + side >= rows) continue;
        const q = ((n == 0 ? p + side : p + side * columns) as usize) << 2;
        const nu = load<f32>(u + q);
        const nv = load<f32>(v + q);
        if (nu == bestU && nv == bestV) continue;
        const there = comparePatch(second, width, height, x + nu, y + nv, own, other);
        if (there < best) {
          best = there;
          bestU = nu;
          bestV = nv;
        }
      }
      if (det > 1e-6) {
        const u0 = bestU;
        const v0 = bestV;
        let du = u0;
        let dv = v0;
        for (let round = 0; round <= rounds; round++) {
          const now = comparePatch(second, width, height, x + du, y + dv, own, other);
          if (now < best) {
            best = now;
            bestU = du;
            bestV = dv;
          } else if (round > 0 && now > best * 1.2) break;
          if (round == rounds) break;
          let ex = f32x4.splat(0);
          let ey = f32x4.splat(0);
          for (let i: usize = 0; i < 256; i += 16) {
            const e = f32x4.sub(v128.load(other + i), v128.load(own + i));
            ex = f32x4.add(ex, f32x4.mul(e, v128.load(gradX + i)));
            ey = f32x4.add(ey, f32x4.mul(e, v128.load(gradY + i)));
          }
          const sumX = sumOf(ex);
          const sumY = sumOf(ey);
          const sx = (yy * sumX - xy * sumY) / det;
          const sy = (xx * sumY - xy * sumX) / det;
          if (sx * sx + sy * sy < 1e-4) break;
          du -= sx;
          dv -= sy;
          // A patch that goes farther than its own size has lost its way.
          if (abs(du - u0) > 8 || abs(dv - v0) > 8) break;
        }
      }
      store<f32>(u + mine, bestU);
      store<f32>(v + mine, bestV);
      store<f32>(cost + mine, best);
    }
  }
}
