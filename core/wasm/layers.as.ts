/** Where the pixels of a box were a frame ago if they went with a layer, and how badly that explains them. */

@inline
function mixed(p: usize, right: usize, down: usize, fx: f32, fy: f32): f32 {
  const upper = load<f32>(p) + (load<f32>(p + right) - load<f32>(p)) * fx;
  const q = p + down;
  const lower = load<f32>(q) + (load<f32>(q + right) - load<f32>(q)) * fx;
  return upper + (lower - upper) * fy;
}

/**
 * Gives x and y, in pixels of the frame, for each pixel of the box from (left, top) on. `layer` holds the motion, in its own
 * pixels, on `columns` by `rows` places, each the middle of `factor` by `factor` pixels of the frame.
 */
export function layerSources(layer: usize, columns: i32, rows: i32, factor: f32, left: i32, top: i32, width: i32, height: i32, out: usize): void {
  const share: f32 = 1 / factor;
  const mostX = (columns as f32) - 1.001;
  const mostY = (rows as f32) - 1.001;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const ownX = (x + left) as f32;
      const ownY = (y + top) as f32;
      let sx = ownX;
      let sy = ownY;
      for (let step = 0; step < 3; step++) {
        const cx = max<f32>(0, min<f32>(mostX, (sx + 0.5) * share - 0.5));
        const cy = max<f32>(0, min<f32>(mostY, (sy + 0.5) * share - 0.5));
        const x0 = cx as i32;
        const y0 = cy as i32;
        const p = layer + (((y0 * columns + x0) as usize) << 3);
        const right: usize = x0 + 1 < columns ? 8 : 0;
        const down: usize = y0 + 1 < rows ? (columns as usize) << 3 : 0;
        const fx = cx - (x0 as f32);
        const fy = cy - (y0 as f32);
        sx = ownX - mixed(p, right, down, fx, fy) * factor;
        sy = ownY - mixed(p + 4, right, down, fx, fy) * factor;
      }
      const to = out + (((y * width + x) as usize) << 3);
      store<f32>(to, sx);
      store<f32>(to, sy, 4);
    }
}

/**
 * The difference in colour of `count` pixels (`next`) from where they came from (`from`) in the picture `before`, at most `worst`;
 * `unexplained` where that is outside it, or where `mask` is not `side`.
 */
export function layerErrors(
  next: usize, before: usize, mask: usize, width: i32, height: i32, from: usize, count: i32, side: i32, unexplained: f32, worst: f32, out: usize,
): void {
  for (let i = 0; i < count; i++) {
    const at = from + ((i as usize) << 3);
    const x = nearest(load<f32>(at)) as i32;
    const y = nearest(load<f32>(at, 4)) as i32;
    let error = unexplained;
    if (x >= 0 && y >= 0 && x < width && y < height) {
      const j = (y * width + x) as usize;
      if ((load<u8>(mask + j) as i32) === side) {
        const p = next + (i as usize) * 12;
        const q = before + j * 12;
        error = min<f32>(
          worst,
          abs(load<f32>(p) - load<f32>(q)) + abs(load<f32>(p, 4) - load<f32>(q, 4)) + abs(load<f32>(p, 8) - load<f32>(q, 8)),
        );
      }
    }
    store<f32>(out + ((i as usize) << 2), error);
  }
}
