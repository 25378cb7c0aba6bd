import type { Where } from '../core/effects/lane-effect.ts';
import type { Size } from '../core/image/picture.ts';

/** A layer that is all of a picture of ten frames a second, on frame 0, with nothing behind it; and what is otherwise. */
export const whereOn = (whole: Size, more: Partial<Where> = {}): Where => {
  const scale = more.scale ?? 1;
  return { frame: 0, scale, rate: 10, linear: false, left: 0, top: 0, whole, matte: null, behind: null, at: (x, y) => [x * scale, y * scale], ...more };
};
