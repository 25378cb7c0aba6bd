/** Stretches of alike pixels along rows. */

/**
 * Finds the stretches of neighbouring pixels above `limit` (with `below` not 0: below it) in `rows` rows of `stride` floats, of
 * which `columns` count; reads three floats beyond a row's last. Writes four numbers each to `found`: row, first pixel, the one
 * after the last (as integers), and the sum of the stretch's floats (as a float). Returns how many there are.
 */
export function rowRuns(source: usize, stride: i32, columns: i32, rows: i32, limit: f32, below: i32, found: usize): i32 {
  const limits = f32x4.splat(limit);
  const whole = columns & ~3;
  let count = 0;
  for (let y = 0; y < rows; y++) {
    let at = source + (((y * stride) as usize) << 2);
    let open = false;
    let first = 0;
    let sum: f64 = 0;
    let sums = f32x4.splat(0);
    for (let x = 0; x < columns; x += 4) {
      const values = v128.load(at);
      at += 16;
      let lanes = i32x4.bitmask(below != 0 ? f32x4.lt(values, limits) : f32x4.gt(values, limits));
      if (x >= whole) lanes &= (1 << (columns - whole)) - 1;
      if (lanes == 0 && !open) continue;
      if (lanes == 15 && open) {
        sums = f32x4.add(sums, values);
        continue;
      }
      for (let lane = 0; lane < 4; lane++) {
        const inside = (lanes >> lane) & 1;
        if (inside != 0) {
          if (!open) {
            open = true;
            first = x + lane;
            sum = 0;
            sums = f32x4.splat(0);
          }
          sum += load<f32>(at - 16 + ((lane as usize) << 2)) as f64;
        } else if (open) {
          open = false;
          found = putRun(found, y, first, x + lane, sum, sums);
          count++;
        }
      }
    }
    if (open) {
      found = putRun(found, y, first, columns, sum, sums);
      count++;
    }
  }
  return count;
}

@inline
function putRun(found: usize, row: i32, first: i32, end: i32, sum: f64, sums: v128): usize {
  store<i32>(found, row);
  store<i32>(found, first, 4);
  store<i32>(found, end, 8);
  const four = f32x4.extract_lane(sums, 0) + f32x4.extract_lane(sums, 1) + f32x4.extract_lane(sums, 2) + f32x4.extract_lane(sums, 3);
  store<f32>(found, (sum + (four as f64)) as f32, 12);
  return found + 16;
}
