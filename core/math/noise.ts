/** Seeded noise: the same everywhere for the same seed. */
import { randomFrom } from './random.ts';

/** Twelve directions to the middles of a cube's edges, and four of them again (K. Perlin, "Improving noise", SIGGRAPH 2002). */
const DIRECTIONS = new Float64Array([
  1, 1, 0, -1, 1, 0, 1, -1, 0, -1, -1, 0, 1, 0, 1, -1, 0, 1, 1, 0, -1, -1, 0, -1, 0, 1, 1, 0, -1, 1, 0, 1, -1, 0, -1, -1, 1, 1, 0, -1, 1, 0, 0, -1, 1, 0, -1,
  -1,
]);

/** A shuffled list of 0 to 255, twice over. */
function shuffled(seed: number): Uint8Array {
  const random = randomFrom(Math.imul(seed + 1, 2_654_435_761));
  const list = Uint8Array.from({ length: 256 }, (_, i) => i);
  for (let i = 255; i > 0; i--) {
    const j = Math.floor(random() * (i + 1));
    [list[i], list[j]] = [list[j], list[i]];
  }
  const twice = new Uint8Array(512);
  twice.set(list);
  twice.set(list, 256);
  return twice;
}

const fade = (t: number): number => t * t * t * (t * (t * 6 - 15) + 10);

function slope(hash: number, x: number, y: number, z: number): number {
  const d = 3 * (hash & 15);
  return DIRECTIONS[d] * x + DIRECTIONS[d + 1] * y + DIRECTIONS[d + 2] * z;
}

export type Noise = (x: number, y: number, z: number) => number;

const made = new Map<number, Noise>();

/** Gradient noise in three dimensions, about -1 to 1, 0 at whole numbers (Perlin 2002). */
export function noiseOf(seed: number): Noise {
  const known = made.get(seed);
  if (known) return known;
  const p = shuffled(seed);
  const noise: Noise = (x, y, z) => {
    const fx = Math.floor(x);
    const fy = Math.floor(y);
    const fz = Math.floor(z);
    const X = fx & 255;
    const Y = fy & 255;
    const Z = fz & 255;
    const rx = x - fx;
    const ry = y - fy;
    const rz = z - fz;
    const u = fade(rx);
    const v = fade(ry);
    const w = fade(rz);
    const A = p[X] + Y;
    const AA = p[A] + Z;
    const AB = p[A + 1] + Z;
    const B = p[X + 1] + Y;
    const BA = p[B] + Z;
    const BB = p[B + 1] + Z;
    const a = slope(p[AA], rx, ry, rz);
    const b = slope(p[AB], rx, ry - 1, rz);
    const c = slope(p[AA + 1], rx, ry, rz - 1);
    const d = slope(p[AB + 1], rx, ry - 1, rz - 1);
    const near = a + u * (slope(p[BA], rx - 1, ry, rz) - a);
    const nearLow = b + u * (slope(p[BB], rx - 1, ry - 1, rz) - b);
    const far = c + u * (slope(p[BA + 1], rx - 1, ry, rz - 1) - c);
    const farLow = d + u * (slope(p[BB + 1], rx - 1, ry - 1, rz - 1) - d);
    const front = near + v * (nearLow - near);
    return front + w * (far + v * (farLow - far) - front);
  };
  if (made.size > 64) made.clear();
  made.set(seed, noise);
  return noise;
}

/**
 * The sum of noise at `octaves` scales, each of half the size and half the strength of the one before, about -1 to 1 (fractional Brownian
 * motion; B. Mandelbrot and J. Van Ness, SIAM Review 1968).
 */
export function fractal(noise: Noise, octaves: number, x: number, y: number, z: number): number {
  let [sum, weight, whole] = [0, 1, 0];
  for (let k = 0; k < octaves; k++) {
    // Apart from one another, so that the points at which all are 0 do not meet.
    sum += weight * noise(x + 17.3 * k, y + 9.1 * k, z + 5.7 * k);
    whole += weight;
    weight /= 2;
    x *= 2;
    y *= 2;
    z *= 2;
  }
  return sum / whole;
}
