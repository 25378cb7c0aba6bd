/**
 * Putting pictures onto one another. A pixel is one vector of four floats, premultiplied; rows are `stride` pixels apart (of a matte:
 * floats). Places are in bytes and on multiples of 16.
 */

/** Alpha under which a colour cannot be told from its premultiplied value. */
const FAINT: f32 = 1e-5;

@inline
function alphaOf(pixel: v128): v128 {
  return i8x16.shuffle(pixel, pixel, 12, 13, 14, 15, 12, 13, 14, 15, 12, 13, 14, 15, 12, 13, 14, 15);
}

@inline
function opaque(pixel: v128): v128 {
  return f32x4.replace_lane(pixel, 3, 1);
}

/** A part of a picture times a matte. */
export function cutRows(picture: usize, stride: i32, matte: usize, matteStride: i32, out: usize, width: i32, height: i32): void {
  for (let y = 0; y < height; y++) {
    let from = picture + (((y * stride) as usize) << 4);
    let by = matte + (((y * matteStride) as usize) << 2);
    const end = out + ((width as usize) << 4);
    for (; out < end; out += 16, from += 16, by += 4) {
      // Where nothing is seen, whatever is in the picture does not count.
      const m = load<f32>(by);
      v128.store(out, m == 0 ? f32x4.splat(0) : f32x4.mul(v128.load(from), f32x4.splat(m)));
    }
  }
}

/** Replaces the colours of an opaque picture by those of a layer, divided by its alpha, as far as `mix` says. */
export function replaceRows(picture: usize, stride: i32, layer: usize, width: i32, height: i32, mix: f32): void {
  const share = f32x4.splat(mix);
  for (let y = 0; y < height; y++) {
    let to = picture + (((y * stride) as usize) << 4);
    const end = layer + ((width as usize) << 4);
    for (; layer < end; layer += 16, to += 16) {
      if (load<f32>(layer, 12) < FAINT) continue;
      const own = v128.load(layer);
      const was = v128.load(to);
      v128.store(to, opaque(f32x4.add(was, f32x4.mul(f32x4.sub(f32x4.div(own, alphaOf(own)), was), share))));
    }
  }
}

/** Lays a layer over an opaque picture, as strong as `mix`. */
export function layRows(picture: usize, stride: i32, layer: usize, width: i32, height: i32, mix: f32): void {
  const share = f32x4.splat(mix);
  const one = f32x4.splat(1);
  for (let y = 0; y < height; y++) {
    let to = picture + (((y * stride) as usize) << 4);
    const end = layer + ((width as usize) << 4);
    for (; layer < end; layer += 16, to += 16) {
      if (load<f32>(layer, 12) <= 0) continue;
      const own = f32x4.mul(v128.load(layer), share);
      v128.store(to, opaque(f32x4.add(own, f32x4.mul(v128.load(to), f32x4.sub(one, alphaOf(own))))));
    }
  }
}

/** Where a lane of the first is on: the second, elsewhere the third. */
// @ts-ignore: decorator
@inline
function choose(mask: v128, yes: v128, no: v128): v128 {
  return v128.bitselect(yes, no, mask);
}

