/** Colours as CIE L*a*b* (D65). */

/** The standard's cube root of four lanes in [0,1], its straight piece below 216/24389 included. */
@inline
function rootFour(t: v128): v128 {
  // A third of the exponent is a first guess within a few percent; a step of Halley's makes it right to a hundredth of what a byte can tell.
  const third = f32x4.mul(f32x4.convert_i32x4_s(t), f32x4.splat(0.33333334));
  const guess = i32x4.add(i32x4.trunc_sat_f32x4_s(third), i32x4.splat(709958130));
  const cube = f32x4.mul(guess, f32x4.mul(guess, guess));
  const r = f32x4.mul(guess, f32x4.div(f32x4.add(cube, f32x4.add(t, t)), f32x4.add(f32x4.add(cube, cube), t)));
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
    // L, a, b of the four, one after the other.
    const LA = v128.shuffle<f32>(L, A, 0, 4, 1, 5);
    const LAhigh = v128.shuffle<f32>(L, A, 2, 6, 3, 7);
    v128.store(to, v128.shuffle<f32>(LA, B, 0, 1, 4, 2));
    v128.store(to, v128.shuffle<f32>(v128.shuffle<f32>(LA, B, 3, 3, 5, 5), LAhigh, 0, 2, 4, 5), 16);
    const last = v128.shuffle<f32>(LAhigh, B, 2, 3, 6, 7);
    v128.store(to, v128.shuffle<f32>(last, last, 2, 0, 1, 3), 32);
    const bytes = v128.load(p);
    const red = i32x4.shl(v128.and(bytes, i32x4.splat(0xf8)), 7);
    const green = i32x4.shr_u(v128.and(bytes, i32x4.splat(0xf800)), 6);
    const blue = i32x4.shr_u(v128.and(bytes, i32x4.splat(0xf80000)), 19);
    const cells = v128.or(red, v128.or(green, blue));
    v128.store64_lane(cell + ((i as usize) << 1), i16x8.narrow_i32x4_u(cells, cells), 0);
  }
}
