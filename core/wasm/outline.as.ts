/** Signed distances from an outline, and the alpha that a profile gives them. */

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

/** Side of the squares in which chords are told apart that are far from all of a square, pixels; a multiple of four. */
const SQUARE = 24;

/**
 * As spreadChords, faster where the reach is long: in each square of the field only those chords are measured that can be nearest to any
 * pixel of it. `far` has room for `count` floats.
 */
export function spreadChordsFar(chords: usize, count: i32, field: usize, stride: i32, columns: i32, rows: i32, reach: f32, far: usize): void {
  const lanes = f32x4(0, 1, 2, 3);
  const zero = f32x4.splat(0);
  const four = f32x4.splat(4);
  for (let top = 0; top < rows; top += SQUARE) {
    const bottom = min(rows, top + SQUARE);
    for (let left = 0; left < columns; left += SQUARE) {
      const right = min(columns, left + SQUARE);
      const mx = ((left + right - 1) as f32) / 2;
      const my = ((top + bottom - 1) as f32) / 2;
      // From the middle to the last pixel that is written, which may be three beyond the side.
      const wide = ((right - left + 5) as f32) / 2;
      const high = ((bottom - top - 1) as f32) / 2;
      const round = sqrt<f32>(wide * wide + high * high);
      let least: f32 = reach + round;
      for (let k = 0; k < count; k++) {
        const chord = chords + ((k as usize) << 4);
        const ax = load<f32>(chord);
        const ay = load<f32>(chord, 4);
        const dx = load<f32>(chord, 8) - ax;
        const dy = load<f32>(chord, 12) - ay;
        const square = dx * dx + dy * dy;
        const t: f32 = square > 0 ? max<f32>(0, min<f32>(1, ((mx - ax) * dx + (my - ay) * dy) / square)) : 0;
        const ex = mx - ax - t * dx;
        const ey = my - ay - t * dy;
        const d = sqrt<f32>(ex * ex + ey * ey);
        store<f32>(far + ((k as usize) << 2), d);
        least = min(least, d);
      }
      // A hair more, for rounding.
      const most = min(least + 2 * round, reach + round) + 0.01;
      for (let k = 0; k < count; k++) {
        if (load<f32>(far + ((k as usize) << 2)) > most) continue;
        const chord = chords + ((k as usize) << 4);
        const ax = load<f32>(chord);
        const ay = load<f32>(chord, 4);
        const dx = load<f32>(chord, 8) - ax;
        const dy = load<f32>(chord, 12) - ay;
        const length = sqrt<f32>(dx * dx + dy * dy);
        const ux: f32 = length > 0 ? dx / length : 1;
        const uy: f32 = length > 0 ? dy / length : 0;
        const uxs = f32x4.splat(ux);
        const uys = f32x4.splat(uy);
        const lengths = f32x4.splat(length);
        for (let y = top; y < bottom; y++) {
          const pys = f32x4.splat((y as f32) - ay);
          const yAlong = f32x4.mul(pys, uys);
          let at = field + (((y * stride + left) as usize) << 2);
          let px = f32x4.add(f32x4.splat((left as f32) - ax), lanes);
          for (let x = left; x < right; x += 4) {
            const along = f32x4.pmin(f32x4.pmax(f32x4.add(f32x4.mul(px, uxs), yAlong), zero), lengths);
            const ex = f32x4.sub(px, f32x4.mul(along, uxs));
            const ey = f32x4.sub(pys, f32x4.mul(along, uys));
            v128.store(at, f32x4.pmin(f32x4.add(f32x4.mul(ex, ex), f32x4.mul(ey, ey)), v128.load(at)));
            at += 16;
            px = f32x4.add(px, four);
          }
        }
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
