/** Measures for judging a matte over time: its area, and its chatter. */
import type { Gray } from '../image/picture.ts';
import { signedDistance } from './distance.ts';
import { NEIGHBOURS, steadied } from './steadiness.ts';

/** Area of a matte as a share of the picture, [0,1]. */
export function areaOf({ data }: Gray): number {
  let sum = 0;
  for (let i = 0; i < data.length; i++) sum += data[i];
  return sum / data.length;
}

/** Pixels from the outline within which distances are compared. */
const REACH = 8;

function distances(matte: Gray): Float32Array | null {
  const found = signedDistance(matte, 0.5, REACH);
  if (!found) return null;
  const field = new Float32Array(matte.data.length);
  for (let i = 0; i < field.length; i++) field[i] = matte.data[i] > 0.5 ? REACH : -REACH;
  for (let y = 0; y < found.height; y++) field.set(found.data.subarray(y * found.width, (y + 1) * found.width), (y + found.top) * matte.width + found.left);
  return field;
}

/**
 * Chatter on a frame: how far, in pixels, the outline is on the mean from halfway between where it was and where it will be,
 * the two brought here along its own even motion. 0 where there is no outline on one of the three.
 */
export function chatterOf(before: Gray, now: Gray, after: Gray): number {
  const fields = [before, now, after].map(distances);
  const own = fields[1];
  if (!own || !fields[0] || !fields[2]) return 0;
  const calm = steadied(fields, now, REACH, 1);
  let off = 0;
  let count = 0;
  for (let i = 0; i < own.length; i++) {
    if (Math.abs(own[i]) >= 1) continue;
    off += Math.abs(calm[i] - own[i]);
    count++;
  }
  return count > 0 ? off / count / NEIGHBOURS : 0;
}

/** The change from one matte to the next as a picture: mid-grey where nothing changed, lighter where it grew, darker where it shrank. */
export function changePicture(before: Gray, now: Gray): Gray {
  const data = new Float32Array(now.data.length);
  for (let i = 0; i < data.length; i++) data[i] = 0.5 + (now.data[i] - before.data[i]) / 2;
  return { ...now, data };
}