/** A colour `s` put onto a colour `b` by a mode, its place in BLENDS. */
function blended(mode: i32, b: v128, s: v128): v128 {
  const zero = f32x4.splat(0);
  const half = f32x4.splat(0.5);
  const one = f32x4.splat(1);
  const two = f32x4.splat(2);
  const product = f32x4.mul(b, s);
  if (mode == 1) return product;
  if (mode == 2) return f32x4.sub(f32x4.add(b, s), product);
  if (mode == 3 || mode == 8) {
    const twice = f32x4.mul(two, product);
    const rest = f32x4.sub(f32x4.sub(f32x4.mul(two, f32x4.add(b, s)), twice), one);
    return choose(f32x4.le(mode == 3 ? b : s, half), twice, rest);
  }
  if (mode == 4) return f32x4.min(b, s);
  if (mode == 5) return f32x4.max(b, s);
  if (mode == 6) return choose(f32x4.eq(b, zero), zero, choose(f32x4.ge(s, one), one, f32x4.pmin(one, f32x4.div(b, f32x4.sub(one, s)))));
  if (mode == 7)
    return choose(f32x4.ge(b, one), one, choose(f32x4.le(s, zero), zero, f32x4.sub(one, f32x4.pmin(one, f32x4.div(f32x4.sub(one, b), s)))));
  if (mode == 9) {
    const twice = f32x4.sub(f32x4.mul(two, s), one);
    const dark = f32x4.mul(f32x4.add(f32x4.mul(f32x4.sub(f32x4.mul(f32x4.splat(16), b), f32x4.splat(12)), b), f32x4.splat(4)), b);
    const d = choose(f32x4.le(b, f32x4.splat(0.25)), dark, f32x4.sqrt(b));
    const low = f32x4.mul(b, f32x4.sub(one, b));
    return f32x4.add(b, f32x4.mul(twice, choose(f32x4.le(s, half), low, f32x4.sub(d, b))));
  }
  if (mode == 10) return f32x4.abs(f32x4.sub(b, s));
  if (mode == 11) return f32x4.sub(f32x4.add(b, s), f32x4.mul(two, product));
  return f32x4.pmin(one, f32x4.add(b, s));
}

/** Lays a layer over an opaque picture by a mode of blending that is not normal, its place in BLENDS, as strong as `mix`. */
export function blendRows(picture: usize, stride: i32, layer: usize, width: i32, height: i32, mix: f32, mode: i32): void {
  for (let y = 0; y < height; y++) {
    let to = picture + (((y * stride) as usize) << 4);
    const end = layer + ((width as usize) << 4);
    for (; layer < end; layer += 16, to += 16) {
      const a = load<f32>(layer, 12);
      if (a * mix <= 0) continue;
      const was = v128.load(to);
      const mixed = blended(mode, was, f32x4.div(v128.load(layer), f32x4.splat(a)));
      v128.store(to, opaque(f32x4.add(was, f32x4.mul(f32x4.sub(mixed, was), f32x4.splat(a * mix)))));
    }
  }
}

/** Lays one opaque picture over another by a matte. */
export function layByRows(picture: usize, over: usize, stride: i32, matte: usize, matteStride: i32, width: i32, height: i32): void {
  const one = f32x4.splat(1);
  for (let y = 0; y < height; y++) {
    let to = picture + (((y * stride) as usize) << 4);
    let from = over + (((y * stride) as usize) << 4);
    let by = matte + (((y * matteStride) as usize) << 2);
    const end = to + ((width as usize) << 4);
    for (; to < end; to += 16, from += 16, by += 4) {
      const m = load<f32>(by);
      if (m == 0) continue;
      const share = f32x4.splat(m);
      v128.store(to, opaque(f32x4.add(f32x4.mul(v128.load(from), share), f32x4.mul(v128.load(to), f32x4.sub(one, share)))));
    }
  }
}

/** Adds a share of a layer to a part of a sum. */
export function addRows(sum: usize, stride: i32, layer: usize, layerStride: i32, width: i32, height: i32, share: f32): void {
  const shares = f32x4.splat(share);
  for (let y = 0; y < height; y++) {
    let to = sum + (((y * stride) as usize) << 4);
    let from = layer + (((y * layerStride) as usize) << 4);
    const end = to + ((width as usize) << 4);
    for (; to < end; to += 16, from += 16) v128.store(to, f32x4.add(v128.load(to), f32x4.mul(v128.load(from), shares)));
  }
}

/** Times `gain`, and then `saturation` times as far from the luma, within 0 and alpha; alpha stays. */
export function gradePixels(pixels: usize, count: i32, gain: f32, saturation: f32, red: f32, green: f32, blue: f32): void {
  const gains = f32x4.splat(gain);
  const saturations = f32x4.splat(saturation);
  const zero = f32x4.splat(0);
  const end = pixels + ((count as usize) << 4);
  for (; pixels < end; pixels += 16) {
    const was = v128.load(pixels);
    const lit = f32x4.mul(was, gains);
    const luma = red * f32x4.extract_lane(lit, 0) + green * f32x4.extract_lane(lit, 1) + blue * f32x4.extract_lane(lit, 2);
    const lumas = f32x4.splat(luma);
    const alpha = alphaOf(was);
    const now = f32x4.add(lumas, f32x4.mul(f32x4.sub(lit, lumas), saturations));
    v128.store(pixels, f32x4.replace_lane(f32x4.min(f32x4.max(now, zero), alpha), 3, f32x4.extract_lane(was, 3)));
  }
}

