/** Blurs: weighted sums along rows and down columns. */

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
