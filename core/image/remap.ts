/** Pictures whose pixels come from elsewhere in them. */
import { clamp } from '../math/clamp.ts';
import type { Rgba } from './picture.ts';

/** What is seen beyond the sides of a picture: nothing, its last pixels, its other side, or itself in a mirror. */
export const SIDES = { hold: 'Its last pixels', wrap: 'The other side', mirror: 'A mirror', nothing: 'Nothing' } as const;
export type Sides = keyof typeof SIDES;

/** The pixel of a row or a column of `n` that is seen at `i`; -1 where nothing is. */
export function pixelWithin(i: number, n: number, sides: Sides): number {
  if (i >= 0 && i < n) return i;
  switch (sides) {
    case 'hold':
      return clamp(i, 0, n - 1);
    case 'wrap':
      return ((i % n) + n) % n;
    case 'mirror': {
      const there = ((i % (2 * n)) + 2 * n) % (2 * n);
      return there < n ? there : 2 * n - 1 - there;
    }
    case 'nothing':
      return -1;
  }
}

/**
 * Replaces each pixel by what lies at the place that `from` writes for it into `place`, x and y in pixels, (0, 0) the outer corner of the
 * left top one; bilinear.
 */
export function remap(picture: Rgba, sides: Sides, from: (x: number, y: number, place: Float64Array) => void): void {
  const { width, height, data } = picture;
  const source = data.slice();
  const place = new Float64Array(2);
  for (let y = 0, o = 0; y < height; y++)
    for (let x = 0; x < width; x++, o += 4) {
      from(x + 0.5, y + 0.5, place);
      const u = place[0] - 0.5;
      const v = place[1] - 0.5;
      const left = Math.floor(u);
      const top = Math.floor(v);
      const fx = u - left;
      const fy = v - top;
      const inside = left >= 0 && top >= 0 && left + 1 < width && top + 1 < height;
      const x0 = inside ? left : pixelWithin(left, width, sides);
      const x1 = inside ? left + 1 : pixelWithin(left + 1, width, sides);
      const y0 = inside ? top : pixelWithin(top, height, sides);
      const y1 = inside ? top + 1 : pixelWithin(top + 1, height, sides);
      const a = 4 * (y0 * width + x0);
      const b = 4 * (y0 * width + x1);
      const c = 4 * (y1 * width + x0);
      const d = 4 * (y1 * width + x1);
      for (let k = 0; k < 4; k++) {
        const upper = (x0 < 0 || y0 < 0 ? 0 : source[a + k]) * (1 - fx) + (x1 < 0 || y0 < 0 ? 0 : source[b + k]) * fx;
        const lower = (x0 < 0 || y1 < 0 ? 0 : source[c + k]) * (1 - fx) + (x1 < 0 || y1 < 0 ? 0 : source[d + k]) * fx;
        data[o + k] = upper * (1 - fy) + lower * fy;
      }
    }
}

/** A picture that is turned clockwise and made larger about a place of it, then moved; pixels and radians. */
export interface Turned {
  aboutX: number;
  aboutY: number;
  turn: number;
  scale: number;
  moveX: number;
  moveY: number;
}

/** Shows a picture turned, see {@link remap}. */
export function remapTurned(picture: Rgba, sides: Sides, { aboutX, aboutY, turn, scale, moveX, moveY }: Turned): void {
  const [c, s] = [Math.cos(turn) / scale, Math.sin(turn) / scale];
  remap(picture, sides, (x, y, place) => {
    const [px, py] = [x - aboutX - moveX, y - aboutY - moveY];
    place[0] = aboutX + c * px + s * py;
    place[1] = aboutY - s * px + c * py;
  });
}
