/** Corners of an element on those of a tracked region. */
import { sureWay, wayAt } from '../document/follow.ts';
import type { Track } from '../document/schema.ts';
import { applyTo } from '../math/homography.ts';
import { motionOf } from '../math/motion.ts';
import { flatten } from '../path/path.ts';

/**
 * The four corners of a tracked region on a frame, x0,y0,…,x3,y3 from the left top one clockwise: those of an outline of four
 * points, or of the box round any other.
 */
export function regionCorners(track: Track, frame: number): number[] {
  const [first] = track.outlines;
  const corners = first?.length === 4 ? first.map((v): [number, number] => [v.x, v.y]) : boxRound(track);
  const motion = motionOf(wayAt(sureWay(track), frame), track.pivot);
  return fromTheTopLeft(corners).flatMap(([x, y]) => applyTo(motion, x, y).map((v) => Math.round(v * 100) / 100));
}

function boxRound({ outlines }: Track): [number, number][] {
  const points = outlines.flatMap((shape) => [...flatten(shape, 1, 1, 1)]);
  const [xs, ys] = [points.filter((_, i) => i % 2 === 0), points.filter((_, i) => i % 2 === 1)];
  const [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  return [
    [left, top],
    [right, top],
    [right, bottom],
    [left, bottom],
  ];
}

/** Corners clockwise as seen (y down), the one nearest to the left top first. */
function fromTheTopLeft(corners: [number, number][]): [number, number][] {
  const area = corners.reduce((sum, [x, y], i) => sum + x * corners[(i + 1) % 4][1] - corners[(i + 1) % 4][0] * y, 0);
  const clockwise = area >= 0 ? corners : [...corners].reverse();
  const first = clockwise.reduce((best, [x, y], i) => (x + y < clockwise[best][0] + clockwise[best][1] ? i : best), 0);
  return [...clockwise.slice(first), ...clockwise.slice(0, first)];
}
