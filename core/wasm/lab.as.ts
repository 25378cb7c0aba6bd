/** Colours as CIE L*a*b* (D65). */

/** The standard's cube root of four lanes in [0,1], its straight piece below 216/24389 included. */
@inline
function rootFour(t: v128): v128 {
  // A third of the exponent is a first guess within a few percent; two steps of Halley's make it right to the last digits.
  const third = f32x4.mul(f32x4.convert_i32x4_s(t), f32x4.splat(0.33333334));
  let r = i32x4.add(i32x4.trunc_sat_f32x4_s(third), i32x4.splat(709958130));
  for (let k = 0; k < 2; k++) {
    const cube = f32x4.mul(r, f32x4.mul(r, r));
    r = f32x4.mul(r, f32x4.div(f32x4.add(cube, f32x4.add(t, t)), f32x4.add(f32x4.add(cube, cube), t)));
  }
  const straight = f32x4.add(f32x4.mul(t, f32x4.splat(7.787037)), f32x4.splat(0.13793103));
  return v128.bitselect(straight, r, f32x4.le(t, f32x4.splat(0.008856452)));
}

@inline
function weighted(r: v128, g: v128, b: v128, wr: f32, wg: f32, wb: f32): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(r, f32x4.splat(wr)), f32x4.mul(g, f32x4.splat(wg))), f32x4.mul(b, f32x4.splat(wb)));
}

@inline
function linearAt(table: usize, p: usize): v128 {
  let v = v128.load32_splat(table + ((load<u8>(p) as usize) << 2));
  v = v128.load32_lane(table + ((load<u8>(p, 4) as usize) << 2), v, 1);
  v = v128.load32_lane(table + ((load<u8>(p, 8) as usize) << 2), v, 2);
  return v128.load32_lane(table + ((load<u8>(p, 12) as usize) << 2), v, 3);
}

/**
 * L, a, b of `count` pixels (a multiple of four) of sRGB and alpha bytes, one after the other, at `lab`, and the cell of each one's
 * colour, five bits a channel, as 16 bits at `cell`. `table` holds the linear value of each of the 256 bytes.
 */
export function labColours(rgba: usize, count: i32, table: usize, lab: usize, cell: usize): void {
  for (let i = 0; i < count; i += 4) {
    const p = rgba + ((i as usize) << 2);
    const r = linearAt(table, p);
    const g = linearAt(table, p + 1);
    const b = linearAt(table, p + 2);
    // XYZ of D65 divided by its white.
    const fx = rootFour(weighted(r, g, b, 0.43394994, 0.37620977, 0.18984029));
    const fy = rootFour(weighted(r, g, b, 0.2126729, 0.7151522, 0.072175));
    const fz = rootFour(weighted(r, g, b, 0.017756583, 0.10946796, 0.87277544));
    const L = f32x4.sub(f32x4.mul(fy, f32x4.splat(116)), f32x4.splat(16));
    const A = f32x4.mul(f32x4.sub(fx, fy), f32x4.splat(500));
    const B = f32x4.mul(f32x4.sub(fy, fz), f32x4.splat(200));
    const to = lab + (i as usize) * 12;
    v128.store32_lane(to, L, 0);
    v128.store32_lane(to, A, 0, 4);
    v128.store32_lane(to, B, 0, 8);
    v128.store32_lane(to, L, 1, 12);
    v128.store32_lane(to, A, 1, 16);
    v128.store32_lane(to, B, 1, 20);
    v128.store32_lane(to, L, 2, 24);
    v128.store32_lane(to, A, 2, 28);
    v128.store32_lane(to, B, 2, 32);
    v128.store32_lane(to, L, 3, 36);
    v128.store32_lane(to, A, 3, 40);
    v128.store32_lane(to, B, 3, 44);
    for (let k: usize = 0; k < 4; k++) {
      const q = p + (k << 2);
      const bits = ((load<u8>(q) as i32) >> 3 << 10) | ((load<u8>(q, 1) as i32) >> 3 << 5) | ((load<u8>(q, 2) as i32) >> 3);
      store<u16>(cell + (((i as usize) + k) << 1), bits as u16);
    }
  }
}