@inline
function row(base: usize, stride: i32, y: i32, height: i32): usize {
  return base + (((min(max(y, 0), height - 1) * stride) as usize) << 4);
}

/** The five-tap binomial of Burt and Adelson 1983, 1 4 6 4 1 by 16, of five pixels. */
@inline
function five(a: v128, b: v128, c: v128, d: v128, e: v128): v128 {
  const ends = f32x4.add(a, e);
  const sides = f32x4.mul(f32x4.splat(4), f32x4.add(b, d));
  return f32x4.mul(f32x4.splat(0.0625), f32x4.add(f32x4.add(ends, sides), f32x4.mul(f32x4.splat(6), c)));
}

/** Pixels by which a row is continued on both sides before it is reduced. */
const BEYOND: i32 = 8;

/**
 * A picture at half the width (`across`) and height (`down`), each pixel the binomial mean round every second one; two pixels more than
 * that on each side, so that what lies beyond is what the sides of the picture go on as. `line` has room for a row and 8 pixels more on
 * both sides.
 */
export function reducePicture(source: usize, width: i32, height: i32, out: usize, outWidth: i32, outHeight: i32, line: usize, across: bool, down: bool): void {
  const bytes = (width as usize) << 4;
  const first = line + ((BEYOND as usize) << 4);
  for (let r = 0; r < outHeight; r++) {
    const y = down ? 2 * (r - 2) : r;
    const c = row(source, width, y, height);
    if (down) {
      const a = row(source, width, y - 2, height);
      const b = row(source, width, y - 1, height);
      const d = row(source, width, y + 1, height);
      const e = row(source, width, y + 2, height);
      for (let x: usize = 0; x < bytes; x += 16)
        v128.store(first + x, five(v128.load(a + x), v128.load(b + x), v128.load(c + x), v128.load(d + x), v128.load(e + x)));
    } else memory.copy(first, c, bytes);
    const to = out + (((r * outWidth) as usize) << 4);
    if (!across) {
      memory.copy(to, first, bytes);
      continue;
    }
    const left = v128.load(first);
    const right = v128.load(first + bytes - 16);
    for (let k: usize = 0; k < ((BEYOND as usize) << 4); k += 16) {
      v128.store(line + k, left);
      v128.store(first + bytes + k, right);
    }
    for (let k = 0; k < outWidth; k++) {
      const p = line + (((BEYOND + 2 * (k - 2) - 2) as usize) << 4);
      v128.store(to + ((k as usize) << 4), five(v128.load(p), v128.load(p, 16), v128.load(p, 32), v128.load(p, 48), v128.load(p, 64)));
    }
  }
}

/** What reducePicture made, at the size it was made from: between pixels by the same binomial. `line` has room for a row of the smaller one. */
export function expandPicture(small: usize, smallWidth: i32, smallHeight: i32, out: usize, width: i32, height: i32, line: usize, across: bool, down: bool): void {
  const eighth = f32x4.splat(0.125);
  const half = f32x4.splat(0.5);
  const six = f32x4.splat(6);
  const bytes = (smallWidth as usize) << 4;
  for (let y = 0; y < height; y++) {
    let from = small + (((y * smallWidth) as usize) << 4);
    if (down) {
      const b = small + (((((y >> 1) + 2) * smallWidth) as usize) << 4);
      if ((y & 1) == 0)
        for (let x: usize = 0; x < bytes; x += 16)
          v128.store(
            line + x,
            f32x4.mul(eighth, f32x4.add(f32x4.add(v128.load(b + x - bytes), v128.load(b + x + bytes)), f32x4.mul(six, v128.load(b + x)))),
          );
      else for (let x: usize = 0; x < bytes; x += 16) v128.store(line + x, f32x4.mul(half, f32x4.add(v128.load(b + x), v128.load(b + x + bytes))));
      from = line;
    }
    let to = out + (((y * width) as usize) << 4);
    if (!across) {
      memory.copy(to, from, (width as usize) << 4);
      continue;
    }
    let p = from + 32;
    let before = v128.load(from, 16);
    let here = v128.load(p);
    for (let x = 0; x < width; x += 2) {
      const after = v128.load(p, 16);
      v128.store(to, f32x4.mul(eighth, f32x4.add(f32x4.add(before, after), f32x4.mul(six, here))));
      if (x + 1 < width) v128.store(to, f32x4.mul(half, f32x4.add(here, after)), 16);
      before = here;
      here = after;
      p += 16;
      to += 32;
    }
  }
}

