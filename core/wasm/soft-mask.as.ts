/** The soft edge of a mask. All is whole numbers, eight lanes at a time: a mean of a mask is a count of its pixels. */

/** Sums within `radius` along each row, of numbers of this type, as sixteen bits; beyond the borders all is as on them. */
function sumAlong<T>(data: usize, width: i32, height: i32, radius: i32, out: usize): void {
  for (let y = 0; y < height; y++) {
    const row = data + ((y * width) as usize) * sizeof<T>();
    const to = out + (((y * width) as usize) << 1);
    let sum = (radius + 1) * (load<T>(row) as i32);
    for (let k = 0; k < radius; k++) sum += load<T>(row + (min(k, width - 1) as usize) * sizeof<T>()) as i32;
    for (let x = 0; x < width; x++) {
      sum += load<T>(row + (min(width - 1, x + radius) as usize) * sizeof<T>()) as i32;
      sum -= load<T>(row + (max(0, x - radius - 1) as usize) * sizeof<T>()) as i32;
      store<u16>(to + ((x as usize) << 1), sum as u16);
    }
  }
}

/** Sums within `radius` down each column, of sixteen bits. */
function sumDown(data: usize, width: i32, height: i32, radius: i32, sums: usize, out: usize): void {
  const line = (width as usize) << 1;
  for (let at: usize = 0; at < line; at += 16) {
    let sum = i16x8.mul(v128.load(data + at), i16x8.splat((radius + 1) as i16));
    for (let k = 0; k < radius; k++) sum = i16x8.add(sum, v128.load(data + (min(k, height - 1) as usize) * line + at));
    v128.store(sums + at, sum);
  }
  for (let y = 0; y < height; y++) {
    const enters = data + (min(height - 1, y + radius) as usize) * line;
    const leaves = data + (max(0, y - radius - 1) as usize) * line;
    const to = out + (y as usize) * line;
    for (let at: usize = 0; at < line; at += 16) {
      const sum = i16x8.sub(i16x8.add(v128.load(sums + at), v128.load(enters + at)), v128.load(leaves + at));
      v128.store(sums + at, sum);
      // Stores go by eight: the end of a row runs into the next row's start, which is written after it.
      v128.store(to + at, sum);
    }
  }
}

@inline
function lowOf(v: v128): v128 {
  return i32x4.extend_low_i16x8_u(v);
}

/** The same as shares of what there would be if all were the most, in floats. */
function shareDown(data: usize, width: i32, height: i32, radius: i32, share: f32, sums: usize, out: usize): void {
  const line = (width as usize) << 1;
  for (let at: usize = 0; at < line; at += 8) {
    let sum = i32x4.mul(lowOf(v128.load64_zero(data + at)), i32x4.splat(radius + 1));
    for (let k = 0; k < radius; k++) sum = i32x4.add(sum, lowOf(v128.load64_zero(data + (min(k, height - 1) as usize) * line + at)));
    v128.store(sums + (at << 1), sum);
  }
  for (let y = 0; y < height; y++) {
    const enters = data + (min(height - 1, y + radius) as usize) * line;
    const leaves = data + (max(0, y - radius - 1) as usize) * line;
    const to = out + (y as usize) * (line << 1);
    for (let at: usize = 0; at < line; at += 8) {
      const change = i32x4.sub(lowOf(v128.load64_zero(enters + at)), lowOf(v128.load64_zero(leaves + at)));
      const sum = i32x4.add(v128.load(sums + (at << 1)), change);
      v128.store(sums + (at << 1), sum);
      v128.store(to + (at << 1), f32x4.mul(f32x4.convert_i32x4_s(sum), f32x4.splat(share)));
    }
  }
}

/**
 * Alpha of a mask (bytes, 0 or 1) whose edge goes from nothing to all within 2·`radius` + 1 pixels on each side: two means over squares
 * of 2·`radius` + 1; beyond the borders all is as on them. `radius` is at most 19, so that the sums have room in sixteen bits. `one` and
 * `other` hold two bytes a pixel, `sums` four for each column, `out` four a pixel, with room for sixteen more behind each.
 */
export function softenMask(mask: usize, width: i32, height: i32, radius: i32, sums: usize, one: usize, other: usize, out: usize): void {
  sumAlong<u8>(mask, width, height, radius, one);
  sumDown(one, width, height, radius, sums, other);
  sumAlong<u16>(other, width, height, radius, one);
  const side = (radius as f32) * 2 + 1;
  shareDown(one, width, height, radius, 1 / (side * side * side * side), sums, out);
}
