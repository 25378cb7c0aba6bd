/** The two sides of an edge: their colours round each place, and how well a mix of them explains the picture. */

/** A pixel's colour where it lies deeper than `reach` on a side (1 in, -1 out); nothing elsewhere. */
@inline
function beyond(colours: usize, distance: usize, i: usize, side: f32, reach: f32): v128 {
  const is = side * load<f32>(distance + (i << 2)) > reach;
  return v128.and(v128.load(colours + (i << 4)), i32x4.splat(is ? -1 : 0));
}

/**
 * For each pixel the mean colour, within a square of 2·`radius` + 1 cut at the borders, of those that lie deeper than `reach` on a side
 * (1 in, -1 out), and the share of the square that those are. `colours` are four floats a pixel, the fourth of them 1; `out` is as
 * they are. `rows` is as large as `out`, `sums` holds four floats for each column.
 */
export function sideMeans(
  colours: usize, distance: usize, side: f32, reach: f32, rows: usize, sums: usize, out: usize, width: i32, height: i32, radius: i32,
): void {
  for (let y = 0; y < height; y++) {
    const first = (y * width) as usize;
    let sum = f32x4.splat(0);
    for (let x = 0; x < min(radius, width); x++) sum = f32x4.add(sum, beyond(colours, distance, first + (x as usize), side, reach));
    for (let x = 0; x < width; x++) {
      if (x + radius < width) sum = f32x4.add(sum, beyond(colours, distance, first + ((x + radius) as usize), side, reach));
      if (x > radius) sum = f32x4.sub(sum, beyond(colours, distance, first + ((x - radius - 1) as usize), side, reach));
      v128.store(rows + ((first + (x as usize)) << 4), sum);
    }
  }
  const line = (width as usize) << 4;
  memory.fill(sums, 0, line);
  for (let y = 0; y < min(radius, height); y++) {
    const row = rows + (y as usize) * line;
    for (let at: usize = 0; at < line; at += 16) v128.store(sums + at, f32x4.add(v128.load(sums + at), v128.load(row + at)));
  }
  for (let y = 0; y < height; y++) {
    const enters = y + radius < height;
    const leaves = y > radius;
    const into = rows + (((enters ? y + radius : 0) as usize) * line);
    const from = rows + (((leaves ? y - radius - 1 : 0) as usize) * line);
    const to = out + (y as usize) * line;
    const lines = (min(height - 1, y + radius) - max(0, y - radius) + 1) as f32;
    for (let x = 0; x < width; x++) {
      const at = (x as usize) << 4;
      let sum = v128.load(sums + at);
      if (enters) sum = f32x4.add(sum, v128.load(into + at));
      if (leaves) sum = f32x4.sub(sum, v128.load(from + at));
      v128.store(sums + at, sum);
      const count = f32x4.extract_lane(sum, 3);
      const columns = (min(width - 1, x + radius) - max(0, x - radius) + 1) as f32;
      v128.store(to + at, f32x4.replace_lane(f32x4.div(sum, f32x4.splat(count > 1 ? count : 1)), 3, count / (lines * columns)));
    }
  }
}

@inline
function squared(v: v128): f32 {
  const s = f32x4.mul(v, v);
  return f32x4.extract_lane(s, 0) + f32x4.extract_lane(s, 1) + f32x4.extract_lane(s, 2);
}

/** A side with less than this share of the square is not there; one with less than this part in a mix need not be. */
const THERE: f32 = 0.01;
const PART: f32 = 0.005;

/**
 * The squared difference of each colour from the mix of both sides that `alpha` says; `unknown` where a side that has part in it is not
 * there, and at most that; 0 where `near` is.
 */
export function mixErrors(alpha: usize, inside: usize, outside: usize, colours: usize, near: usize, unknown: f32, out: usize, count: i32): void {
  for (let i = 0; i < count; i++) {
    const at = (i as usize) << 2;
    const wide = (i as usize) << 4;
    let error: f32 = 0;
    if (load<f32>(near + at) > 0) {
      const a = load<f32>(alpha + at);
      const within = v128.load(inside + wide);
      const without = v128.load(outside + wide);
      const known = (a <= PART || f32x4.extract_lane(within, 3) >= THERE) && (a >= 1 - PART || f32x4.extract_lane(without, 3) >= THERE);
      const mix = f32x4.add(
        f32x4.mul(within, f32x4.splat(a > PART ? a : 0)),
        f32x4.mul(without, f32x4.splat(a < 1 - PART ? 1 - a : 0)),
      );
      const off = known ? squared(f32x4.sub(v128.load(colours + wide), mix)) : unknown;
      error = off < unknown ? off : unknown;
    }
    store<f32>(out + at, error);
  }
}

/**
 * The two sums of a least-squares step for the place of an edge that goes from nothing to all within `wide` pixels on each side: for each
 * pixel how far it asks the edge to go inwards, times its weight, and the weight. Both 0 where less than `deep` of the square is on a side.
 */
export function placeSums(
  alpha: usize, inside: usize, outside: usize, colours: usize, distance: usize, wide: f32, deep: f32, grain: f32, moved: usize, weight: usize, count: i32,
): void {
  for (let i = 0; i < count; i++) {
    const at = (i as usize) << 2;
    const four = (i as usize) << 4;
    const slope: f32 = (1 - abs<f32>(load<f32>(distance + at)) / wide) / wide;
    const within = v128.load(inside + four);
    const without = v128.load(outside + four);
    let asks: f32 = 0;
    let counts: f32 = 0;
    if (slope > 0 && f32x4.extract_lane(within, 3) >= deep && f32x4.extract_lane(without, 3) >= deep) {
      const way = f32x4.sub(within, without);
      const off = f32x4.sub(f32x4.sub(v128.load(colours + four), without), f32x4.mul(way, f32x4.splat(load<f32>(alpha + at))));
      const both = f32x4.mul(off, way);
      const apart = squared(way);
      if (apart > 0) {
        asks = -(f32x4.extract_lane(both, 0) + f32x4.extract_lane(both, 1) + f32x4.extract_lane(both, 2)) * slope;
        counts = (apart + grain) * slope * slope;
      }
    }
    store<f32>(moved + at, asks);
    store<f32>(weight + at, counts);
  }
}
