/** Distance of pixel centres from the edge of a mask, by a chamfer (G. Borgefors 1986, weights .955 and 1.3693). */

const STRAIGHT: f32 = 0.955;
const DIAGONAL: f32 = 1.3693;

/** Sets pixels next to where the mask changes to ½; `lanes` says to which of the sixteen from `p` on, and `other` is beyond their edge. */
@inline
function setNext(field: usize, lanes: i32, other: usize): void {
  while (lanes !== 0) {
    const at = field + ((ctz(lanes) as usize) << 2);
    store<f32>(at, 0.5);
    store<f32>(at + other, 0.5);
    lanes &= lanes - 1;
  }
}

/** The least, for four pixels and those of a row beside them, of their own and what the neighbours there say. */
@inline
function fromBeside(own: usize, row: usize): v128 {
  const straight = f32x4.add(v128.load(row), f32x4.splat(STRAIGHT));
  const diagonal = f32x4.add(f32x4.pmin(v128.load(row - 4), v128.load(row, 4)), f32x4.splat(DIAGONAL));
  return f32x4.pmin(v128.load(own), f32x4.pmin(straight, diagonal));
}

/**
 * Signed distances in pixels, positive where `mask` is set, within ±`most`; ±0.5 next to the edge. `field` holds (height + 2) rows of
 * `width`, made up to a multiple of four, and eight floats more: a rim all round, never nearer than anything, spares the loops their
 * questions. Sixteen bytes behind the mask are read, and `out` is written as far as three floats behind its end.
 */
export function signedDistance(mask: usize, field: usize, out: usize, width: i32, height: i32, most: f32): void {
  const line = (((width + 3) & ~3) as usize) * 4 + 32;
  const begin = field + line + 16;
  const far = f32x4.splat(most);
  const end = field + line * ((height + 2) as usize);
  for (let p = field; p < end; p += 16) v128.store(p, far);
  for (let y = 0; y < height; y++) {
    const row = mask + ((y * width) as usize);
    const to = begin + line * (y as usize);
    for (let x = 0; x < width; x += 16) {
      const p = row + (x as usize);
      const own = v128.load(p);
      const left = width - x;
      const across = i8x16.bitmask(i8x16.ne(own, v128.load(p, 1))) & (left > 16 ? -1 : (1 << (left - 1)) - 1);
      if (across !== 0) setNext(to + ((x as usize) << 2), across, 4);
      if (y + 1 === height) continue;
      const down = i8x16.bitmask(i8x16.ne(own, v128.load(p + (width as usize)))) & (left > 15 ? -1 : (1 << left) - 1);
      if (down !== 0) setNext(to + ((x as usize) << 2), down, line);
    }
  }
  const steps = f32x4(STRAIGHT, 2 * STRAIGHT, 3 * STRAIGHT, 4 * STRAIGHT);
  const stepsBack = f32x4(4 * STRAIGHT, 3 * STRAIGHT, 2 * STRAIGHT, STRAIGHT);
  const one = f32x4.splat(STRAIGHT);
  const two = f32x4.splat(2 * STRAIGHT);
  for (let y = 0; y < height; y++) {
    const row = begin + line * (y as usize);
    let before = far;
    for (let p = row; p < row + line - 32; p += 16) {
      // Along the row: each of four by those before it among them, and by the last of the four before.
      let v = fromBeside(p, p - line);
      v = f32x4.pmin(v, f32x4.add(v128.shuffle<f32>(far, v, 3, 4, 5, 6), one));
      v = f32x4.pmin(v, f32x4.add(v128.shuffle<f32>(far, v, 2, 3, 4, 5), two));
      v = f32x4.pmin(v, f32x4.add(v128.shuffle<f32>(before, before, 3, 3, 3, 3), steps));
      v128.store(p, v);
      before = v;
    }
  }
  for (let y = height - 1; y >= 0; y--) {
    const row = begin + line * (y as usize);
    let after = far;
    for (let p = row + line - 48; p >= row; p -= 16) {
      let v = fromBeside(p, p + line);
      v = f32x4.pmin(v, f32x4.add(v128.shuffle<f32>(v, far, 1, 2, 3, 4), one));
      v = f32x4.pmin(v, f32x4.add(v128.shuffle<f32>(v, far, 2, 3, 4, 5), two));
      v = f32x4.pmin(v, f32x4.add(v128.shuffle<f32>(after, after, 0, 0, 0, 0), stepsBack));
      v128.store(p, v);
      after = v;
    }
  }
  const sign = i32x4.splat(i32.MIN_VALUE);
  for (let y = 0; y < height; y++) {
    // Stores go by four: the end of a row runs into the next row's start, which is written after it.
    for (let x = 0; x < width; x += 4) {
      const i = (y * width + x) as usize;
      const set = i32x4.ne(i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(v128.load32_zero(mask + i))), i32x4.splat(0));
      const v = v128.load(begin + line * (y as usize) + ((x as usize) << 2));
      v128.store(out + (i << 2), v128.xor(v, v128.andnot(sign, set)));
    }
  }
}
