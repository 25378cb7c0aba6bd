/** Where the pixels of a box were a frame ago if they went with a layer, and how badly that explains them. */

@inline
function mixed(p: usize, right: usize, down: usize, fx: f32, fy: f32): f32 {
  const upper = load<f32>(p) + (load<f32>(p + right) - load<f32>(p)) * fx;
  const q = p + down;
  const lower = load<f32>(q) + (load<f32>(q + right) - load<f32>(q)) * fx;
  return upper + (lower - upper) * fy;
}

/** Between 0 and `most`; asked with comparisons, since what stands for a minimum of the standard takes several times as long. */
@inline
function within(x: f32, most: f32): f32 {
  const lower = x < most ? x : most;
  return lower > 0 ? lower : 0;
}

/**
 * Gives x and y, in pixels of the frame, for each pixel of the box from (left, top) on. `layer` holds the motion, in its own
 * pixels, on `columns` by `rows` places, each the middle of `factor` by `factor` pixels of the frame. It is followed back by looking for
 * the place that it brings here: from where the neighbour's was found once is enough, since motion changes little in a pixel. Four rows go
 * along together, since each pixel waits for the one before it in its row alone.
 */
export function layerSources(layer: usize, columns: i32, rows: i32, factor: f32, left: i32, top: i32, width: i32, height: i32, out: usize): void {
  const line = (width as usize) << 3;
  for (let y = 0; y < height; y += 4) {
    const first = out + (y as usize) * line;
    const end = out + (min(height, y + 4) as usize) * line;
    for (let x = 0; x < width; x++) {
      let ownY = (y + top) as f32;
      for (let row = first; row < end; row += line, ownY += 1) {
        const to = row + ((x as usize) << 3);
        const ownX = (x + left) as f32;
        if (x > 0) sourceFrom(layer, columns, rows, factor, ownX, ownY, load<f32>(to - 8) + 1, load<f32>(to - 4), to);
        else {
          sourceFrom(layer, columns, rows, factor, ownX, ownY, ownX, ownY, to);
          for (let again = 0; again < 2; again++) sourceFrom(layer, columns, rows, factor, ownX, ownY, load<f32>(to), load<f32>(to, 4), to);
        }
      }
    }
  }
}

/** The place that the motion at (sx, sy) says was brought to (ownX, ownY). */
@inline
function sourceFrom(layer: usize, columns: i32, rows: i32, factor: f32, ownX: f32, ownY: f32, sx: f32, sy: f32, to: usize): void {
  const share: f32 = 1 / factor;
  const cx = within((sx + 0.5) * share - 0.5, (columns as f32) - 1.001);
  const cy = within((sy + 0.5) * share - 0.5, (rows as f32) - 1.001);
  const x0 = cx as i32;
  const y0 = cy as i32;
  const p = layer + (((y0 * columns + x0) as usize) << 3);
  const right: usize = x0 + 1 < columns ? 8 : 0;
  const down: usize = y0 + 1 < rows ? (columns as usize) << 3 : 0;
  const fx = cx - (x0 as f32);
  const fy = cy - (y0 as f32);
  store<f32>(to, ownX - mixed(p, right, down, fx, fy) * factor);
  store<f32>(to, ownY - mixed(p + 4, right, down, fx, fy) * factor, 4);
}

/** The colour of a picture between four pixels, so far from the upper left one. */
@inline
function between(q: usize, stride: usize, right: f32, down: f32): v128 {
  const fx = f32x4.splat(right);
  const a = v128.load(q);
  const c = v128.load(q + stride);
  const upper = f32x4.add(a, f32x4.mul(f32x4.sub(v128.load(q, 12), a), fx));
  const lower = f32x4.add(c, f32x4.mul(f32x4.sub(v128.load(q + stride, 12), c), fx));
  return f32x4.add(upper, f32x4.mul(f32x4.sub(lower, upper), f32x4.splat(down)));
}

@inline
function halfway(one: v128, other: usize): v128 {
  return f32x4.mul(f32x4.add(one, v128.load(other)), f32x4.splat(0.5));
}

/**
 * The difference in colour of `count` pixels (`next`) from where they came from (`from`) in the picture `before`, at most `worst`;
 * `unexplained` where that is outside it, or where `mask` is not `side`. It is the difference from the nearest colour that the picture
 * has within half a pixel of there, so that thin things that moved by a part of one are not unlike themselves: S. Birchfield, C. Tomasi,
 * "A pixel dissimilarity measure that is insensitive to image sampling", PAMI 1998. Of `before` and of `mask` the rows from `first` to
 * before `end` are there, all that anything came from and their neighbours. Pixels are three floats; one more is read behind the last of
 * either picture.
 */
