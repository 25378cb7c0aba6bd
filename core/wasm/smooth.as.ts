/** Smoothing of loops, and firming of mattes. */

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