/** Weights of four neighbours for a place `t` in [0,1] after the second (Keys 1981, a = -1/2). */
@inline
function weight0(t: f32): f32 {
  return ((-0.5 * t + 1) * t - 0.5) * t;
}
@inline
function weight1(t: f32): f32 {
  return (1.5 * t - 2.5) * t * t + 1;
}
@inline
function weight2(t: f32): f32 {
  return ((-1.5 * t + 2) * t + 0.5) * t;
}
@inline
function weight3(t: f32): f32 {
  return (0.5 * t - 0.5) * t * t;
}

@inline
function fourAcross(p: usize, a: v128, b: v128, c: v128, d: v128): v128 {
  return f32x4.add(
    f32x4.add(f32x4.mul(a, v128.load(p)), f32x4.mul(b, v128.load(p, 16))),
    f32x4.add(f32x4.mul(c, v128.load(p, 32)), f32x4.mul(d, v128.load(p, 48))),
  );
}

/**
 * The picture whose place q shows what lies at `motion` q in the given one (nine doubles), both in pixels from the outer corner, cubic;
 * nothing lies beyond the given picture. Values stay within 0 and 1. Adds a share of it to `out` where `share` is above 0, else stores it.
 */
export function warpPicture(source: usize, width: i32, height: i32, motion: usize, out: usize, outWidth: i32, outHeight: i32, share: f32): void {
  const a = load<f64>(motion);
  const b = load<f64>(motion, 8);
  const c = load<f64>(motion, 16);
  const d = load<f64>(motion, 24);
  const e = load<f64>(motion, 32);
  const f = load<f64>(motion, 40);
  const g = load<f64>(motion, 48);
  const h = load<f64>(motion, 56);
  const i = load<f64>(motion, 64);
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const shares = f32x4.splat(share);
  const stride = (width as usize) << 4;
  for (let y = 0; y < outHeight; y++) {
    const py = (y as f64) + 0.5;
    for (let x = 0; x < outWidth; x++, out += 16) {
      const px = (x as f64) + 0.5;
      const w = g * px + h * py + i;
      const u = (a * px + b * py + c) / w - 0.5;
      const v = (d * px + e * py + f) / w - 0.5;
      if (!(w > 0 && u > -2 && v > -2 && u < ((width + 1) as f64) && v < ((height + 1) as f64))) {
        if (share <= 0) v128.store(out, zero);
        continue;
      }
      const left = Math.floor(u);
      const top = Math.floor(v);
      const tx = (u - left) as f32;
      const ty = (v - top) as f32;
      const x0 = (left as i32) - 1;
      const y0 = (top as i32) - 1;
      let sum = zero;
      if (x0 >= 0 && y0 >= 0 && x0 + 3 < width && y0 + 3 < height) {
        const p = source + (((y0 * width + x0) as usize) << 4);
        if (tx == 0 && ty == 0) sum = v128.load(p + stride + 16);
        else {
          const wa = f32x4.splat(weight0(tx));
          const wb = f32x4.splat(weight1(tx));
          const wc = f32x4.splat(weight2(tx));
          const wd = f32x4.splat(weight3(tx));
          sum = f32x4.add(
            f32x4.add(
              f32x4.mul(f32x4.splat(weight0(ty)), fourAcross(p, wa, wb, wc, wd)),
              f32x4.mul(f32x4.splat(weight1(ty)), fourAcross(p + stride, wa, wb, wc, wd)),
            ),
            f32x4.add(
              f32x4.mul(f32x4.splat(weight2(ty)), fourAcross(p + 2 * stride, wa, wb, wc, wd)),
              f32x4.mul(f32x4.splat(weight3(ty)), fourAcross(p + 3 * stride, wa, wb, wc, wd)),
            ),
          );
        }
      } else {
        for (let r = 0; r < 4; r++) {
          const sy = y0 + r;
          if (sy < 0 || sy >= height) continue;
          const wy = r == 0 ? weight0(ty) : r == 1 ? weight1(ty) : r == 2 ? weight2(ty) : weight3(ty);
          for (let k = 0; k < 4; k++) {
            const sx = x0 + k;
            if (sx < 0 || sx >= width) continue;
            const wx = k == 0 ? weight0(tx) : k == 1 ? weight1(tx) : k == 2 ? weight2(tx) : weight3(tx);
            sum = f32x4.add(sum, f32x4.mul(f32x4.splat(wx * wy), v128.load(source + (((sy * width + sx) as usize) << 4))));
          }
        }
      }
      // Overshoot is cut off: alpha stays within 0 and 1, and no colour is above it.
      sum = f32x4.min(f32x4.max(sum, zero), one);
      sum = f32x4.min(sum, alphaOf(sum));
      v128.store(out, share > 0 ? f32x4.add(v128.load(out), f32x4.mul(sum, shares)) : sum);
    }
  }
}