export function layerErrors(
  next: usize, before: usize, mask: usize, width: i32, first: i32, end: i32, from: usize, count: i32, side: i32, unexplained: f32, worst: f32, out: usize,
): void {
  const stride = (width as usize) * 12;
  for (let i = 0; i < count; i++) {
    const at = from + ((i as usize) << 3);
    const x = nearest(load<f32>(at)) as i32;
    const y = nearest(load<f32>(at, 4)) as i32;
    let error = unexplained;
    if (x >= 0 && y >= first && x < width && y < end) {
      const j = ((y - first) * width + x) as usize;
      if ((load<u8>(mask + j) as i32) === side) {
        const p = v128.load(next + (i as usize) * 12);
        const at = before + j * 12;
        const q = v128.load(at);
        let least = q;
        let most = q;
        if (x > 0) {
          const r = halfway(q, at - 12);
          least = f32x4.pmin(least, r);
          most = f32x4.pmax(most, r);
        }
        if (x < width - 1) {
          const r = halfway(q, at + 12);
          least = f32x4.pmin(least, r);
          most = f32x4.pmax(most, r);
        }
        if (y > first) {
          const r = halfway(q, at - stride);
          least = f32x4.pmin(least, r);
          most = f32x4.pmax(most, r);
        }
        if (y < end - 1) {
          const r = halfway(q, at + stride);
          least = f32x4.pmin(least, r);
          most = f32x4.pmax(most, r);
        }
        const off = f32x4.pmax(f32x4.pmax(f32x4.sub(p, most), f32x4.sub(least, p)), f32x4.splat(0));
        const sum = f32x4.extract_lane(off, 0) + f32x4.extract_lane(off, 1) + f32x4.extract_lane(off, 2);
        error = sum < worst ? sum : worst;
      }
    }
    store<f32>(out + ((i as usize) << 2), error);
  }
}

/**
 * The difference in colour of each pixel of a picture of `columns` by `rows` from its place in `other`, of `width` by `height`, under an
 * affine motion (six floats: x from x, y and 1, then y), or `unexplained` where that is outside; where `out` holds less already it
 * stays. Pixels are three floats; one more is read behind the last.
 */
export function affineErrors(
  own: usize, columns: i32, rows: i32, other: usize, width: i32, height: i32, motion: usize, unexplained: f32, out: usize,
): void {
  const xx = load<f32>(motion);
  const yx = load<f32>(motion, 12);
  const stride = (width as usize) * 12;
  const mostX = (width - 1) as f32;
  const mostY = (height - 1) as f32;
  for (let y = 0; y < rows; y++) {
    const beginX = load<f32>(motion, 4) * (y as f32) + load<f32>(motion, 8);
    const beginY = load<f32>(motion, 16) * (y as f32) + load<f32>(motion, 20);
    for (let x = 0; x < columns; x++) {
      const u = xx * (x as f32) + beginX;
      const v = yx * (x as f32) + beginY;
      let error = unexplained;
      if (u >= 0 && v >= 0 && u < mostX && v < mostY) {
        const x0 = u as i32;
        const y0 = v as i32;
        const q = other + (y0 as usize) * stride + (x0 as usize) * 12;
        const mean = between(q, stride, u - (x0 as f32), v - (y0 as f32));
        const off = f32x4.abs(f32x4.sub(mean, v128.load(own)));
        error = f32x4.extract_lane(off, 0) + f32x4.extract_lane(off, 1) + f32x4.extract_lane(off, 2);
      }
      if (error < load<f32>(out)) store<f32>(out, error);
      own += 12;
      out += 4;
    }
  }
}

/**
 * What `columns` by `rows` places see of a picture of `width` by `height` under an affine motion (six floats: x from x, y and 1, then y):
 * its colour there, and whether that is in `mask`; black and not in it where they look past it. Pixels are three floats; one more is read
 * behind the last, and written.
 */
export function affineLook(picture: usize, mask: usize, width: i32, height: i32, motion: usize, columns: i32, rows: i32, lab: usize, own: usize): void {
  const stride = (width as usize) * 12;
  const mostX = (width - 1) as f32;
  const mostY = (height - 1) as f32;
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < columns; x++) {
      const u = load<f32>(motion) * (x as f32) + load<f32>(motion, 4) * (y as f32) + load<f32>(motion, 8);
      const v = load<f32>(motion, 12) * (x as f32) + load<f32>(motion, 16) * (y as f32) + load<f32>(motion, 20);
      let colour = f32x4.splat(0);
      let inside: u8 = 0;
      if (u >= 0 && v >= 0 && u < mostX && v < mostY) {
        const x0 = u as i32;
        const y0 = v as i32;
        const q = picture + (y0 as usize) * stride + (x0 as usize) * 12;
        colour = between(q, stride, u - (x0 as f32), v - (y0 as f32));
        inside = load<u8>(mask + (((nearest(v) as i32) * width + (nearest(u) as i32)) as usize));
      }
      v128.store(lab, colour);
      store<u8>(own, inside);
      lab += 12;
      own += 1;
    }
  }
}
