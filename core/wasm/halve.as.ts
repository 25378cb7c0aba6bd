/** Pictures of bytes at half the size. */

/** The sums of the first and second pixel, and of the third and fourth, of two rows of four pixels of four bytes: 16 bits each. */
@inline
function sumsOfFour(upper: usize, lower: usize): v128 {
  const a = v128.load(upper);
  const b = v128.load(lower);
  const first = i16x8.add(i16x8.extend_low_i8x16_u(a), i16x8.extend_low_i8x16_u(b));
  const second = i16x8.add(i16x8.extend_high_i8x16_u(a), i16x8.extend_high_i8x16_u(b));
  return i16x8.add(
    i8x16.shuffle(first, second, 0, 1, 2, 3, 4, 5, 6, 7, 16, 17, 18, 19, 20, 21, 22, 23),
    i8x16.shuffle(first, second, 8, 9, 10, 11, 12, 13, 14, 15, 24, 25, 26, 27, 28, 29, 30, 31),
  );
}

/**
 * The mean, rounded, of each square of four pixels of four bytes; odd rows and columns at the end are cut off. `out` has room for
 * 16 bytes more, and so has `source`.
 */
export function halveBytes(source: usize, width: i32, height: i32, out: usize): void {
  const columns = width >> 1;
  const bytes = (width as usize) << 2;
  const two = i16x8.splat(2);
  for (let y = 0; y < height >> 1; y++) {
    const upper = source + ((2 * y) as usize) * bytes;
    const to = out + (((y * columns) as usize) << 2);
    for (let x = 0; x < columns; x += 4) {
      const p = upper + ((x as usize) << 3);
      const low = i16x8.shr_u(i16x8.add(sumsOfFour(p, p + bytes), two), 2);
      const high = i16x8.shr_u(i16x8.add(sumsOfFour(p + 16, p + bytes + 16), two), 2);
      // The end of a row runs into the next one's start, which is written after it.
      v128.store(to + ((x as usize) << 2), i8x16.narrow_i16x8_u(low, high));
    }
  }
}

/** The mean of each square of four floats; odd rows and columns at the end are cut off. Reads up to seven floats over a row's end, writes three. */
export function halveMeans(source: usize, width: i32, height: i32, out: usize): void {
  const columns = width >> 1;
  const bytes = (width as usize) << 2;
  const quarter = f32x4.splat(0.25);
  for (let y = 0; y < height >> 1; y++) {
    const upper = source + ((2 * y) as usize) * bytes;
    const to = out + (((y * columns) as usize) << 2);
    for (let x = 0; x < columns; x += 4) {
      const p = upper + ((x as usize) << 3);
      const first = f32x4.add(v128.load(p), v128.load(p + bytes));
      const second = f32x4.add(v128.load(p, 16), v128.load(p + bytes, 16));
      const sums = f32x4.add(v128.shuffle<f32>(first, second, 0, 2, 4, 6), v128.shuffle<f32>(first, second, 1, 3, 5, 7));
      // The end of a row runs into the next one's start, which is written after it.
      v128.store(to + ((x as usize) << 2), f32x4.mul(sums, quarter));
    }
  }
}

/** The mean of each square of four colours of three floats, as four floats, the last of them 1. One more is read behind the last colour. */
export function halveColours(source: usize, width: i32, height: i32, out: usize): void {
  const bytes = (width as usize) * 12;
  const quarter = f32x4.splat(0.25);
  for (let y = 0; y < height >> 1; y++) {
    let p = source + ((2 * y) as usize) * bytes;
    for (let x = 0; x < width >> 1; x++, p += 24, out += 16) {
      const upper = f32x4.add(v128.load(p), v128.load(p, 12));
      const lower = f32x4.add(v128.load(p + bytes), v128.load(p + bytes, 12));
      v128.store(out, f32x4.replace_lane(f32x4.mul(f32x4.add(upper, lower), quarter), 3, 1));
    }
  }
}
