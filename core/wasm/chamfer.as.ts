/** Distance of pixel centres from the edge of a mask, by a chamfer (G. Borgefors 1986, weights .955 and 1.3693). */

const STRAIGHT: f32 = 0.955;
const DIAGONAL: f32 = 1.3693;

/**
 * Signed distances in pixels, positive where `mask` is set, within ±`most`; ±0.5 next to the edge. `field` holds (width + 2) by
 * (height + 2) floats: a rim of one pixel all round, never nearer than anything, spares the loops their questions.
 */
export function signedDistance(mask: usize, field: usize, out: usize, width: i32, height: i32, most: f32): void {
  const stride = width + 2;
  const line = (stride as usize) << 2;
  const cells = stride * (height + 2);
  for (let i = 0; i < cells; i++) store<f32>(field + ((i as usize) << 2), most);
  for (let y = 0; y < height; y++) {
    const row = mask + ((y * width) as usize);
    const first = ((y + 1) * stride + 1) as usize;
    const to = field + (first << 2);
    for (let x = 0; x < width; x++) {
      const p = row + (x as usize);
      const own = load<u8>(p);
      const right = x + 1 < width && load<u8>(p, 1) !== own;
      const down = y + 1 < height && load<u8>(p + (width as usize)) !== own;
      if (!right && !down) continue;
      const at = to + ((x as usize) << 2);
      store<f32>(at, 0.5);
      if (right) store<f32>(at, 0.5, 4);
      if (down) store<f32>(at + line, 0.5);
    }
  }
  for (let y = 1; y <= height; y++) {
    let p = field + (((y * stride + 1) as usize) << 2);
    let before: f32 = most;
    for (let x = 0; x < width; x++) {
      const above = p - line;
      const v = min(
        min(load<f32>(p), load<f32>(above) + STRAIGHT),
        min(min(load<f32>(above - 4), load<f32>(above, 4)) + DIAGONAL, before + STRAIGHT),
      );
      store<f32>(p, v);
      before = v;
      p += 4;
    }
  }
  for (let y = height; y >= 1; y--) {
    let p = field + (((y * stride + width) as usize) << 2);
    let after: f32 = most;
    for (let x = width - 1; x >= 0; x--) {
      const below = p + line;
      const v = min(
        min(load<f32>(p), load<f32>(below) + STRAIGHT),
        min(min(load<f32>(below - 4), load<f32>(below, 4)) + DIAGONAL, after + STRAIGHT),
      );
      store<f32>(p, v);
      after = v;
      const i = ((y - 1) * width + x) as usize;
      store<f32>(out + (i << 2), load<u8>(mask + i) ? v : -v);
      p -= 4;
    }
  }
}
