/** Share of the way from (ax, ay) to (bx, by), in [0,1], at which a segment is nearest to (x, y); 0 for one of no length. */
import { clamp } from './clamp.ts';

export function nearestOnSegment(ax: number, ay: number, bx: number, by: number, x: number, y: number): number {
  const dx = bx - ax;
  const dy = by - ay;
  const length = dx * dx + dy * dy;
  return length > 0 ? clamp(((x - ax) * dx + (y - ay) * dy) / length, 0, 1) : 0;
}
