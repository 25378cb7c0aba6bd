/** Places of a picture that can be followed well. */
import { gaussianBlur } from '../image/gaussian.ts';
import type { Gray, Size } from '../image/picture.ts';
import { fillPolylines } from '../path/fill.ts';
import { cornersIn } from './corners.ts';
import { PATTERN } from './settings.ts';

/** Of the best place: what is worse than this share of it holds too little. */
const WORTH = 0.02;

/**
 * Up to `count` places within the outlines (plate pixels) whose surroundings have slopes in all directions (Shi and Tomasi 1994: the
 * smaller eigenvalue of the summed slopes), best first and at least a pattern apart: x0, y0, x1, y1, … in plate pixels.
 */
export function suggestedPoints({ width, height, data }: Gray, plate: Size, outlines: readonly Float64Array[], count: number): number[] {
  const [sx, sy] = [width / plate.width, height / plate.height];
  const inside = fillPolylines(
    outlines.map((o) => o.map((v, i) => v * (i % 2 === 0 ? sx : sy))),
    width,
    height,
  ).data;
  const smooth = Float32Array.from(data);
  gaussianBlur(smooth, width, height, 1, 1, 1);
  const border = Math.ceil(PATTERN * sx);
  const piece = { left: 1, top: 1, right: width - 1, bottom: height - 1 };
  const corners = cornersIn({ width, height, data: smooth }, piece, (PATTERN * sx) / 2);
  const worth = new Float32Array(width * height);
  const found: number[] = [];
  for (let y = border; y < height - border; y++)
    for (let x = border; x < width - border; x++) {
      const i = y * width + x;
      if (inside[i] < 0.5) continue;
      worth[i] = corners[(y - 1) * (width - 2) + x - 1];
      found.push(i);
    }
  found.sort((a, b) => worth[b] - worth[a]);
  const apart = (2 * PATTERN * sx) ** 2;
  const out: number[] = [];
  for (const i of found) {
    if (out.length >= 2 * count || worth[i] < WORTH * worth[found[0]] || worth[i] <= 0) break;
    const [x, y] = [(i % width) + 0.5, Math.floor(i / width) + 0.5];
    let free = true;
    for (let k = 0; free && k < out.length; k += 2) free = (out[k] * sx - x) ** 2 + (out[k + 1] * sy - y) ** 2 >= apart;
    if (free) out.push(x / sx, y / sy);
  }
  return out;
}
