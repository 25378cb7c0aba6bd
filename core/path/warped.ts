/** Curves carried by a motion of the plane. */
import { applyTo, type Homography } from '../math/homography.ts';
import type { Shape } from './path.ts';

/**
 * The shape with its vertices and the ends of its handles where the motion takes them. For moves, turns, scales and affine motion
 * that is the curve exactly; under perspective the stretch between two vertices is that of the moved handles, which is near it.
 */
export function warpedShape(shape: Shape, motion: Homography): Shape {
  return shape.map((v) => {
    const [x, y] = applyTo(motion, v.x, v.y);
    const [ax, ay] = applyTo(motion, v.x + v.inX, v.y + v.inY);
    const [bx, by] = applyTo(motion, v.x + v.outX, v.y + v.outY);
    return { ...v, x, y, inX: ax - x, inY: ay - y, outX: bx - x, outY: by - y };
  });
}
