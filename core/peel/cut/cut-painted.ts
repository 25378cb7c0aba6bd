/**
 * A painted frame cut from its own strokes: what carrying starts from, and what the page shows after every stroke. Strokes are cut
 * together until one of either kind is there. From then on one that says what is so already changes nothing, a keep stroke takes nothing
 * away and a drop stroke adds nothing, neither against what motion says clearly; after the first few a drop stroke takes away what it
 * reaches; and later each one changes what it reaches, so that mending one place does not undo another.
 */

import { LRUCache } from 'lru-cache';
import type { Size } from '../../image/picture.ts';
import { memoised } from '../../math/memo.ts';
import { borrowKernels } from '../../wasm/host.ts';
import { paintedPixels } from '../colour/colour-tables.ts';
import type { PreparedFrame } from '../motion/prepared-frame.ts';
import { union } from '../picture/masks.ts';
import { CUT_SETTINGS, type CutSettings } from '../settings.ts';
import { KEEP, type PaintedStroke, paintSoft, paintStrokes, rasterOf } from '../strokes/strokes.ts';
import { type Before, cutFrame, type NewCut, standsOut } from './cut-frame.ts';
import { added, heldByMotion, LATE, MORE, MOST, REACH, reached, takenAway } from './stroke-changes.ts';

/** What a loop tells is as much as so many strokes. */
const GUESS = 6;
/** Until there is one of either kind all are cut together. */
const EITHER = { strokes: 2, keep: 1, drop: 1 };
/** So many strokes at least, and so many of each kind, are cut by all that was taught, freely: the subject and what is round it must be known first. */
const FIRST = { strokes: 6, keep: 1, drop: 1 };
/** And so many until a stroke changes only what is near it. */
const TOGETHER = { strokes: 10, keep: 2, drop: 4 };
/** A stroke says nothing new where no more than such a share of its pixels, and no more than so many, are not what it says already. */
const NEW = { share: 0.1, pixels: 20 };

/** With so many of its kind before it a stroke is bounded. */
const BOUNDED = { keep: 2, drop: 3 };

/** A mask with its colours is as much as so many strokes. */
const KNOWN_WELL = 10;

/** What a frame was cut to, and which of its strokes said something new: what says what is so already would teach colours that the other side may have too. */
interface Known {
  /** 1 for the subject. */
  mask: Uint8Array;
  teachers: readonly PaintedStroke[];
}

/** What a frame was cut to by the strokes it came from, so that one more stroke is one more cut. */
export type KnownCuts = LRUCache<string, { found: Known | null }>;

export interface PaintedOptions {
  /** 0 where nothing belongs to the subject, at the size of the picture. */
  fence?: Uint8Array | null;
  /** Masks that came from the first of these strokes, of the same frame, settings and fence. */
  known?: KnownCuts;
}

/** Whether a stroke (painted) says what a mask has already. */
function saysWhatIs(mask: Uint8Array, stroke: Uint8Array): boolean {
  const own = paintedPixels(stroke);
  const other = own.filter((i) => (stroke[i] === KEEP ? 1 : 0) !== mask[i]).length;
  return other <= Math.min(NEW.share * own.length, NEW.pixels);
}

/** The mask with what is painted, whatever else was found. */
function withPainted(mask: Uint8Array, painted: Uint8Array): Uint8Array {
  const out = mask.slice();
  for (const i of paintedPixels(painted)) out[i] = painted[i] === KEEP ? 1 : 0;
  return out;
}

const textsOf = (strokes: readonly PaintedStroke[]): string[] => strokes.map((s) => JSON.stringify([s.kind, s.points, s.radius, s.pressures]));

/**
 * The subject's mask on a frame and where its edge was called soft (null where nowhere); null where nothing of the picture is kept.
 * @param own the strokes of this frame in their order, in pixels of a plate of this size
 */
