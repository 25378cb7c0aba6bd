/**
 * What one more stroke changes of what was cut before it: not all that comes out otherwise by what it taught, since much of that would
 * undo what other strokes have done.
 */
import { logitOf } from '../colour/colour-model.ts';
import { paintedPixels } from '../colour/colour-tables.ts';
import { boxRound, cropLab, cropMask, paste } from '../picture/crop.ts';
import type { LabPicture } from '../picture/lab.ts';
import { eachComponent, eachUnlike } from '../picture/masks.ts';
import { DROP, KEEP, NOT_PAINTED } from '../strokes/strokes.ts';
import { type Cut, EPSILON } from './cut-frame.ts';
import { eachReached } from './geodesic.ts';
import { cutUndecided } from './graph-cut.ts';
import type { MotionPull } from './motion-evidence.ts';

/** How far a stroke reaches by the picture, see eachReached: what undoes the work of other strokes lies beyond. */
export const REACH = 100;
/** And one after many others: by then little is left to mend but details. */
export const LATE = 20;
/** A bounded one turns no more than so many times its own pixels, the nearest first. */
export const MOST = 5;
/** And a drop stroke so many times where few before it said something new. */
export const MORE = 30;

export interface Change {
  picture: LabPicture;
  /** The mask before the stroke. */
  was: Uint8Array;
  /** What was cut with it. */
  cut: Cut;
  /** The stroke as it is painted: KEEP or DROP where it is. */
  stroke: Uint8Array;
}

/** What a stroke says: 1 where it keeps, 0 where it drops. */
const kindOf = (stroke: Uint8Array): 0 | 1 => (stroke.includes(KEEP) ? 1 : 0);

/** 1 where the second of two masks alone has `value`. */
function turnedTo(value: 0 | 1, mask: Uint8Array, other: Uint8Array): Uint8Array {
  const turned = new Uint8Array(mask.length);
  eachUnlike(mask, other, (i) => {
    if (other[i] === value) turned[i] = 1;
  });
  return turned;
}

/** One of two masks, and those pieces of the other that have `value` there alone, as far as they are `taken` (places in the picture). */
function withPieces(mask: Uint8Array, other: Uint8Array, value: 0 | 1, { width, height }: LabPicture, taken: (pixels: Int32Array) => boolean): Uint8Array {
  const turned = turnedTo(value, mask, other);
  const out = mask.slice();
  const box = boxRound(turned, width, height, 0);
  if (!box) return out;
  const at = (i: number) => (Math.floor(i / box.width) + box.top) * width + (i % box.width) + box.left;
  eachComponent(cropMask(turned, width, box), box.width, box.height, 1, (pixels) => {
    const places = pixels.map(at);
    if (taken(places)) for (const i of places) out[i] = value;
  });
  return out;
}

/** Pieces smaller than this, pixels, may turn either way: where an edge is soft it is never quite the same. */
const SPECK = 20;
const isSpeck = (pixels: Int32Array): boolean => pixels.length < SPECK;
const isNoSpeck = (pixels: Int32Array): boolean => !isSpeck(pixels);
const touches = (stroke: Uint8Array, pixels: Int32Array): boolean => pixels.some((i) => stroke[i] !== NOT_PAINTED);

/** The log of the odds, in nats, that pixels are the subject's by what strokes taught, as a mean over them. */
function saidBy(table: Float32Array, { cell }: LabPicture, pixels: Int32Array): number {
  let sum = 0;
  for (const i of pixels) sum += logitOf(table[cell[i]], EPSILON);
  return sum / pixels.length;
}

/** What a keep stroke does not touch turns where its colours speak for it by so many nats. */
const SPOKEN_FOR = 1;
/** A stroke is about as large as what it is meant for: a piece that it touches and that has more than so many times its pixels is not believed. */
const FLOOD = 20;
/** And one that it does not touch of no more than so many times. */
const FAR = 5;

/**
 * What a keep stroke adds, wherever it is: all but pieces against a drop stroke that it does not touch. It takes no more than specks away.
 * @param told what all strokes say at each pixel
 * @param bounded whether it adds what it does not touch only where its colours speak for it and that is not too large for it, and of
 * a piece that it touches and that is much too large for it no more than what is close to it
 */
