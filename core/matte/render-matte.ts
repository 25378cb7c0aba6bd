/** renderMatte: what the matte of a subject is on a frame, at any size. */
import { STEADY_FRAMES } from '../document/approval.ts';
import { type FencePart, regionOn } from '../document/fence.ts';
import { closedShapes, type PlacedSpline } from '../document/follow.ts';
import { frameOfImported } from '../document/part-kinds/imported.ts';
import { kindOfPart } from '../document/part-kinds/index.ts';
import type { MaskSource } from '../document/part-kinds/kind.ts';
import { livesOn } from '../document/parts.ts';
import type { ShotDocument, Subject } from '../document/schema.ts';
import { type Gray, newGray, type Region, type Size } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { flatten, isFeathered } from '../path/path.ts';
import { choiceAt, numberAt } from '../time/animated.ts';
import { combineInto, type Drawn, invertInPlace, placeInto } from './combine.ts';
import { type EdgeValues, finishEdge, shapeOutline, steadyEdge, wholeDistances } from './edge.ts';
import { featherFlatness, featherReach, lendFeathered, lendFilled } from './feathered-fill.ts';
import { boxOf, moveInto } from './outline-box.ts';
import type { MatteSources } from './sources.ts';

/**
 * A spline part by its closed curves, before opacity, in the memory of the kernels: good until they are borrowed again. Open
 * curves mask nothing.
 */
function renderSpline(part: PlacedSpline, time: number, { scaleX, scaleY, size, subject }: Scene): Drawn {
  const shapes = closedShapes(part.paths, time);
  const feathered = shapes.some(isFeathered);
  const outlines = shapes.map((shape) => flatten(shape, scaleX, scaleY, feathered ? featherFlatness(shape, scaleX, scaleY) : undefined));
  const box = boxOf(outlines, size, feathered ? featherReach(shapes, scaleX, scaleY) : 0);
  moveInto(box, outlines);
  const drawn = feathered ? lendFeathered(outlines, shapes, scaleX, scaleY, box, choiceAt(subject.edge.falloff, time)) : lendFilled(outlines, box);
  return { box, ...drawn, outside: 0 };
}

/**
 * Where a part fences a Peel in on a frame: 1 inside, at half its alpha and more; null where it is not there then. Feather and
 * opacity have no say, nor has whether it is switched on.
 */
export async function renderFence(part: FencePart, frame: number, sources: MatteSources, plate: Size, size: Size): Promise<Uint8Array | null> {
  if (!livesOn(part, frame)) return null;
  const inside = new Uint8Array(size.width * size.height);
  if (part.type === 'imported') {
    const { width, data } = await importedAt({ footage: part.footage, frame: frameOfImported(part, frame) }, { sources, size });
    if (width === 0) return null;
    for (let i = 0; i < inside.length; i++) if (data[i] >= 0.5) inside[i] = 1;
  } else {
    const shapes = part.type === 'region' ? regionOn(part, frame) : closedShapes(part.paths, frame);
    const outlines = shapes.map((shape) => flatten(shape, size.width / plate.width, size.height / plate.height));
    if (outlines.length === 0) return null;
    const box = boxOf(outlines, size, 0);
    moveInto(box, outlines);
    const { data, stride } = lendFilled(outlines, box);
    for (let y = 0; y < box.height; y++)
      for (let x = 0; x < box.width; x++) if (data[y * stride + x] >= 0.5) inside[(y + box.top) * size.width + x + box.left] = 1;
  }
  if (part.inverted) for (let i = 0; i < inside.length; i++) inside[i] = 1 - inside[i];
  return inside;
}

interface Scene {
  document: ShotDocument;
  subject: Subject;
  /** Subjects that this one is joined into, one by way of the other. */
  joining: readonly string[];
  sources: MatteSources;
  size: Size;
  scaleX: number;
  scaleY: number;
}

/** A part that comes from elsewhere, as a picture of the whole frame. */
async function fetchPart(source: Exclude<MaskSource, { from: 'curves' }>, time: number, scene: Scene): Promise<Drawn> {
  const { sources, size } = scene;
  const from =
    source.from === 'peel'
      ? sources.peel(source.peel, Math.round(time), size)
      : source.from === 'subject'
        ? joinedAt(source.subject, time, scene)
        : importedAt(source, { sources, size });
  const { width, height, data } = await from;
  return { box: { left: 0, top: 0, width, height }, data, stride: width, outside: 0 };
}

/** The finished matte of another subject at an instant; nothing where it is not there, or is joined into itself. */
async function joinedAt(id: string, time: number, scene: Scene): Promise<Gray> {
  const { document, subject, joining } = scene;
  const other = document.cast.find((s) => s.id === id);
  if (!other || id === subject.id || joining.includes(id)) return newGray(0, 0);
  const matte = await matteAt({ ...scene, subject: other, joining: [...joining, subject.id] }, time, document.plate.frames);
  const opacity = clamp(numberAt(other.edge.opacity, time), 0, 1);
  if (opacity < 1) for (let i = 0; i < matte.data.length; i++) matte.data[i] *= opacity;
  return matte;
}

const importedAt = async ({ footage, frame }: { footage: string; frame: number | null }, { sources, size }: Pick<Scene, 'size' | 'sources'>): Promise<Gray> =>
  frame === null ? newGray(0, 0) : sources.imported(footage, frame, size);

/**
 * The parts of a subject joined, in list order, the first onto nothing; where the first part subtracts or intersects, from a
 * full matte. Null where no part masks.
 */
