/** What an element is made from. */
import { placedSpline, shapeAt } from '../document/follow.ts';
import { findPart } from '../document/parts.ts';
import type { Element, ShotDocument, SplinePart, Subject } from '../document/schema.ts';
import { clamp } from '../math/clamp.ts';
import { flatten } from '../path/path.ts';
import { areaOf, outlinesOf } from '../trace/outlines.ts';
import type { Scene } from './element.ts';

/** The subject that an element is made from: the one it names, or that of its lane. Undefined where there is none any more. */
export const subjectOf = ({ cast }: ShotDocument, { of, subject }: Element): Subject | undefined => cast.find((s) => s.id === (of ?? subject));

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

/** Begins a traced outline at its highest point, so that it begins near the same place from frame to frame. */
function fromTheTop(points: Float64Array): Float64Array {
  let top = 0;
  for (let i = 2; i < points.length; i += 2) if (points[i + 1] < points[top + 1]) top = i;
  const out = new Float64Array(points.length);
  out.set(points.subarray(top));
  out.set(points.subarray(0, top), points.length - top);
  return out;
}

/** The curves of the Spline that an element names, as they are seen, open ones too; or the outlines of its subject's matte. */
export async function linesOf({ document, item, time, mattes, size }: Scene<unknown>): Promise<Line[]> {
  const spline = splineOf(document, item);
  if (spline) {
    const [scaleX, scaleY] = [size.width / document.plate.width, size.height / document.plate.height];
    return placedSpline(document, spline).paths.flatMap((path) => {
      const shape = shapeAt(path, time);
      if (shape.length < 2) return [];
      const points = flatten(shape, scaleX, scaleY, FLATNESS, path.closed);
      return [{ points, closed: path.closed, outside: path.closed && areaOf(points) < 0 ? -1 : 1 }];
    });
  }
  const subject = subjectOf(document, item);
  if (!subject) return [];
  const frame = clamp(Math.round(time), 0, document.plate.frames - 1);
  // Holes go the other way round, so that what is outside the subject lies on the left of all of them.
  return outlinesOf(await mattes(subject.id, frame), LEAST).map((points) => ({ points: fromTheTop(points), closed: true, outside: 1 }));
}
