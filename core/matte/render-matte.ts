/** renderMatte: what the matte of a subject is on a frame, at any size. */
import type { ShotDocument, SplinePart, Subject } from '../document/schema.ts';
import { type Gray, newGray, type Region, type Size } from '../image/picture.ts';
import { fillPolylines } from '../path/fill.ts';
import { flatten, mixShapes } from '../path/path.ts';
import { numberAt, valueAt } from '../time/animated.ts';
import { combineInto, invertInPlace } from './combine.ts';
import { finishEdge } from './edge.ts';

/** Coverage of a spline part by its closed paths, before opacity, and the box round them. Open paths mask nothing. */
function renderSpline(part: SplinePart, frame: number, scaleX: number, scaleY: number, size: Size): { matte: Gray; box: Region } {
  const outlines: Float64Array[] = [];
  for (const path of part.paths) {
    const shape = valueAt(path.shape, frame, mixShapes);
    if (path.closed && shape.length > 1) outlines.push(flatten(shape, scaleX, scaleY));
  }
  const matte = fillPolylines(outlines, size.width, size.height);
  if (part.inverted) invertInPlace(matte);
  return { matte, box: boxOf(outlines, size) };
}

/** The pixels that the outlines touch or hold. */
function boxOf(outlines: readonly Float64Array[], { width, height }: Size): Region {
  const box = { left: width, top: height, right: 0, bottom: 0 };
  for (const p of outlines)
    for (let i = 0; i < p.length; i += 2) {
      if (p[i] < box.left) box.left = p[i];
      if (p[i] > box.right) box.right = p[i];
      if (p[i + 1] < box.top) box.top = p[i + 1];
      if (p[i + 1] > box.bottom) box.bottom = p[i + 1];
    }
  return {
    left: Math.max(0, Math.floor(box.left)),
    top: Math.max(0, Math.floor(box.top)),
    right: Math.min(width, Math.ceil(box.right)),
    bottom: Math.min(height, Math.ceil(box.bottom)),
  };
}

/** A part counts when it is switched on and could mask something: a spline has at least one closed path. */
export const partMasks = (part: SplinePart): boolean => part.enabled && part.paths.some((p) => p.closed);

/**
 * The matte of `subject` on `frame` (fractions allowed), [0,1], at `size`. Widths in plate pixels are scaled with the size.
 * Parts are joined in list order, the first onto nothing; a subject whose first part subtracts or intersects starts from a full matte.
 */
export function renderSubjectMatte(document: ShotDocument, subject: Subject, frame: number, size: Size): Gray {
  const scaleX = size.width / document.plate.width;
  const scaleY = size.height / document.plate.height;
  let matte: Gray | undefined;
  // Outside all outlines the matte is one value, whatever the operations.
  const busy: Region = { left: size.width, top: size.height, right: 0, bottom: 0 };
  for (const part of subject.parts) {
    if (!partMasks(part)) continue;
    const { matte: own, box } = renderSpline(part, frame, scaleX, scaleY, size);
    busy.left = Math.min(busy.left, box.left);
    busy.top = Math.min(busy.top, box.top);
    busy.right = Math.max(busy.right, box.right);
    busy.bottom = Math.max(busy.bottom, box.bottom);
    const opacity = Math.max(0, Math.min(1, numberAt(part.opacity, frame)));
    if (!matte) {
      if (part.operation === 'add' && opacity === 1) {
        matte = own;
        continue;
      }
      matte = newGray(size.width, size.height);
      if (part.operation === 'subtract' || part.operation === 'intersect') matte.data.fill(1);
    }
    combineInto(matte, own, part.operation, opacity);
  }
  if (!matte) return newGray(size.width, size.height);
  const scale = (scaleX + scaleY) / 2;
  const { edge } = subject;
  const values = {
    grow: numberAt(edge.grow, frame) * scale,
    featherIn: Math.max(0, numberAt(edge.featherIn, frame)) * scale,
    featherOut: Math.max(0, numberAt(edge.featherOut, frame)) * scale,
    falloff: edge.falloff,
  };
  finishEdge(matte, values, busy);
  return matte;
}

/** The matte of the subject with id `subjectId`; throws RangeError where there is no such subject. */
export function renderMatte(document: ShotDocument, subjectId: string, frame: number, size: Size): Gray {
  const subject = document.cast.find((s) => s.id === subjectId);
  if (!subject) throw new RangeError(`This shot has no subject "${subjectId}".`);
  return renderSubjectMatte(document, subject, frame, size);
}