export function cutPainted(
  prepared: PreparedFrame,
  own: readonly PaintedStroke[],
  plate: Size,
  settings: CutSettings,
  { fence = null, known = new LRUCache({ max: 2 }) }: PaintedOptions = {},
): { mask: Uint8Array; zone: Uint8Array | null } | null {
  const raster = rasterOf(prepared.fine, plate);
  const paint = (strokes: readonly PaintedStroke[]) => paintStrokes(strokes, raster, fence);
  const loops = own.filter((s) => s.kind === 'loop');
  const strokes = own.filter((s) => s.kind === 'keep' || s.kind === 'drop');
  // In a loop that was drawn before anything was kept it is told from the colours what stands out; another only bounds.
  const guesses = own.find((s) => s.kind === 'loop' || s.kind === 'keep')?.kind === 'loop';
  const seedsFrom = (painted: Uint8Array) => (guesses ? standsOut(prepared, painted) : painted);

  const texts = textsOf(strokes);
  const loopText = JSON.stringify([guesses, loops.map((s) => s.points)]);
  const ofKind = (kind: PaintedStroke['kind'], some: readonly PaintedStroke[]) => some.filter((s) => s.kind === kind).length;
  /** Whether there are so many; a loop tells enough of what is round the subject. */
  const enough = (some: readonly PaintedStroke[], least: typeof FIRST) =>
    some.length >= least.strokes && (loops.length > 0 || (ofKind('keep', some) >= least.keep && ofKind('drop', some) >= least.drop));
  /** Cut by what so many strokes, and the loops, have painted. */
  const cutBy = (painted: Uint8Array, count: number, late: boolean, before: Before | null): NewCut | null => {
    const seeds = seedsFrom(painted);
    const all = count + loops.length;
    return seeds.includes(KEEP) ? cutFrame(prepared, seeds, guesses && !late ? Math.max(GUESS, all) : all, settings, before) : null;
  };
  /** What the last of some strokes changes. */
  const changedBy = (was: Known, some: readonly PaintedStroke[], stroke: Uint8Array, painted: Uint8Array): Known => {
    const [earlier, one] = [some.slice(0, -1), some[some.length - 1]];
    const { kind } = one;
    const teachers = [...was.teachers, one];
    const few = loops.length === 0 && !enough(earlier, FIRST);
    const late = enough(earlier, TOGETHER);
    // What drop strokes say the first times is not bounded: nothing else tells of what is round the subject.
    const bounded = loops.length > 0 || (few ? kind === 'keep' : ofKind(kind, earlier) >= BOUNDED[kind as 'keep' | 'drop']);
    const reach = late ? LATE : kind === 'drop' && bounded ? REACH : Number.POSITIVE_INFINITY;
    // Later ones change what is near them, so that all may teach.
    const found = few
      ? cutBy(paint(teachers), teachers.length, late, null)
      : cutBy(painted, some.length, late, { mask: was.mask, stroke, reach, leans: late, teaches: false });
    if (!found) return { ...was, teachers };
    const change = { picture: prepared.fine, was: was.mask, stroke, cut: found };
    if (late) return { mask: reached(change, LATE), teachers };
    const most = loops.length === 0 && ofKind('drop', was.teachers) < BOUNDED.drop ? MORE : MOST;
    const mask = kind === 'drop' ? takenAway(change, bounded ? most : null) : added(change, paintStrokes(some, raster), bounded);
    return { mask: heldByMotion(change, mask, found.motion, prepared.betaFine), teachers };
  };
  const upTo = (count: number): Known | null => memoised(known, [loopText, ...texts.slice(0, count)].join(), () => ({ found: cutBySome(count) })).found;
  const cutBySome = (count: number): Known | null => {
    const some = strokes.slice(0, count);
    const painted = paint([...loops, ...some]);
    // A loop tells of what is round the subject all at once.
    const was = enough(some.slice(0, -1), loops.length > 0 ? FIRST : EITHER) ? upTo(count - 1) : null;
    if (!was) {
      const cut = cutBy(painted, count, false, null);
      return cut && { mask: cut.mask, teachers: some };
    }
    const stroke = paintStrokes([some[count - 1]], raster);
    const now = saysWhatIs(was.mask, stroke) ? was : changedBy(was, some, stroke, painted);
    return { ...now, mask: withPainted(now.mask, painted) };
  };

  const cut = upTo(strokes.length);
  return cut && { mask: cut.mask, zone: paintSoft(own, raster) };
}

