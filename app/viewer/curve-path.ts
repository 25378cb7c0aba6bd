/** A curve of the plate as a path of a canvas. */
import { type Shape, segment } from '~/core/path/path.ts';
import type { ViewTransform } from '../state/view-transform.ts';

export function tracePath(context: CanvasRenderingContext2D, shape: Shape, closed: boolean, { scale, x, y }: ViewTransform): void {
  context.beginPath();
  if (shape.length === 0) return;
  context.moveTo(shape[0].x * scale + x, shape[0].y * scale + y);
  const segments = closed ? shape.length : shape.length - 1;
  for (let i = 0; i < segments; i++) {
    const s = segment(shape, i);
    context.bezierCurveTo(s[2] * scale + x, s[3] * scale + y, s[4] * scale + x, s[5] * scale + y, s[6] * scale + x, s[7] * scale + y);
  }
  if (closed) context.closePath();
}
