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
    sum = f32x4.add(sum, f32x4.min(f32x4.abs(f32x4.sub(p, q)), most));
  }
  return f32x4.extract_lane(sum, 0) + f32x4.extract_lane(sum, 1) + f32x4.extract_lane(sum, 2);
}
