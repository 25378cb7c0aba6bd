/** What an element is made from. */
import { placedSpline, shapeAt } from '../document/follow.ts';
import { findPart } from '../document/parts.ts';
import type { Element, ShotDocument, SplinePart, Subject } from '../document/schema.ts';
import type { Gray } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { applyTo } from '../math/homography.ts';
import { flatten } from '../path/path.ts';
import { areaOf, outlinesOf } from '../trace/outlines.ts';
import type { Scene } from './element.ts';
import { ledMotion } from './place.ts';

/** The subject that an element is made from: the one it names, or that of its lane. Undefined where there is none any more. */
export const subjectOf = ({ cast }: ShotDocument, { of, subject }: Element): Subject | undefined => cast.find((s) => s.id === (of ?? subject));

/** Whether it is made from lines of its own. */
export const isDrawn = ({ of, drawn }: Element): boolean => of === null && drawn.length > 0;

/** The Spline that an element names. */
function splineOf(document: ShotDocument, { of }: Element): SplinePart | undefined {
  const part = findPart(document, of);
  return part?.type === 'spline' ? part : undefined;
}

/** A line to draw along, x0,y0,x1,y1,… in pixels of the layer; a closed one's last point joins the first. */
export interface Line {
  points: Float64Array;
  closed: boolean;
  /** On which side its outside lies: 1 on the left as one goes along it (y down), -1 on the right. */
  outside: 1 | -1;
}

/** Pixels that a line may lie beside the curve it stands for. */
const FLATNESS = 0.05;
/** Outlines round fewer square pixels are left out. */
const LEAST = 12;

type Point = readonly [number, number];

/** A closed line that begins at its point nearest to a place. */
function begunAt(points: Float64Array, [x, y]: Point): Float64Array {
  let first = 0;
  let least = Infinity;
  for (let i = 0; i < points.length; i += 2) {
    const far = (points[i] - x) ** 2 + (points[i + 1] - y) ** 2;
    if (far >= least) continue;
    least = far;
    first = i;
  }
  const out = new Float64Array(points.length);
  out.set(points.subarray(first));
  out.set(points.subarray(0, first), points.length - first);
  return out;
}

/** The middle of a matte, and the highest place of its outline; null where it is empty. */
function middleAndTop(matte: Gray): { middle: Point; top: Point } | null {
  let [sum, sumX, sumY] = [0, 0, 0];
  const { width, data } = matte;
  for (let p = 0; p < data.length; p++) {
    const m = data[p];
    if (m === 0) continue;
    sum += m;
    sumX += m * ((p % width) + 0.5);
    sumY += m * (Math.floor(p / width) + 0.5);
  }
  const all = outlinesOf(matte, LEAST).flatMap((points) => Array.from({ length: points.length / 2 }, (_, i): Point => [points[2 * i], points[2 * i + 1]]));
  if (sum === 0 || all.length === 0) return null;
  return { middle: [sumX / sum, sumY / sum], top: all.reduce((a, b) => (b[1] < a[1] ? b : a)) };
}

/**
 * Where the outlines of a subject begin on a frame, pixels of the layer: at the top of it on the first frame on which the element lives,
 * and from there on at the same place against its middle.
 */
async function sameBeginning({ item, time, mattes }: Scene<unknown>, subject: Subject, frame: number): Promise<Point> {
  const first = item.lives.find((r) => time >= r.first && time <= r.last)?.first ?? 0;
  const now = middleAndTop(await mattes(subject.id, frame));
  const then = first === frame ? now : middleAndTop(await mattes(subject.id, first));
  if (!now) return [0, 0];
  if (!then) return now.top;
  return [then.top[0] + now.middle[0] - then.middle[0], then.top[1] + now.middle[1] - then.middle[1]];
}

/**
 * The curves of the Spline that an element names, as they are seen, open ones too; lines of its own; or the outlines of its subject's matte.
 * @param near a place of the plate at which closed ones begin; null: where they do by themselves
 */
export async function linesOf(scene: Scene<unknown>, near: Point | null): Promise<Line[]> {
  const { document, item, time, mattes, size } = scene;
  const [scaleX, scaleY] = [size.width / document.plate.width, size.height / document.plate.height];
  const begin: Point | null = near && [near[0] * scaleX, near[1] * scaleY];
  const spline = splineOf(document, item);
  if (spline) {
    return placedSpline(document, spline).paths.flatMap((path) => {
      const shape = shapeAt(path, time);
      if (shape.length < 2) return [];
      const points = flatten(shape, scaleX, scaleY, FLATNESS, path.closed);
      return [{ points: begin && path.closed ? begunAt(points, begin) : points, closed: path.closed, outside: path.closed && areaOf(points) < 0 ? -1 : 1 }];
    });
  }
  if (isDrawn(item)) {
    const motion = ledMotion(document, item, time);
    return item.drawn.flatMap((shape) => {
      if (shape.length < 2) return [];
      const points = flatten(shape, scaleX, scaleY, FLATNESS, false);
      for (let i = 0; motion && i < points.length; i += 2) {
        const [x, y] = applyTo(motion, points[i] / scaleX, points[i + 1] / scaleY);
        points[i] = x * scaleX;
        points[i + 1] = y * scaleY;
      }
      return [{ points, closed: false, outside: 1 as const }];
    });
  }
  const subject = subjectOf(document, item);
  if (!subject) return [];
  const frame = clamp(Math.round(time), 0, document.plate.frames - 1);
  const outlines = outlinesOf(await mattes(subject.id, frame), LEAST);
  if (outlines.length === 0) return [];
  const from = begin ?? (await sameBeginning(scene, subject, frame));
  // Holes go the other way round, so that what is outside the subject lies on the left of all of them.
  return outlines.map((points) => ({ points: begunAt(points, from), closed: true, outside: 1 }));
}
