/** Where the corners and the handle of a placed element are on the plate. */
import { applyTo } from '~/core/math/homography.ts';
import type { Stand } from '../state/view-store.ts';

/** The corners of an element on the plate, from its own left top one clockwise. */
export function cornersOf({ box, motion }: Pick<Stand, 'box' | 'motion'>): [number, number][] {
  const [w, h] = [box.width / 2, box.height / 2];
  return [
    [-w, -h],
    [w, -h],
    [w, h],
    [-w, h],
  ].map(([x, y]) => applyTo(motion, x, y));
}

/** Screen pixels from the upper side to the handle that turns. */
const TURN_HANDLE = 28;

/** Where the handle that turns an element lies, plate pixels; `perPixel` of them for one of the screen. */
export function turnHandleOf(stand: Pick<Stand, 'box' | 'motion'>, perPixel: number): [number, number] {
  const [a, b, c, d] = cornersOf(stand);
  const [mx, my] = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  const [ux, uy] = [mx - (c[0] + d[0]) / 2, my - (c[1] + d[1]) / 2];
  const length = Math.hypot(ux, uy) || 1;
  return [mx + (ux / length) * TURN_HANDLE * perPixel, my + (uy / length) * TURN_HANDLE * perPixel];
}
