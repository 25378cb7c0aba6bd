/** Seeded value noise for textures and wobble: the demo film must come out the same each time it is rendered. */

/** A repeatable hash of an integer lattice point to [0,1). */
export function hash2(x: number, y: number, seed: number): number {
  let h = Math.imul(x | 0, 0x27d4eb2d) ^ Math.imul(y | 0, 0x165667b1) ^ Math.imul(seed | 0, 0x9e3779b1);
  h = Math.imul(h ^ (h >>> 15), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

/** Smooth value noise in [0,1], one unit a cell, repeating every `period` cells. */
export function valueNoise(x: number, y: number, seed: number, period = 1 << 20): number {
  const x0 = Math.floor(x);
  const y0 = Math.floor(y);
  const fx = x - x0;
  const fy = y - y0;
  const u = fx * fx * (3 - 2 * fx);
  const v = fy * fy * (3 - 2 * fy);
  const wrap = (n: number) => ((n % period) + period) % period;
  const a = hash2(wrap(x0), wrap(y0), seed);
  const b = hash2(wrap(x0 + 1), wrap(y0), seed);
  const c = hash2(wrap(x0), wrap(y0 + 1), seed);
  const d = hash2(wrap(x0 + 1), wrap(y0 + 1), seed);
  return a + (b - a) * u + (c - a) * v + (a - b - c + d) * u * v;
}

/** Sum of `octaves` of value noise, each twice as fine and half as strong; [0,1]. */
export function fractalNoise(x: number, y: number, seed: number, octaves = 5, period = 1 << 20): number {
  let sum = 0;
  let weight = 0.5;
  let total = 0;
  let scale = 1;
  for (let o = 0; o < octaves; o++) {
    sum += weight * valueNoise(x * scale, y * scale, seed + o * 101, period * scale);
    total += weight;
    weight *= 0.5;
    scale *= 2;
  }
  return sum / total;
}
