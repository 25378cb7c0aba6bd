/** Means over squares. */

@inline
function floatAt(p: usize, i: i32): f64 {
  return load<f32>(p + ((i as usize) << 2)) as f64;
}

/** The next of a row's running sums: what enters at `x + radius`, less what leaves. */
@inline
function step(row: usize, x: i32, width: i32, radius: i32): f64 {
  const enters = x + radius < width ? floatAt(row, x + radius) : 0;
  const leaves = x - radius - 1 >= 0 ? floatAt(row, x - radius - 1) : 0;
  return enters - leaves;
}

@inline
function storeFour(p: usize, o0: usize, o1: usize, o2: usize, o3: usize, a: f64, b: f64, c: f64, d: f64): void {
  store<f32>(p + o0, a as f32);
  store<f32>(p + o1, b as f32);
  store<f32>(p + o2, c as f32);
  store<f32>(p + o3, d as f32);
}

/** Means along four rows at once, whose sums do not wait for one another; `end` is that of the rows, which repeat at the last. */
function alongFour(data: usize, out: usize, width: i32, radius: i32, y: i32, height: i32): void {
  const bytes = (width as usize) << 2;
  const o0 = (y as usize) * bytes;
  const o1 = (min(height - 1, y + 1) as usize) * bytes;
  const o2 = (min(height - 1, y + 2) as usize) * bytes;
  const o3 = (min(height - 1, y + 3) as usize) * bytes;
  let a: f64 = 0;
  let b: f64 = 0;
  let c: f64 = 0;
  let d: f64 = 0;
  for (let x = 0; x < min(radius, width); x++) {
    a += floatAt(data + o0, x);
    b += floatAt(data + o1, x);
    c += floatAt(data + o2, x);
    d += floatAt(data + o3, x);
  }
  // Where the square is cut at neither side nothing has to be asked.
  const whole = min(width, radius + 1);
  const cut = max(whole, width - radius);
  const enters = (radius as usize) << 2;
  const leaves = ((radius + 1) as usize) << 2;
  const share: f64 = 1 / ((2 * radius + 1) as f64);
  for (let x = 0; x < width; x++) {
    if (x === whole) {
      for (; x < cut; x++) {
        const at = (x as usize) << 2;
        const p = data + at;
        a += (load<f32>(p + o0 + enters) as f64) - (load<f32>(p + o0 - leaves) as f64);
        b += (load<f32>(p + o1 + enters) as f64) - (load<f32>(p + o1 - leaves) as f64);
        c += (load<f32>(p + o2 + enters) as f64) - (load<f32>(p + o2 - leaves) as f64);
        d += (load<f32>(p + o3 + enters) as f64) - (load<f32>(p + o3 - leaves) as f64);
        storeFour(out + at, o0, o1, o2, o3, a * share, b * share, c * share, d * share);
      }
      if (x === width) return;
    }
    a += step(data + o0, x, width, radius);
    b += step(data + o1, x, width, radius);
    c += step(data + o2, x, width, radius);
    d += step(data + o3, x, width, radius);
    const part: f64 = 1 / ((min(width - 1, x + radius) - max(0, x - radius) + 1) as f64);
    storeFour(out + ((x as usize) << 2), o0, o1, o2, o3, a * part, b * part, c * part, d * part);
  }
}

/**
 * Means over squares of 2·`radius` + 1, cut at the borders, of a picture of one channel. `rows` holds as many floats as the
 * picture and `sums` two for each column, with room for three more floats behind each.
 */
export function boxMean(data: usize, rows: usize, out: usize, sums: usize, width: i32, height: i32, radius: i32): void {
  for (let y = 0; y < height; y += 4) alongFour(data, rows, width, radius, y, height);
  const bytes = (width as usize) << 2;
  memory.fill(sums, 0, ((width + 3) as usize) << 3);
  for (let y = 0; y < min(radius, height); y++) {
    const row = rows + (y as usize) * bytes;
    for (let x = 0; x < width; x++) {
      const s = sums + ((x as usize) << 3);
      store<f64>(s, load<f64>(s) + floatAt(row, x));
    }
  }
  for (let y = 0; y < height; y++) {
    const enters = y + radius < height;
    const leaves = y - radius - 1 >= 0;
    const into = rows + ((enters ? y + radius : 0) as usize) * bytes;
    const from = rows + ((leaves ? y - radius - 1 : 0) as usize) * bytes;
    const in_ = f64x2.splat(enters ? 1 : 0);
    const off = f64x2.splat(leaves ? 1 : 0);
    const share = f64x2.splat(1 / ((min(height - 1, y + radius) - max(0, y - radius) + 1) as f64));
    const to = out + (y as usize) * bytes;
    // Stores go by four: the end of a row runs into the next row's start, which is written after it.
    for (let x = 0; x < width; x += 4) {
      const at = (x as usize) << 2;
      const s = sums + ((x as usize) << 3);
      const i = v128.load(into + at);
      const o = v128.load(from + at);
      const low = f64x2.add(
        v128.load(s),
        f64x2.sub(f64x2.mul(in_, f64x2.promote_low_f32x4(i)), f64x2.mul(off, f64x2.promote_low_f32x4(o))),
      );
      const ih = i8x16.shuffle(i, i, 8, 9, 10, 11, 12, 13, 14, 15, 8, 9, 10, 11, 12, 13, 14, 15);
      const oh = i8x16.shuffle(o, o, 8, 9, 10, 11, 12, 13, 14, 15, 8, 9, 10, 11, 12, 13, 14, 15);
      const high = f64x2.add(
        v128.load(s, 16),
        f64x2.sub(f64x2.mul(in_, f64x2.promote_low_f32x4(ih)), f64x2.mul(off, f64x2.promote_low_f32x4(oh))),
      );
      v128.store(s, low);
      v128.store(s, high, 16);
      const l = f32x4.demote_f64x2_zero(f64x2.mul(low, share));
      const h = f32x4.demote_f64x2_zero(f64x2.mul(high, share));
      v128.store(to + at, i8x16.shuffle(l, h, 0, 1, 2, 3, 4, 5, 6, 7, 16, 17, 18, 19, 20, 21, 22, 23));
    }
  }
}
