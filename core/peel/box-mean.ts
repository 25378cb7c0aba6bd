/** Means over squares. */

/** Means over squares of 2·radius+1, cut at the borders. */
export function boxMean(data: Float32Array, width: number, height: number, radius: number): Float32Array {
  const rows = new Float32Array(data.length);
  // From here to there all of the square lies within the row.
  const from = Math.min(width, radius + 1);
  const to = Math.max(from, width - radius);
  const whole = 1 / (2 * radius + 1);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let sum = 0;
    for (let x = 0; x < Math.min(radius, width); x++) sum += data[row + x];
    for (let x = 0; x < from; x++) {
      if (x + radius < width) sum += data[row + x + radius];
      rows[row + x] = sum / (Math.min(width - 1, x + radius) + 1);
    }
    for (let x = from; x < to; x++) {
      sum += data[row + x + radius] - data[row + x - radius - 1];
      rows[row + x] = sum * whole;
    }
    for (let x = to; x < width; x++) {
      sum -= data[row + x - radius - 1];
      rows[row + x] = sum / (width - x + radius);
    }
  }
  const out = new Float32Array(data.length);
  const sums = new Float64Array(width);
  for (let y = 0; y < Math.min(radius, height); y++) for (let x = 0; x < width; x++) sums[x] += rows[y * width + x];
  for (let y = 0; y < height; y++) {
    const enters = y + radius < height ? (y + radius) * width : -1;
    const leaves = y - radius - 1 >= 0 ? (y - radius - 1) * width : -1;
    const share = 1 / (Math.min(height - 1, y + radius) - Math.max(0, y - radius) + 1);
    const row = y * width;
    if (enters >= 0 && leaves >= 0)
      for (let x = 0; x < width; x++) {
        const sum = sums[x] + rows[enters + x] - rows[leaves + x];
        sums[x] = sum;
        out[row + x] = sum * share;
      }
    else
      for (let x = 0; x < width; x++) {
        if (enters >= 0) sums[x] += rows[enters + x];
        if (leaves >= 0) sums[x] -= rows[leaves + x];
        out[row + x] = sums[x] * share;
      }
  }
  return out;
}