export function added(change: Change, told: Uint8Array, bounded: boolean): Uint8Array {
  const { picture, was, cut, stroke } = change;
  const { width } = picture;
  const own = bounded ? paintedPixels(stroke).length : Number.POSITIVE_INFINITY;
  let floods = false;
  const againstDrop = (i: number): boolean =>
    told[i - width] === DROP || told[i + width] === DROP || (i % width > 0 && told[i - 1] === DROP) || (i % width < width - 1 && told[i + 1] === DROP);
  const undone = (pixels: Int32Array): boolean => {
    if (touches(stroke, pixels)) {
      floods ||= pixels.length > FLOOD * own;
      return pixels.length > FLOOD * own;
    }
    if (pixels.length > FAR * own || pixels.some(againstDrop)) return true;
    if (!bounded || isSpeck(pixels)) return false;
    return saidBy(cut.table, picture, pixels) < SPOKEN_FOR;
  };
  const mask = withPieces(withPieces(cut.mask, was, 1, picture, isNoSpeck), was, 0, picture, undone);
  return floods ? reached({ ...change, was: mask }, LATE) : mask;
}

/**
 * What a drop stroke takes away; it adds no more than specks.
 * @param most times its own pixels of what it reaches, at most; null where it takes away all
 */
export function takenAway(change: Change, most: number | null): Uint8Array {
  const { picture, was, cut } = change;
  const mask = withPieces(cut.mask, was, 0, picture, isNoSpeck);
  if (most === null) return mask;
  // Specks turn wherever they are.
  const specks = withPieces(withPieces(was, mask, 1, picture, isSpeck), mask, 0, picture, isSpeck);
  return reached({ ...change, was: specks }, REACH, most);
}

/** Nats by which motion must tell the strokes of the two sides apart, before it is asked of anything else. */
const APART = 1;
/** Nats that speak clearly for the subject; and so many less than none clearly against it. */
const CLEARLY = 0.25;
/** A drop stroke takes no more than so many times its own pixels of what motion would hold. */
const HELD = 2;
/** Cost of a boundary between alike pixels in what motion decides. */
const SMOOTHNESS = 6;

/**
 * What a stroke changes, but for parts that motion speaks against: those that go with the subject are not taken away with what is like
 * them, nor are those added that stay behind; as far as `motion` tells the strokes themselves apart. Close to it a drop stroke has its way.
 * @param mask all that it would change
 * @param beta of the picture, see contrastOf
 */
export function heldByMotion(change: Change, mask: Uint8Array, motion: MotionPull | null, beta: number): Uint8Array {
  const { picture, was, cut, stroke } = change;
  const { width, height } = picture;
  if (!motion) return mask;
  const { keep, drop } = motion.ofKnown();
  if (keep - drop < APART) return mask;
  const value = kindOf(stroke);
  const turned = turnedTo(value, was, mask);
  for (const i of paintedPixels(stroke)) turned[i] = 0;
  const box = boxRound(turned, width, height, 1);
  if (!box) return mask;
  const between = (keep + drop) / 2;
  const level = value === 1 ? Math.min(-CLEARLY, between) : Math.max(CLEARLY, between);
  const labels = cropMask(mask, width, box);
  const pull = motion.fine(box).map((says) => says - level);
  cutUndecided(cropLab(picture, box), labels, cropMask(turned, width, box), pull, { strength: SMOOTHNESS, beta });
  const out = mask.slice();
  paste(out, width, labels, box);
  return value === 1 ? out : reached({ ...change, was: out, cut: { ...cut, mask } }, LATE, HELD);
}

/** What a stroke changes as far as it reaches, see eachReached; the nearest first, so many times its own pixels at most. */
export function reached({ picture, was, cut, stroke }: Change, reach: number, most = MOST): Uint8Array {
  const value = kindOf(stroke);
  const from = paintedPixels(stroke);
  const out = was.slice();
  let left = most * from.length;
  const turns = (i: number) => cut.mask[i] === value && was[i] !== value;
  eachReached(picture, from, turns, reach, (i) => {
    if (left-- > 0) out[i] = value;
  });
  return out;
}
