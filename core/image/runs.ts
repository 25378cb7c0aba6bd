/** Stretches of neighbouring pixels of rows, and which of them hang together. */

/**
 * Of so many stretches (`from` the first pixel of each and `to` the one after its last, as places in a picture of this width, in their
 * order) the first of the piece that each belongs to: those of neighbouring rows that touch are joined (A. Rosenfeld, J. Pfaltz,
 * "Sequential operations in digital picture processing", JACM 1966).
 */
export function joinedRuns(from: ArrayLike<number>, to: ArrayLike<number>, count: number, width: number): Int32Array {
  const joined = new Int32Array(count);
  for (let k = 0; k < count; k++) joined[k] = k;
  const rootOf = (k: number): number => {
    while (joined[k] !== k) {
      joined[k] = joined[joined[k]];
      k = joined[k];
    }
    return k;
  };
  // All are in order, so one walk along them finds all that touch.
  for (let k = 0, above = 0; k < count; k++) {
    while (to[above] + width <= from[k]) above++;
    for (let j = above; j < k && from[j] + width < to[k]; j++) {
      const [a, b] = [rootOf(j), rootOf(k)];
      if (a < b) joined[b] = a;
      else joined[a] = b;
    }
  }
  for (let k = 0; k < count; k++) joined[k] = rootOf(k);
  return joined;
}
