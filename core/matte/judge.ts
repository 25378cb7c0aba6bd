/** Measures for judging a matte over time: its area, and its chatter. */
import type { Gray } from '../image/picture.ts';

/** Area of a matte as a share of the picture, [0,1]. */
export function areaOf({ data }: Gray): number {
  let sum = 0;
  for (let i = 0; i < data.length; i++) sum += data[i];
  return sum / data.length;
}

/**
 * Chatter on a frame: how far, in pixels, the outline is on the mean from halfway between where it was and where it will be. An
 * even motion has none but for its corners; an outline that trembles by a pixel has about that. 0 where there is no outline.
 */
export function chatterOf(before: Gray, now: Gray, after: Gray): number {
  const { width, height } = now;
  let off = 0;
  let length = 0;
  for (let y = 0; y < height - 1; y++)
    for (let x = 0, i = y * width; x < width - 1; x++, i++) {
      const [a, b, c] = [before.data[i], now.data[i], after.data[i]];
      // A pixel that is crossed once on the way, in or out, tells of motion; one that goes and comes back, of chatter.
      off += Math.max(0, b - Math.max(a, c)) + Math.max(0, Math.min(a, c) - b);
      length += Math.abs(now.data[i + 1] - b) + Math.abs(now.data[i + width] - b);
    }
  // Steps along rows and columns count an outline 4/π times too long, on the mean over directions.
  return length > 0 ? off / ((length * Math.PI) / 4) : 0;
}

/** The change from one matte to the next as a picture: mid-grey where nothing changed, lighter where it grew, darker where it shrank. */
export function changePicture(before: Gray, now: Gray): Gray {
  const data = new Float32Array(now.data.length);
  for (let i = 0; i < data.length; i++) data[i] = 0.5 + (now.data[i] - before.data[i]) / 2;
  return { ...now, data };
}
