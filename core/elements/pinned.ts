/** Corners of an element on those of a tracked region. */
import { sureWay, wayAt } from '../document/follow.ts';
import type { Track } from '../document/schema.ts';
import { applyTo } from '../math/homography.ts';
import { motionOf } from '../math/motion.ts';
import { extentOf } from '../path/path.ts';
import { areaOf } from '../trace/outlines.ts';

/**
 * The four corners of a tracked region on a frame, x0,y0,…,x3,y3 from the left top one clockwise: those of an outline of four
 * points, or of the box round any other.
 */
export function regionCorners(track: Track, frame: number): number[] {
  const [first] = track.outlines;
  const corners = first?.length === 4 ? first.map((v): [number, number] => [v.x, v.y]) : boxRound(track);
  const motion = motionOf(wayAt(sureWay(track), frame), track.pivot);
  return fromTheTopLeft(corners).flatMap(([x, y]) => applyTo(motion, x, y));
}

function boxRound({ outlines }: Track): [number, number][] {
  const [left, top, right, bottom] = extentOf(outlines, 1);
  return [
    [left, top],
    [right, top],
    [right, bottom],
    [left, bottom],
  ];
}

/** Corners clockwise as seen (y down), the one nearest to the left top first. */
function fromTheTopLeft(corners: [number, number][]): [number, number][] {
  const clockwise = areaOf(Float64Array.from(corners.flat())) >= 0 ? corners : [...corners].reverse();
  const first = clockwise.reduce((best, [x, y], i) => (x + y < clockwise[best][0] + clockwise[best][1] ? i : best), 0);
  return [...clockwise.slice(first), ...clockwise.slice(0, first)];
}
