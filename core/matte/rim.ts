/** The band along the edge of a subject. */
import type { Subject } from '../document/schema.ts';
import { type Gray, newGray } from '../image/picture.ts';
import { clamp, smoothstep } from '../math/clamp.ts';
import { numberAt } from '../time/animated.ts';
import { signedDistance } from './distance.ts';

/** Plate pixels that it goes inwards and outwards, and over which it fades, half of them on each side of its borders. */
export interface Rim {
  inner: number;
  outer: number;
  softness: number;
}

export const rimAt = ({ rim }: Pick<Subject, 'rim'>, time: number): Rim => ({
  inner: Math.max(0, numberAt(rim.inner, time)),
  outer: Math.max(0, numberAt(rim.outer, time)),
  softness: Math.max(0, numberAt(rim.softness, time)),
});

/** Lines of 8 bit that the outline may be off. */
const TOLERANCE = 0.05;

/** How much of each pixel is in the band round where the matte is a half. @param scale pixels of the matte for one of the plate */
export function rimBand(matte: Gray, { inner, outer, softness }: Rim, scale: number): Gray {
  const out = newGray(matte.width, matte.height);
  if (inner + outer === 0) return out;
  // Over a pixel at least, so that its borders are not jagged.
  const soft = Math.max(1, softness * scale);
  const [within, without] = [inner * scale, outer * scale];
  const field = signedDistance(matte, 0.5, Math.max(within, without) + soft / 2 + 1, TOLERANCE);
  if (!field) return out;
  const fades = (room: number) => smoothstep(clamp(room / soft + 0.5, 0, 1));
  for (let y = 0, f = 0; y < field.height; y++)
    for (let p = (y + field.top) * out.width + field.left, end = p + field.width; p < end; p++, f++) {
      const d = field.data[f];
      out.data[p] = fades(within - d) * fades(without + d);
    }
  return out;
}