/** Opaque pixels of bytes, `channels` (3 or 4) a pixel, as floats in [0,1]. Reads a byte over the end of the last pixel of three. */
export function pixelsOfBytes(bytes: usize, channels: i32, count: i32, out: usize): void {
  const scale = f32x4.splat(255);
  const end = out + ((count as usize) << 4);
  for (; out < end; out += 16, bytes += channels as usize) {
    const four = v128.load_zero<i32>(bytes);
    const wide = i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(four));
    v128.store(out, opaque(f32x4.div(f32x4.convert_i32x4_u(wide), scale)));
  }
}

/** Opaque pixels as bytes, rounded to nearest, `channels` (3 or 4) a pixel. Writes a byte over the end of the last pixel of three. */
export function bytesOfPixels(pixels: usize, count: i32, channels: i32, out: usize): void {
  const scale = f32x4.splat(255);
  const end = pixels + ((count as usize) << 4);
  for (; pixels < end; pixels += 16, out += channels as usize) {
    const wide = i32x4.trunc_sat_f32x4_u(f32x4.nearest(f32x4.mul(v128.load(pixels), scale)));
    const half = i16x8.narrow_i32x4_u(wide, wide);
    v128.store_lane<i32>(out, i8x16.narrow_i16x8_u(half, half), 0);
  }
}

/** What a matte leaves, times what is in `out`; `count` is rounded up to a multiple of four. */
export function timesRest(out: usize, matte: usize, count: i32): void {
  const one = f32x4.splat(1);
  const end = out + ((count as usize) << 2);
  for (; out < end; out += 16, matte += 16) v128.store(out, f32x4.mul(v128.load(out), f32x4.sub(one, v128.load(matte))));
}

/** The box outside of which a matte is 0, as four ints at `out`: left, top, right, bottom. */
export function extentOf(matte: usize, width: i32, height: i32, out: usize): void {
  let left = width;
  let right = 0;
  let top = height;
  let bottom = 0;
  for (let y = 0; y < height; y++) {
    const line = matte + (((y * width) as usize) << 2);
    let x = 0;
    while (x + 4 <= width && !v128.any_true(f32x4.ne(v128.load(line + ((x as usize) << 2)), f32x4.splat(0)))) x += 4;
    while (x < width && load<f32>(line + ((x as usize) << 2)) == 0) x++;
    if (x == width) continue;
    let end = width;
    while (end - 4 >= x && !v128.any_true(f32x4.ne(v128.load(line + (((end - 4) as usize) << 2)), f32x4.splat(0)))) end -= 4;
    while (end > x && load<f32>(line + (((end - 1) as usize) << 2)) == 0) end--;
    left = min(left, x);
    right = max(right, end);
    if (bottom == 0) top = y;
    bottom = y + 1;
  }
  store<i32>(out, left);
  store<i32>(out, top, 4);
  store<i32>(out, right, 8);
  store<i32>(out, bottom, 12);
}

