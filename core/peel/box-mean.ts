/** Means over squares. */

/** Means over squares of 2·radius+1, cut at the borders. */
export function boxMean(data: Float32Array, width: number, height: number, radius: number): Float32Array {
  const rows = new Float32Array(data.length);
  for (let y = 0; y < height; y++) {
    let sum = 0;
    for (let x = 0; x < Math.min(radius, width); x++) sum += data[y * width + x];
    for (let x = 0; x < width; x++) {
      if (x + radius < width) sum += data[y * width + x + radius];
      if (x - radius - 1 >= 0) sum -= data[y * width + x - radius - 1];
      rows[y * width + x] = sum / (Math.min(width - 1, x + radius) - Math.max(0, x - radius) + 1);
    }
  }
  const out = new Float32Array(data.length);
  const sums = new Float64Array(width);
  for (let y = 0; y < Math.min(radius, height); y++) for (let x = 0; x < width; x++) sums[x] += rows[y * width + x];
  for (let y = 0; y < height; y++) {
    const enters = y + radius < height;
    const leaves = y - radius - 1 >= 0;
    const count = Math.min(height - 1, y + radius) - Math.max(0, y - radius) + 1;
    for (let x = 0; x < width; x++) {
      if (enters) sums[x] += rows[(y + radius) * width + x];
      if (leaves) sums[x] -= rows[(y - radius - 1) * width + x];
      out[y * width + x] = sums[x] / count;
    }
  }
  return out;
}
