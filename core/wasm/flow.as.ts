/** Motion of patches from one picture to another. */

@inline
function sumOf(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3);
}

/** The value of a picture at a place, bilinear, borders repeated. */
function sampleAt(picture: usize, width: i32, height: i32, x: f32, y: f32): f32 {
  const cx = max<f32>(0, min<f32>(x, (width - 1) as f32));
  const cy = max<f32>(0, min<f32>(y, (height - 1) as f32));
  const x0 = cx as i32;
  const y0 = cy as i32;
  const right: usize = x0 < width - 1 ? 4 : 0;
  const down: usize = y0 < height - 1 ? (width as usize) << 2 : 0;
  const fx = cx - (x0 as f32);
  const fy = cy - (y0 as f32);
  const p = picture + (((y0 * width + x0) as usize) << 2);
  const upper = load<f32>(p) + (load<f32>(p + right) - load<f32>(p)) * fx;
  const lower = load<f32>(p + down) + (load<f32>(p + down + right) - load<f32>(p + down)) * fx;
  return upper + (lower - upper) * fy;
}

/**
 * Fills `other` with the 8x8 patch of a picture at (px, py), its mean made that of the patch `own`; gives the mean squared
 * difference of the two.
 */
function comparePatch(picture: usize, width: i32, height: i32, px: f32, py: f32, own: usize, other: usize): f32 {
  const left = floor(px);
  const top = floor(py);
  const x0 = left as i32;
  const y0 = top as i32;
  let sum = f32x4.splat(0);
  if (x0 >= 0 && y0 >= 0 && x0 + 8 < width && y0 + 8 < height) {
    const fx = px - left;
    const fy = py - top;
    const a = f32x4.splat((1 - fx) * (1 - fy));
    const b = f32x4.splat(fx * (1 - fy));
    const c = f32x4.splat((1 - fx) * fy);
    const d = f32x4.splat(fx * fy);
    const next = (width as usize) << 2;
    let row = picture + (((y0 * width + x0) as usize) << 2);
    for (let k: usize = 0; k < 256; k += 32) {
      for (let h: usize = 0; h < 32; h += 16) {
        const p = row + h;
        const upper = f32x4.add(f32x4.mul(a, v128.load(p)), f32x4.mul(b, v128.load(p, 4)));
        const lower = f32x4.add(f32x4.mul(c, v128.load(p + next)), f32x4.mul(d, v128.load(p + next, 4)));
        const value = f32x4.add(upper, lower);
        v128.store(other + k + h, value);
        sum = f32x4.add(sum, f32x4.sub(value, v128.load(own + k + h)));
      }
      row += next;
    }
  } else {
    let at: usize = 0;
    for (let y = 0; y < 8; y++)
      for (let x = 0; x < 8; x++, at += 4) store<f32>(other + at, sampleAt(picture, width, height, px + (x as f32), py + (y as f32)));
    for (let k: usize = 0; k < 256; k += 16) sum = f32x4.add(sum, f32x4.sub(v128.load(other + k), v128.load(own + k)));
  }
  const mean = f32x4.splat(sumOf(sum) / 64);
  let squares = f32x4.splat(0);
  for (let k: usize = 0; k < 256; k += 16) {
    const value = f32x4.sub(v128.load(other + k), mean);
    v128.store(other + k, value);
    const e = f32x4.sub(value, v128.load(own + k));
    squares = f32x4.add(squares, f32x4.mul(e, e));
  }
  return sumOf(squares) / 64;
}

/**
 * Inverse search of the motion of `columns` by `rows` patches of 8x8 pixels, `apart` pixels from each other, from one picture to
 * another of the same size (core/peel/flow.ts tells how). `u` and `v` hold where each patch begins its search and take where it
 * ended, `cost` its mean squared difference; `scratch` has room for 256 floats.
 */