/** Which of four weights is 1 where all others are 0; -1 where none is. */
function onlyOne(weights: usize): i32 {
  let only = -1;
  for (let k = 0; k < 4; k++) {
    const weight = load<f32>(weights + ((k as usize) << 2));
    if (weight == 0) continue;
    if (weight != 1 || only >= 0) return -1;
    only = k;
  }
  return only;
}

/**
 * The same as warpPicture where columns stay columns and rows rows. `columns` and `rows` hold five numbers for each of the result: the
 * first of four neighbours (an int, all four within the picture), and their weights. `line` has room for a row of the given picture.
 */
export function warpUpright(
  source: usize,
  width: i32,
  columns: usize,
  rows: usize,
  first: i32,
  last: i32,
  line: usize,
  out: usize,
  outWidth: i32,
  outHeight: i32,
  share: f32,
): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const shares = f32x4.splat(share);
  const stride = (width as usize) << 4;
  const begin = (first as usize) << 4;
  const bytes = ((last - first) as usize) << 4;
  for (let y = 0; y < outHeight; y++, rows += 20) {
    const wa = v128.load32_splat(rows, 4);
    const wb = v128.load32_splat(rows, 8);
    const wc = v128.load32_splat(rows, 12);
    const wd = v128.load32_splat(rows, 16);
    const sum4 = f32x4.add(f32x4.add(f32x4.abs(wa), f32x4.abs(wb)), f32x4.add(f32x4.abs(wc), f32x4.abs(wd)));
    if (f32x4.extract_lane(sum4, 0) == 0) {
      if (share <= 0) memory.fill(out, 0, (outWidth as usize) << 4);
      out += (outWidth as usize) << 4;
      continue;
    }
    const top = source + (load<i32>(rows) as usize) * stride;
    const only = onlyOne(rows + 4);
    let row = line;
    if (only >= 0) row = top + (only as usize) * stride;
    else {
      const p = top + begin;
      const target = line + begin;
      for (let x: usize = 0; x < bytes; x += 16)
        v128.store(
          target + x,
          f32x4.add(
            f32x4.add(f32x4.mul(wa, v128.load(p + x)), f32x4.mul(wb, v128.load(p + stride + x))),
            f32x4.add(f32x4.mul(wc, v128.load(p + 2 * stride + x)), f32x4.mul(wd, v128.load(p + 3 * stride + x))),
          ),
        );
    }
    let column = columns;
    for (let x = 0; x < outWidth; x++, column += 20, out += 16) {
      const q = row + ((load<i32>(column) as usize) << 4);
      const sum = fourAcross(q, v128.load32_splat(column, 4), v128.load32_splat(column, 8), v128.load32_splat(column, 12), v128.load32_splat(column, 16));
      const within = f32x4.min(f32x4.max(sum, zero), one);
      const cut = f32x4.min(within, alphaOf(within));
      v128.store(out, share > 0 ? f32x4.add(v128.load(out), f32x4.mul(cut, shares)) : cut);
    }
  }
}

/** Bilinear between four pixels of a picture, of which those beyond it are nothing. */
@inline
function bilinear(source: usize, width: i32, height: i32, u: f64, v: f64): v128 {
  const left = Math.floor(u);
  const top = Math.floor(v);
  if (!(left >= -1 && top >= -1 && left < (width as f64) && top < (height as f64))) return f32x4.splat(0);
  const fx = f32x4.splat((u - left) as f32);
  const fy = f32x4.splat((v - top) as f32);
  const x = left as i32;
  const y = top as i32;
  const stride = (width as usize) << 4;
  const p = source + (((y * width + x) as isize) << 4);
  const zero = f32x4.splat(0);
  let a: v128;
  let b: v128;
  let c: v128;
  let d: v128;
  if (x >= 0 && y >= 0 && x + 1 < width && y + 1 < height) {
    a = v128.load(p);
    b = v128.load(p, 16);
    c = v128.load(p + stride);
    d = v128.load(p + stride, 16);
  } else {
    a = x >= 0 && y >= 0 ? v128.load(p) : zero;
    b = x + 1 < width && y >= 0 ? v128.load(p, 16) : zero;
    c = x >= 0 && y + 1 < height ? v128.load(p + stride) : zero;
    d = x + 1 < width && y + 1 < height ? v128.load(p + stride, 16) : zero;
  }
  const upper = f32x4.add(a, f32x4.mul(f32x4.sub(b, a), fx));
  const lower = f32x4.add(c, f32x4.mul(f32x4.sub(d, c), fx));
  return f32x4.add(upper, f32x4.mul(f32x4.sub(lower, upper), fy));
}

