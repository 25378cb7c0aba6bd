/** The motion of the camera from one picture to another, told from what is not covered by subjects. */
import type { Gray, Rgba } from '../image/picture.ts';
import { fitHomography } from '../math/fit-homography.ts';
import { applyTo, type Homography, multiply, scaling, translation } from '../math/homography.ts';
import { motionBetweenPictures } from './between-frames.ts';

/** Pixels of the flow from one place that is looked at to the next. */
const EVERY = 5;
/** Fewer places tell nothing. */
const LEAST = 24;
/** Pixels of the flow within which a place agrees with the motion: at first, at last, and how much of that is left each round. */
const FARTHEST = 12;
const NEAREST = 1;
const NARROWER = 0.6;

const freeAt = ({ width, height, data }: Gray, x: number, y: number): boolean =>
  x >= 0 && y >= 0 && x < width && y < height && data[Math.floor(y) * width + Math.floor(x)] > 0;

const median = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1];

/**
 * Takes places of the first picture to those of the other, both of one size, where what stands still is seen there: a homography by least
 * squares over dense motion, from which places that move otherwise are left out by and by. Null where too little tells.
 * @param free of each picture: above 0 where nothing that moves by itself is
 */
export function cameraMotion(first: Rgba, other: Rgba, free: { first: Gray; other: Gray }): Homography | null {
  const { flow, factor } = motionBetweenPictures(first, other);
  const [from, to]: [number[][], number[][]] = [[], []];
  for (let y = EVERY >> 1; y < flow.height; y += EVERY)
    for (let x = EVERY >> 1; x < flow.width; x += EVERY) {
      const i = 2 * (y * flow.width + x);
      const [px, py] = [x + 0.5, y + 0.5];
      const [qx, qy] = [px + flow.data[i], py + flow.data[i + 1]];
      if (!freeAt(free.first, px * factor, py * factor) || !freeAt(free.other, qx * factor, qy * factor)) continue;
      from.push([px, py]);
      to.push([qx, qy]);
    }
  if (from.length < LEAST) return null;
  let motion: Homography = translation(median(from.map((p, i) => to[i][0] - p[0])), median(from.map((p, i) => to[i][1] - p[1])));
  for (let reach = FARTHEST; reach >= NEAREST; reach *= NARROWER) {
    const agrees = from.map(([x, y], i) => {
      const [qx, qy] = applyTo(motion, x, y);
      return Math.hypot(qx - to[i][0], qy - to[i][1]) < reach;
    });
    if (agrees.filter(Boolean).length < LEAST) break;
    motion =
      fitHomography(
        from.filter((_, i) => agrees[i]),
        to.filter((_, i) => agrees[i]),
      ) ?? motion;
  }
  return multiply(scaling(factor, factor), multiply(motion, scaling(1 / factor, 1 / factor)));
}
