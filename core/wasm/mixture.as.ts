/** One round of expectation and maximisation for a mixture of Gaussians of three channels. */

/** e^-x for x >= 0 of four lanes, to five digits. */
@inline
function fallFour(x: v128): v128 {
  const t = f32x4.pmax(f32x4.mul(x, f32x4.splat(-1.4426950408889634)), f32x4.splat(-126));
  const whole = f32x4.floor(t);
  const f = f32x4.sub(t, whole);
  let p = f32x4.add(f32x4.splat(0.0096181), f32x4.mul(f, f32x4.splat(0.0013334)));
  p = f32x4.add(f32x4.splat(0.0555041), f32x4.mul(f, p));
  p = f32x4.add(f32x4.splat(0.2402265), f32x4.mul(f, p));
  p = f32x4.add(f32x4.splat(0.6931472), f32x4.mul(f, p));
  p = f32x4.add(f32x4.splat(1), f32x4.mul(f, p));
  const power = i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(whole), i32x4.splat(127)), 23);
  return f32x4.mul(power, p);
}

@inline
function splatAt(p: usize, i: usize): v128 {
  return v128.load32_splat(p + (i << 2));
}

@inline
function accumulate(p: usize, i: usize, v: v128): void {
  v128.store(p + (i << 4), f32x4.add(v128.load(p + (i << 4)), v));
}

/**
 * Adds up, over `count` samples (a multiple of four; channel by channel at `l`, `a`, `b`, and how much each counts at `weight`),
 * what each of `k` Gaussians has of them by its share in their density: weight, three sums, six sums of products (ll, la, lb, aa,
 * ab, bb), four lanes each, at `sums`. `terms` holds ten floats a Gaussian: log factor, three means, inverse covariance (ll, la,
 * lb, aa, ab, bb). `scratch` holds four floats a Gaussian.
 */
export function mixtureSums(l: usize, a: usize, b: usize, weight: usize, count: i32, terms: usize, k: i32, scratch: usize, sums: usize): void {
  memory.fill(sums, 0, (k as usize) * 160);
  const end = (count as usize) << 2;
  const half = f32x4.splat(0.5);
  for (let i: usize = 0; i < end; i += 16) {
    const L = v128.load(l + i);
    const A = v128.load(a + i);
    const B = v128.load(b + i);
    let most = f32x4.splat(-1e30);
    for (let c = 0; c < k; c++) {
      const t = terms + (c as usize) * 40;
      const dl = f32x4.sub(L, splatAt(t, 1));
      const da = f32x4.sub(A, splatAt(t, 2));
      const db = f32x4.sub(B, splatAt(t, 3));
      const squares = f32x4.add(
        f32x4.add(f32x4.mul(splatAt(t, 4), f32x4.mul(dl, dl)), f32x4.mul(splatAt(t, 7), f32x4.mul(da, da))),
        f32x4.mul(splatAt(t, 9), f32x4.mul(db, db)),
      );
      const products = f32x4.add(
        f32x4.mul(dl, f32x4.add(f32x4.mul(splatAt(t, 5), da), f32x4.mul(splatAt(t, 6), db))),
        f32x4.mul(splatAt(t, 8), f32x4.mul(da, db)),
      );
      const v = f32x4.sub(splatAt(t, 0), f32x4.add(f32x4.mul(half, squares), products));
      v128.store(scratch + ((c as usize) << 4), v);
      most = f32x4.pmax(most, v);
    }
    let all = f32x4.splat(0);
    for (let c = 0; c < k; c++) {
      const e = fallFour(f32x4.sub(most, v128.load(scratch + ((c as usize) << 4))));
      v128.store(scratch + ((c as usize) << 4), e);
      all = f32x4.add(all, e);
    }
    const share = f32x4.div(v128.load(weight + i), all);
    for (let c = 0; c < k; c++) {
      const w = f32x4.mul(share, v128.load(scratch + ((c as usize) << 4)));
      const s = sums + (c as usize) * 160;
      const wl = f32x4.mul(w, L);
      const wa = f32x4.mul(w, A);
      const wb = f32x4.mul(w, B);
      accumulate(s, 0, w);
      accumulate(s, 1, wl);
      accumulate(s, 2, wa);
      accumulate(s, 3, wb);
      accumulate(s, 4, f32x4.mul(wl, L));
      accumulate(s, 5, f32x4.mul(wl, A));
      accumulate(s, 6, f32x4.mul(wl, B));
      accumulate(s, 7, f32x4.mul(wa, A));
      accumulate(s, 8, f32x4.mul(wa, B));
      accumulate(s, 9, f32x4.mul(wb, B));
    }
  }
}