/** The mean of what is seen of a picture through two affine motions (six doubles each) from places of `out` to its own. */
export function meanOfTwo(source: usize, width: i32, height: i32, motions: usize, out: usize): void {
  const half = f32x4.splat(0.5);
  for (let y = 0; y < height; y++) {
    const py = (y as f64) + 0.5;
    const u0 = load<f64>(motions, 8) * py + load<f64>(motions, 16) - 0.5;
    const v0 = load<f64>(motions, 32) * py + load<f64>(motions, 40) - 0.5;
    const u1 = load<f64>(motions, 56) * py + load<f64>(motions, 64) - 0.5;
    const v1 = load<f64>(motions, 80) * py + load<f64>(motions, 88) - 0.5;
    for (let x = 0; x < width; x++, out += 16) {
      const px = (x as f64) + 0.5;
      const one = bilinear(source, width, height, load<f64>(motions) * px + u0, load<f64>(motions, 24) * px + v0);
      const other = bilinear(source, width, height, load<f64>(motions, 48) * px + u1, load<f64>(motions, 72) * px + v1);
      v128.store(out, f32x4.mul(f32x4.add(one, other), half));
    }
  }
}

/**
 * The mean of a picture over a disc, in place, its sides held: `halves` holds how far the disc reaches on each of its 2·rows + 1 rows
 * (floats). Sums along rows, up to before each pixel and `pad` more of them on both sides, are kept in a ring of 2·rows + 2 rows, since
 * a row is written only once all that see it have their sums.
 */
export function discRows(pixels: usize, width: i32, height: i32, halves: usize, rows: i32, pad: i32, ring: usize, share: f32): void {
  const line = width + 2 * pad + 2;
  const stride = (line as usize) << 4;
  const count = 2 * rows + 2;
  const shares = f32x4.splat(share);
  let summed = 0;
  for (let y = 0; y < height; y++) {
    const needed = min(height - 1, y + rows);
    while (summed <= needed) {
      const to = ring + ((summed % count) as usize) * stride;
      const from = pixels + ((summed * width) as usize << 4);
      let sum = f32x4.splat(0);
      v128.store(to, sum);
      for (let i = 1; i < line; i++) {
        const x = min(width - 1, max(0, i - 1 - pad));
        sum = f32x4.add(sum, v128.load(from + ((x as usize) << 4)));
        v128.store(to + ((i as usize) << 4), sum);
      }
      summed++;
    }
    const out = pixels + ((y * width) as usize << 4);
    for (let dy = -rows; dy <= rows; dy++) {
      const half = load<f32>(halves + ((dy + rows) as usize << 2));
      const row = ring + ((min(height - 1, max(0, y + dy)) % count) as usize) * stride;
      const first = (pad as f32) + 0.5 - half;
      const last = (pad as f32) + 0.5 + half;
      const i = first as i32;
      const j = last as i32;
      const fi = f32x4.splat(first - (i as f32));
      const fj = f32x4.splat(last - (j as f32));
      let a = row + ((i as usize) << 4);
      let b = row + ((j as usize) << 4);
      let o = out;
      for (let x = 0; x < width; x++, a += 16, b += 16, o += 16) {
        const high = f32x4.add(v128.load(b), f32x4.mul(f32x4.sub(v128.load(b, 16), v128.load(b)), fj));
        const low = f32x4.add(v128.load(a), f32x4.mul(f32x4.sub(v128.load(a, 16), v128.load(a)), fi));
        const part = f32x4.sub(high, low);
        v128.store(o, dy === -rows ? part : f32x4.add(v128.load(o), part));
      }
    }
    for (let o = out; o < out + ((width as usize) << 4); o += 16) v128.store(o, f32x4.mul(v128.load(o), shares));
  }
}
