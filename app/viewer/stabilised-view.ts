/** Where the plate lies in the viewer while what a track follows is held still there. */
import { applyTo, type Homography, jacobianAt } from '~/core/math/homography.ts';
import { turnAndScale } from '~/core/math/motion.ts';
import type { ViewTransform } from '../state/view-transform.ts';

export interface StabilisedView {
  /** The plate before it is turned. */
  viewTransform: ViewTransform;
  /** Turn of the whole stage, radians, and the point of the viewer that it is turned about. */
  turn: number;
  x: number;
  y: number;
}

/** `motion` takes places of the plate on the frame on which it is held to where they are now; `pivot` is one of the former. */
export function stabilisedView(viewTransform: ViewTransform, motion: Homography, pivot: readonly number[]): StabilisedView {
  const [px, py] = applyTo(motion, pivot[0], pivot[1]);
  const { turn, scale } = turnAndScale(jacobianAt(motion, pivot[0], pivot[1]));
  const [x, y] = [pivot[0] * viewTransform.scale + viewTransform.x, pivot[1] * viewTransform.scale + viewTransform.y];
  const now = viewTransform.scale / Math.max(1e-6, scale);
  return { viewTransform: { scale: now, x: x - px * now, y: y - py * now }, turn: -turn, x, y };
}

/** From a point of the viewer to the same point of the stage before it is turned. */
export function beforeTurn({ turn, x, y }: StabilisedView, sx: number, sy: number): { x: number; y: number } {
  const [c, s] = [Math.cos(-turn), Math.sin(-turn)];
  return { x: x + c * (sx - x) - s * (sy - y), y: y + s * (sx - x) + c * (sy - y) };
}
