/** Feathers of widths that change along an outline. */

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