async function joinParts(scene: Scene, time: number): Promise<{ matte: Gray; busy: Region } | null> {
  const { subject, size } = scene;
  let matte: Gray | undefined;
  // Outside all boxes the matte is one value, whatever the operations.
  const busy: Region = { left: size.width, top: size.height, right: 0, bottom: 0 };
  for (const part of subject.parts) {
    const kind = kindOfPart(part);
    const source = part.enabled && kind.masks(part) && livesOn(part, Math.round(time)) ? kind.mask(scene.document, part, time) : null;
    if (!source) continue;
    // Drawn in lent memory, so nothing may wait from here until it is joined.
    const drawn = source.from === 'curves' ? renderSpline(source.spline, time, scene) : await fetchPart(source, time, scene);
    if (part.inverted) {
      invertInPlace(drawn.data);
      drawn.outside = 1;
    }
    const { box } = drawn;
    if (box.width > 0 && box.height > 0) {
      busy.left = Math.min(busy.left, box.left);
      busy.top = Math.min(busy.top, box.top);
      busy.right = Math.max(busy.right, box.left + box.width);
      busy.bottom = Math.max(busy.bottom, box.top + box.height);
    }
    const opacity = clamp(numberAt(part.opacity, time), 0, 1);
    if (!matte) {
      matte = newGray(size.width, size.height);
      if (part.operation === 'add' && opacity === 1) {
        placeInto(matte, drawn);
        continue;
      }
      if (part.operation === 'subtract' || part.operation === 'intersect') matte.data.fill(1);
    }
    combineInto(matte, drawn, part.operation, opacity);
  }
  return matte ? { matte, busy } : null;
}

function edgeValuesAt({ subject: { edge }, scaleX, scaleY }: Scene, time: number): EdgeValues {
  const scale = (scaleX + scaleY) / 2;
  return {
    grow: numberAt(edge.grow, time) * scale,
    featherIn: Math.max(0, numberAt(edge.featherIn, time)) * scale,
    featherOut: Math.max(0, numberAt(edge.featherOut, time)) * scale,
    falloff: choiceAt(edge.falloff, time),
    firmness: clamp(numberAt(edge.firmness, time), 0, 1),
    pivot: numberAt(edge.pivot, time),
    roundness: Math.max(0, numberAt(edge.roundness, time)) * scale,
    specks: Math.max(0, numberAt(edge.specks, time)) * scaleX * scaleY,
    holes: Math.max(0, numberAt(edge.holes, time)) * scaleX * scaleY,
  };
}

/** The matte at an instant: parts joined and edge finished, with steadying where it is asked for. */
async function matteAt(scene: Scene, time: number, frames: number): Promise<Gray> {
  const { size, subject } = scene;
  const values = edgeValuesAt(scene, time);
  const steadiness = clamp(numberAt(subject.edge.steadiness, time), 0, 1);
  const drawn = await joinParts(scene, time);
  if (!drawn) return newGray(size.width, size.height);
  if (steadiness === 0) return finishEdge(drawn.matte, values, drawn.busy);
  const around: (ReturnType<typeof wholeDistances> | null)[] = [];
  for (let step = -STEADY_FRAMES; step <= STEADY_FRAMES; step++) {
    const t = time + step;
    const there = step === 0 ? drawn : t < 0 || t > frames - 1 ? null : await joinParts(scene, t);
    if (!there) around.push(null);
    else {
      around.push(wholeDistances(there.matte, values, shapeOutline(there.matte, values, there.busy)));
    }
  }
  return steadyEdge(around, size, values, steadiness) ?? finishEdge(drawn.matte, values, drawn.busy);
}

/**
 * Times, in frames, at which the shutter looks: evenly over the time it is open. `angle` in degrees, 360 a frame; it opens
 * `phase` degrees after the frame.
 */
export function shutterTimes(frame: number, angle: number, phase: number, samples: number): number[] {
  return Array.from({ length: samples }, (_, i) => frame + (phase + (angle * (i + 0.5)) / samples) / 360);
}

/** The matte of `subject` on `frame`, [0,1], at `size`. Widths in plate pixels are scaled with the size. */
async function renderSubjectMatte(document: ShotDocument, subject: Subject, frame: number, sources: MatteSources, size: Size): Promise<Gray> {
  const scene = { document, subject, joining: [], sources, size, scaleX: size.width / document.plate.width, scaleY: size.height / document.plate.height };
  const { edge } = subject;
  const { frames } = document.plate;
  const angle = numberAt(edge.shutter, frame);
  let matte: Gray;
  if (angle <= 0) matte = await matteAt(scene, frame, frames);
  else {
    matte = newGray(size.width, size.height);
    const { data } = matte;
    const times = shutterTimes(frame, angle, numberAt(edge.shutterPhase, frame), Math.round(numberAt(edge.shutterSamples, frame)));
    for (const time of times) {
      const sample = (await matteAt(scene, time, frames)).data;
      for (let i = 0; i < data.length; i++) data[i] += sample[i];
    }
    const k = 1 / times.length;
    for (let i = 0; i < data.length; i++) data[i] = Math.min(1, data[i] * k);
  }
  const opacity = clamp(numberAt(edge.opacity, frame), 0, 1);
  if (opacity < 1) for (let i = 0; i < matte.data.length; i++) matte.data[i] *= opacity;
  return matte;
}

/** The matte of the subject with id `subjectId`; rejects with RangeError where there is no such subject. */
export async function renderMatte(document: ShotDocument, subjectId: string, frame: number, sources: MatteSources, size: Size): Promise<Gray> {
  const subject = document.cast.find((s) => s.id === subjectId);
  if (!subject) throw new RangeError(`This shot has no subject "${subjectId}".`);
  return renderSubjectMatte(document, subject, frame, sources, size);
}
