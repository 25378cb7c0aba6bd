/** How far the colours of a patch of one picture are from those at another place of a second. */

/**
 * The sum of the differences in colour of `count` pixels, each channel at most `cap`. `pixels` holds for each where it lies in either
 * picture, in bytes from `before` and `next`; in the second one it is looked at `shift` bytes further. Pixels are three floats; one more
 * is read behind each.
 */
export function patchDifference(before: usize, next: usize, pixels: usize, count: i32, shift: i32, cap: f32): f32 {
  // Not what is read behind.
  const most = f32x4.replace_lane(f32x4.splat(cap), 3, 0);
  const to = next + (shift as usize);
  let sum = f32x4.splat(0);
  for (let k = 0; k < count; k++) {
    const at = pixels + ((k as usize) << 3);
    const p = v128.load(before + (load<u32>(at) as usize));
    const q = v128.load(to + (load<u32>(at, 4) as usize));
    sum = f32x4.add(sum, f32x4.pmin(f32x4.abs(f32x4.sub(p, q)), most));
  }
  return f32x4.extract_lane(sum, 0) + f32x4.extract_lane(sum, 1) + f32x4.extract_lane(sum, 2);
}

/**
 * Moves where each pixel came from (`from`: x and y) back by the shifts found at places near it, the nearer the more: 1/(distance + 2)²
 * within `reach`. A place is four floats: x, y, and its shift. `sums` holds four floats a pixel.
 */
export function blendShifts(places: usize, count: i32, reach: f32, from: usize, sums: usize, width: i32, height: i32): void {
  memory.fill(sums, 0, ((width * height) as usize) << 4);
  for (let k = 0; k < count; k++) {
    const place = places + ((k as usize) << 4);
    const cx = load<f32>(place);
    const cy = load<f32>(place, 4);
    const shift = f32x4(1, load<f32>(place, 8), load<f32>(place, 12), 0);
    const bottom = min(height - 1, floor(cy + reach) as i32);
    const right = min(width - 1, floor(cx + reach) as i32);
    const left = max(0, ceil(cx - reach) as i32);
    for (let y = max(0, ceil(cy - reach) as i32); y <= bottom; y++) {
      const dy = (y as f32) - cy;
      let q = sums + (((y * width + left) as usize) << 4);
      for (let x = left; x <= right; x++, q += 16) {
        const dx = (x as f32) - cx;
        const away = sqrt(dx * dx + dy * dy);
        if (away > reach) continue;
        const w: f32 = 1 / ((away + 2) * (away + 2));
        v128.store(q, f32x4.add(v128.load(q), f32x4.mul(f32x4.splat(w), shift)));
      }
    }
  }
  const all = width * height;
  for (let i = 0; i < all; i++) {
    const q = sums + ((i as usize) << 4);
    const w = load<f32>(q);
    if (w === 0) continue;
    const to = from + ((i as usize) << 3);
    store<f32>(to, load<f32>(to) - load<f32>(q, 4) / w);
    store<f32>(to, load<f32>(to, 4) - load<f32>(q, 8) / w, 4);
  }
}