/**
 * What was carried to a frame, mended by what is painted there: each stroke changes what it reaches. Where
 * nothing was carried, since the subject was out of sight, the strokes are cut by themselves.
 * @param base the mask as it was carried, at the size of the picture, and where its edge was soft
 */
export function mendPainted(
  prepared: PreparedFrame,
  base: { mask: Uint8Array; zone: Uint8Array | null },
  own: readonly PaintedStroke[],
  plate: Size,
  settings: CutSettings,
  { fence = null, known = new LRUCache({ max: 2 }) }: PaintedOptions = {},
): { mask: Uint8Array; zone: Uint8Array | null } {
  const { width, height } = prepared.fine;
  if (!base.mask.includes(1)) return cutPainted(prepared, own, plate, settings, { fence, known }) ?? { mask: new Uint8Array(width * height), zone: null };
  const raster = rasterOf(prepared.fine, plate);
  const loops = own.filter((s) => s.kind === 'loop');
  const strokes = own.filter((s) => s.kind === 'keep' || s.kind === 'drop');
  const texts = textsOf(strokes);
  const loopText = JSON.stringify(['mended', loops.map((s) => s.points)]);
  // A piece of what was carried needs no stroke of its own.
  const pieces = { ...settings, separatePieces: true };
  const upTo = (count: number): Known => memoised(known, [loopText, ...texts.slice(0, count)].join(), () => ({ found: mendedBySome(count) })).found as Known;
  const mendedBySome = (count: number): Known => {
    const seeds = paintStrokes([...loops, ...strokes.slice(0, count)], raster, fence);
    if (count === 0) return { mask: withPainted(base.mask, seeds), teachers: [] };
    const was = upTo(count - 1).mask;
    const stroke = paintStrokes([strokes[count - 1]], raster);
    const cut = cutFrame(prepared, seeds, KNOWN_WELL, pieces, { mask: was, stroke, reach: REACH, leans: true, teaches: true });
    return { mask: reached({ picture: prepared.fine, was, stroke, cut }, REACH), teachers: strokes.slice(0, count) };
  };
  return { mask: upTo(strokes.length).mask, zone: union(paintSoft(own, raster), base.zone) };
}

/** Strokes that are cut for nothing, so that the first real ones show as soon as the others: what runs for the first time is slow. */
const REHEARSED = 12;
/** How often all of them are: less leaves the first real ones half as slow again. */
const TIMES = 2;
/** Floats for each pixel of a frame that cutting it may take. */
const ROOM_A_PIXEL = 16;

/** Cuts the frame by strokes of no meaning, all the ways that strokes are cut, one cut a step. */
export function* rehearse(prepared: PreparedFrame): Generator<void> {
  const { width, height } = prepared.fine;
  const strokes: PaintedStroke[] = Array.from({ length: REHEARSED }, (_, k) => {
    const turn = (2 * Math.PI * k) / REHEARSED;
    const away = k < 2 ? 0.1 : 0.4;
    return {
      kind: k < 2 || k === FIRST.strokes + 1 ? 'keep' : 'drop',
      points: [width * (0.5 + away * Math.cos(turn)), height * (0.5 + away * Math.sin(turn))],
      radius: 8,
    };
  });
  // What a large subject takes, so that the memory need not grow under the first strokes.
  borrowKernels(ROOM_A_PIXEL * width * height);
  for (let time = 0; time < TIMES; time++)
    for (let count = 2; count <= REHEARSED; count += 2) {
      cutPainted(prepared, strokes.slice(0, count), { width, height }, CUT_SETTINGS);
      yield;
    }
}