export function patchFlow(
  first: usize,
  second: usize,
  width: i32,
  height: i32,
  columns: i32,
  rows: i32,
  apart: i32,
  u: usize,
  v: usize,
  cost: usize,
  scratch: usize,
  rounds: i32,
): void {
  const own = scratch;
  const other = scratch + 256;
  const gradX = scratch + 512;
  const gradY = scratch + 768;
  const patches = columns * rows;
  for (let pass = 0; pass < 2; pass++) {
    // The second pass goes from the end, so that good motion spreads both ways.
    const side = pass == 0 ? -1 : 1;
    for (let k = 0; k < patches; k++) {
      const p = pass == 0 ? k : patches - 1 - k;
      const c = p % columns;
      const r = p / columns;
      const px = c * apart;
      const py = r * apart;
      const line = (width as usize) << 2;
      const begin = first + (py as usize) * line + ((px as usize) << 2);
      for (let y: usize = 0; y < 8; y++) {
        v128.store(own + (y << 5), v128.load(begin + y * line));
        v128.store(own + (y << 5), v128.load(begin + y * line, 16), 16);
      }
      const mine = (p as usize) << 2;
      const x = px as f32;
      const y = py as f32;
      let bestU = load<f32>(u + mine);
      let bestV = load<f32>(v + mine);
      let best = pass == 0 ? comparePatch(second, width, height, x + bestU, y + bestV, own, other) : load<f32>(cost + mine);
      let spread = false;
      for (let n = 0; n < 2; n++) {
        if (n == 0 ? c + side < 0 || c + side >= columns : r + side < 0 || r + side >= rows) continue;
        const q = ((n == 0 ? p + side : p + side * columns) as usize) << 2;
        const nu = load<f32>(u + q);
        const nv = load<f32>(v + q);
        if (nu == bestU && nv == bestV) continue;
        const there = comparePatch(second, width, height, x + nu, y + nv, own, other);
        if (there < best) {
          best = there;
          bestU = nu;
          bestV = nv;
          spread = true;
        }
      }
      // From where the first pass ended there is nothing more to find.
      if (pass > 0 && !spread) continue;
      // Gradients, and what inverts the normal equations; a grain keeps a straight edge from sliding along itself.
      let xx: f32 = 1;
      let xy: f32 = 0;
      let yy: f32 = 1;
      if (px > 0 && py > 0 && px + 8 < width && py + 8 < height) {
        let sumXX = f32x4.splat(0);
        let sumXY = f32x4.splat(0);
        let sumYY = f32x4.splat(0);
        const half = f32x4.splat(0.5);
        for (let at: usize = 0; at < 256; at += 16) {
          const q = begin + (at >> 5) * line + (at & 16);
          const gx = f32x4.mul(f32x4.sub(v128.load(q, 4), v128.load(q - 4)), half);
          const gy = f32x4.mul(f32x4.sub(v128.load(q + line), v128.load(q - line)), half);
          v128.store(gradX + at, gx);
          v128.store(gradY + at, gy);
          sumXX = f32x4.add(sumXX, f32x4.mul(gx, gx));
          sumXY = f32x4.add(sumXY, f32x4.mul(gx, gy));
          sumYY = f32x4.add(sumYY, f32x4.mul(gy, gy));
        }
        xx += sumOf(sumXX);
        xy += sumOf(sumXY);
        yy += sumOf(sumYY);
      } else {
        let at: usize = 0;
        for (let y = 0; y < 8; y++)
          for (let x = 0; x < 8; x++, at += 4) {
            const i = px + x;
            const j = py + y;
            const q = first + (((j * width + i) as usize) << 2);
            const gx = (load<f32>(i < width - 1 ? q + 4 : q) - load<f32>(i > 0 ? q - 4 : q)) / 2;
            const gy = (load<f32>(j < height - 1 ? q + line : q) - load<f32>(j > 0 ? q - line : q)) / 2;
            store<f32>(gradX + at, gx);
            store<f32>(gradY + at, gy);
            xx += gx * gx;
            xy += gx * gy;
            yy += gy * gy;
          }
      }
      const det = xx * yy - xy * xy;
      if (det > 1e-6) {
        const u0 = bestU;
        const v0 = bestV;
        let du = u0;
        let dv = v0;
        for (let round = 0; round <= rounds; round++) {
          const now = comparePatch(second, width, height, x + du, y + dv, own, other);
          if (now < best) {
            best = now;
            bestU = du;
            bestV = dv;
          } else if (round > 0 && now > best * 1.2) break;
          if (round == rounds) break;
          let ex = f32x4.splat(0);
          let ey = f32x4.splat(0);
          for (let i: usize = 0; i < 256; i += 16) {
            const e = f32x4.sub(v128.load(other + i), v128.load(own + i));
            ex = f32x4.add(ex, f32x4.mul(e, v128.load(gradX + i)));
            ey = f32x4.add(ey, f32x4.mul(e, v128.load(gradY + i)));
          }
          const sumX = sumOf(ex);
          const sumY = sumOf(ey);
          const sx = (yy * sumX - xy * sumY) / det;
          const sy = (xx * sumY - xy * sumX) / det;
          if (sx * sx + sy * sy < 1e-4) break;
          du -= sx;
          dv -= sy;
          // A patch that goes farther than its own size has lost its way.
          if (abs(du - u0) > 8 || abs(dv - v0) > 8) break;
        }
      }
      store<f32>(u + mine, bestU);
      store<f32>(v + mine, bestV);
      store<f32>(cost + mine, best);
    }
  }
}

/** Adds to the pixels of a picture the motion of the patches of eight by eight over each, by weight: four floats a pixel, x, y, weight, 0. */
function addPatches(u: usize, v: usize, cost: usize, columns: i32, rows: i32, apart: i32, sums: usize, width: i32, height: i32): void {
  memory.fill(sums, 0, ((width * height) as usize) << 4);
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      const p = ((r * columns + c) as usize) << 2;
      const w: f32 = 1 / max<f32>(1, load<f32>(cost + p));
      const part = f32x4(w * load<f32>(u + p), w * load<f32>(v + p), w, 0);
      const right = min(8, width - c * apart);
      const down = min(8, height - r * apart);
      for (let y = 0; y < down; y++) {
        let q = sums + ((((r * apart + y) * width + c * apart) as usize) << 4);
        for (let x = 0; x < right; x++, q += 16) v128.store(q, f32x4.add(v128.load(q), part));
      }
    }
}

/**
 * Gives x and y for each pixel: the mean motion of the patches over it, the better ones counting for more. The last few pixels, which no
 * patch covers, have that of the nearest ones that some do. `sums` holds four floats a pixel.
 */
export function meanMotion(
  u: usize, v: usize, cost: usize, columns: i32, rows: i32, apart: i32, sums: usize, width: i32, height: i32, out: usize,
): void {
  addPatches(u, v, cost, columns, rows, apart, sums, width, height);
  const lastX = min(width, (columns - 1) * apart + 8) - 1;
  const lastY = min(height, (rows - 1) * apart + 8) - 1;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const q = sums + (((min(y, lastY) * width + min(x, lastX)) as usize) << 4);
      const to = out + (((y * width + x) as usize) << 3);
      const w = load<f32>(q, 8);
      store<f32>(to, load<f32>(q) / w);
      store<f32>(to, load<f32>(q, 4) / w, 4);
    }
}
