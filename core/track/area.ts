/** The piece of a picture that is tracked: a square round a point, or a region of any form. */

import type { Gray } from '../image/picture.ts';
import { applyTo, type Homography } from '../math/homography.ts';
import type { Samples } from './samples.ts';

export interface Area {
  /** From the area's own coordinates (see Samples) to the plate, on the frame where it was set. */
  homography: Homography;
  /** Plate pixels of one unit there. */
  size: number;
  /** Its corners in its own coordinates: u0, v0, u1, v1, … */
  corners: readonly number[];
  /** The corners of the box round it, so too; a point has its middle alone. */
  box: readonly number[];
  /** Half of its shorter side in plate pixels. */
  least: number;
  /** Places about `apart` plate pixels from each other, at most `most`; `around` takes in so many plate pixels on each side. */
  samples(apart: number, most: number, around: number): Samples;
}

/** A square of `radius` plate pixels to each side of a point; what is near its middle counts more. */
export function pointArea(x: number, y: number, radius: number): Area {
  return {
    homography: [radius, 0, x, 0, radius, y, 0, 0, 1],
    size: radius,
    corners: [0, 0],
    box: [0, 0],
    least: radius,
    samples: (apart, most, around) => squareOf(radius, apart, most, around),
  };
}

/** Squares whose samples are kept. */
const MOST_KEPT = 64;
/** Samples of squares, for many points are alike: by what they are made for. */
const squares = new Map<string, Samples>();

function squareOf(radius: number, apart: number, most: number, around: number): Samples {
  const key = `${radius} ${apart} ${most} ${around}`;
  const known = squares.get(key);
  if (known) return known;
  const side = Math.max(radius, around) / radius;
  const steps = Math.min(Math.round((2 * side * radius) / apart), Math.floor(Math.sqrt(most)) - 1);
  const n = steps + 1;
  const [u, v, weight] = [new Float32Array(n * n), new Float32Array(n * n), new Float32Array(n * n)];
  for (let j = 0, k = 0; j < n; j++)
    for (let i = 0; i < n; i++, k++) {
      u[k] = (-1 + (2 * i) / steps) * side;
      v[k] = (-1 + (2 * j) / steps) * side;
      weight[k] = Math.exp(-(u[k] * u[k] + v[k] * v[k]) / (side * side));
    }
  const made = { u, v, weight };
  // A radius that is drawn by hand is one of many.
  if (squares.size >= MOST_KEPT) squares.clear();
  squares.set(key, made);
  return made;
}

/**
 * A region given by its coverage of the plate (0 outside, 1 inside) and its outline (x0, y0, x1, y1, …, plate pixels); null where
 * fewer than sixteen pixels are in it.
 */
export function regionArea(coverage: Gray, outline: readonly number[]): Area | null {
  const { width, height, data } = coverage;
  let [left, top, right, bottom, count] = [width, height, -1, -1, 0];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      if (data[y * width + x] < 0.5) continue;
      count++;
      left = Math.min(left, x);
      right = Math.max(right, x);
      top = Math.min(top, y);
      bottom = Math.max(bottom, y);
    }
  if (count < 16) return null;
  const [w, h] = [right - left + 1, bottom - top + 1];
  const [cx, cy] = [left + w / 2, top + h / 2];
  const size = Math.max(w, h) / 2;
  return {
    homography: [size, 0, cx, 0, size, cy, 0, 0, 1],
    size,
    corners: outline.map((c, i) => (i % 2 === 0 ? (c - cx) / size : (c - cy) / size)),
    box: [-w, -h, w, -h, w, h, -w, h].map((c) => c / (2 * size)),
    least: Math.min(w, h) / 2,
    samples(apart, most) {
      // Of a region that is long and thin more may lie on a lattice than its share of the picture says.
      for (let step = Math.max(apart, Math.sqrt(count / most)); ; step *= 1.1) {
        const [u, v]: number[][] = [[], []];
        for (let y = top + (h % step) / 2 + 0.5; y < bottom + 1; y += step)
          for (let x = left + (w % step) / 2 + 0.5; x < right + 1; x += step) {
            if (data[Math.floor(y) * width + Math.floor(x)] < 0.5) continue;
            u.push((x - cx) / size);
            v.push((y - cy) / size);
          }
        if (u.length <= most) return { u: Float32Array.from(u), v: Float32Array.from(v), weight: new Float32Array(u.length).fill(1) };
      }
    },
  };
}

/** Where the corners of an area, or of the box round it, lie by `place`: x0, y0, x1, y1, … */
export function cornersAt(area: Area, homography: Homography, of: 'corners' | 'box' = 'corners'): number[] {
  const corners = area[of];
  const out: number[] = [];
  for (let i = 0; i < corners.length; i += 2) out.push(...applyTo(homography, corners[i], corners[i + 1]));
  return out;
}
