/**
 * A painted frame cut from its own strokes: what carrying starts from, and what the page shows after every stroke. The first
 * strokes are cut together; then a keep stroke takes nothing away, and a drop stroke takes away what it reaches; and later each one
 * changes what it reaches, so that mending one place does not undo another.
 */
import type { Size } from '../image/picture.ts';
import { Newest } from '../math/newest.ts';
import { borrowKernels } from '../wasm/host.ts';
import { tellsNothing } from './colour-tables.ts';
import { type Cut, cutFrame, standsOut } from './cut-frame.ts';
import { union } from './masks.ts';
import type { PreparedFrame } from './prepared-frame.ts';
import { CUT_SETTINGS, type CutSettings } from './settings.ts';
import { added, LATE, REACH, reached, takenAway } from './stroke-changes.ts';
import { KEEP, NOT_PAINTED, type PaintedStroke, paintSoft, paintStrokes } from './strokes.ts';

/** What a loop tells is as much as so many strokes. */
const GUESS = 6;
/** So many strokes at least, and so many of each kind, are cut together freely: the subject and what is round it must be known first. */
const FREELY = { strokes: 6, keep: 1, drop: 1 };
/** And so many until a stroke changes only what is near it. */
const TOGETHER = { strokes: 10, keep: 2, drop: 4 };

/** With so many of its kind before it a stroke is bounded. */
const BOUNDED = { keep: 2, drop: 3 };

/** A mask with its colours is as much as so many strokes. */
const KNOWN_WELL = 10;

/** The strokes it takes until there are so many; a loop tells enough of what is round the subject. */
function countUntil(strokes: readonly PaintedStroke[], loops: boolean, least: typeof FREELY): number {
  let [keep, drop] = [0, loops ? least.drop : 0];
  for (let k = 0; k < strokes.length; k++) {
    if (k >= least.strokes && (loops || keep >= least.keep) && drop >= least.drop) return k;
    if (strokes[k].kind === 'keep') keep++;
    else drop++;
  }
  return strokes.length;
}

/** What a frame was cut to by the strokes it came from, so that one more stroke is one more cut. */
export type KnownCuts = Newest<Cut | null>;

const textsOf = (strokes: readonly PaintedStroke[]): string[] => strokes.map((s) => JSON.stringify([s.kind, s.points, s.radius, s.pressures]));

/**
 * The subject's mask on a frame and where its edge was called soft (null where nowhere); null where nothing of the picture is kept.
 * @param own the strokes of this frame in their order, in pixels of a plate of this size
 * @param fence 0 where nothing belongs to the subject, at the size of the picture
 * @param known masks that came from the first of these strokes, of the same frame, settings and fence
 */
export function cutPainted(
  prepared: PreparedFrame,
  own: readonly PaintedStroke[],
  plate: Size,
  settings: CutSettings,
  fence: Uint8Array | null = null,
  known: KnownCuts = new Newest(2),
): { mask: Uint8Array; zone: Uint8Array | null } | null {
  const { width, height } = prepared.fine;
  const [scaleX, scaleY] = [width / plate.width, height / plate.height];
  const paint = (strokes: readonly PaintedStroke[]) => paintStrokes(strokes, width, height, scaleX, scaleY, fence);
  const loops = own.filter((s) => s.kind === 'loop');
  const strokes = own.filter((s) => s.kind === 'keep' || s.kind === 'drop');
  const freely = countUntil(strokes, loops.length > 0, FREELY);
  const together = countUntil(strokes, loops.length > 0, TOGETHER);
  // In a loop that was drawn before anything was kept it is told from the colours what stands out; another only bounds.
  const guesses = own.find((s) => s.kind === 'loop' || s.kind === 'keep')?.kind === 'loop';
  const seedsFrom = (painted: Uint8Array) => (guesses ? standsOut(prepared, painted) : painted);

  const texts = textsOf(strokes);
  const loopText = JSON.stringify([guesses, loops.map((s) => s.points)]);
  const upTo = (count: number): Cut | null =>
    known.get([loopText, ...texts.slice(0, count)].join(), () => {
      const seeds = seedsFrom(paint([...loops, ...strokes.slice(0, count)]));
      if (!seeds.includes(KEEP)) return null;
      const was = count > freely ? upTo(count - 1) : null;
      const late = count > together;
      const counted = guesses && !late ? Math.max(GUESS, count + loops.length) : count + loops.length;
      if (!was) return cutFrame(prepared, seeds, counted, settings);
      const { kind } = strokes[count - 1];
      // What is said of the first times is not bounded: nothing else tells of it.
      const bounded = loops.length > 0 || strokes.slice(0, count - 1).filter((s) => s.kind === kind).length >= BOUNDED[kind as 'keep' | 'drop'];
      const reach = late ? LATE : kind === 'drop' && bounded ? REACH : Number.POSITIVE_INFINITY;
      const stroke = paintStrokes([strokes[count - 1]], width, height, scaleX, scaleY);
      const cut = cutFrame(prepared, seeds, counted, settings, { mask: was.mask, stroke, reach, leans: late, teaches: false });
      const change = { picture: prepared.fine, was, stroke, cut };
      const told = () => paintStrokes(strokes.slice(0, count), width, height, scaleX, scaleY);
      const mask = late ? reached(change, LATE) : kind === 'drop' ? takenAway(change, bounded) : added(change, told(), bounded);
      return { mask, table: cut.table };
    });

  const cut = upTo(strokes.length);
  return cut && { mask: cut.mask, zone: paintSoft(own, width, height, scaleX, scaleY) };
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
  fence: Uint8Array | null = null,
  known: KnownCuts = new Newest(2),
): { mask: Uint8Array; zone: Uint8Array | null } {
  const { width, height } = prepared.fine;
  if (!base.mask.includes(1)) return cutPainted(prepared, own, plate, settings, fence, known) ?? { mask: new Uint8Array(width * height), zone: null };
  const [scaleX, scaleY] = [width / plate.width, height / plate.height];
  const loops = own.filter((s) => s.kind === 'loop');
  const strokes = own.filter((s) => s.kind === 'keep' || s.kind === 'drop');
  const texts = textsOf(strokes);
  const loopText = JSON.stringify(['mended', loops.map((s) => s.points)]);
  // A piece of what was carried needs no stroke of its own.
  const pieces = { ...settings, separatePieces: true };
  const upTo = (count: number): Cut =>
    known.get([loopText, ...texts.slice(0, count)].join(), () => {
      const seeds = paintStrokes([...loops, ...strokes.slice(0, count)], width, height, scaleX, scaleY, fence);
      if (count === 0) return { mask: base.mask.map((v, i) => (seeds[i] === NOT_PAINTED ? v : 0)), table: tellsNothing() };
      const was = upTo(count - 1);
      const stroke = paintStrokes([strokes[count - 1]], width, height, scaleX, scaleY);
      const cut = cutFrame(prepared, seeds, KNOWN_WELL, pieces, { mask: was.mask, stroke, reach: REACH, leans: true, teaches: true });
      return { mask: reached({ picture: prepared.fine, was, stroke, cut }, REACH), table: cut.table };
    }) as Cut;
  return { mask: upTo(strokes.length).mask, zone: union(paintSoft(own, width, height, scaleX, scaleY), base.zone) };
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
      kind: k < 2 || k === FREELY.strokes + 1 ? 'keep' : 'drop',
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
