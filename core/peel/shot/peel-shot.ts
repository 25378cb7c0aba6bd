/**
 * A whole shot from strokes on some of its frames: those that begin with strokes of their own are cut, those whose strokes mend are
 * mended from what the frames painted before come to there, and the others are carried from both kinds, between two of them from
 * both sides. Drop strokes that do neither hold on their frame, and are carried on from there.
 */

import { LRUCache } from 'lru-cache';
import type { Size } from '../../image/picture.ts';
import type { Homography } from '../../math/homography.ts';
import { memoisedPromise } from '../../math/memo.ts';
import { type FrameRange, isWithin } from '../../time/ranges.ts';
import { cutPainted, mendPainted } from '../cut/cut-painted.ts';
import type { FrameBytes, LabPicture } from '../picture/lab.ts';
import { union } from '../picture/masks.ts';
import { type PropagationState, type StateStore, StatesInMemory } from '../results/propagation-state.ts';
import { runLengthDecode, runLengthEncode } from '../results/run-length.ts';
import { PEEL_SETTINGS, type PeelSettings } from '../settings.ts';
import { allAnchors, anchorsIn, decidingBefore } from '../strokes/anchors.ts';
import { type Gap, gapsOf } from '../strokes/plan.ts';
import { DROP, type FrameStroke, paintSoft, paintStrokes, rasterOf } from '../strokes/strokes.ts';
import { SURE, type Uncertainty } from '../uncertainty/uncertainty.ts';
import { joined, shareOfLater } from './between.ts';
import { type FrameView, FrameViews } from './frame-views.ts';
import { filledFrom, paintedWhole, type Whole } from './mosaic.ts';
import { type Anchor, type PropagationContext, PropagationPass } from './propagation-pass.ts';

export interface PeelSource {
  /** Size of the plate, in whose pixels strokes are, and its length. */
  plate: { width: number; height: number; frames: number };
  /** The picture of a frame, all of one size, which may be a proxy's. */
  frame(frame: number): Promise<FrameBytes>;
}

/** What was found on one frame. */
export interface PeeledFrame extends Uncertainty {
  frame: number;
  /** 1 for the subject, at the size of the pictures. */
  mask: Uint8Array;
  /** 1 where the artist called the edge soft, gone along with the subject; null where nowhere. */
  zone: Uint8Array | null;
  picture: LabPicture;
  /** The painted frame it was carried from, the nearer one where from two; itself where it was painted. */
  anchor: number;
  /** See {@link Base}. */
  lying: Lying | null;
}

/** How a painted frame lies on one that was carried from it. */
export interface Lying {
  /** The painted frame. */
  anchor: number;
  /** From the other back to it. */
  back: Homography;
}

/** What the strokes of a frame mend. */
export interface Base {
  mask: Uint8Array;
  zone: Uint8Array | null;
  /** The nearest painted frame it was carried from; null where that is not known. */
  lying: Lying | null;
}

/** How the nearest of the anchors lies on a frame, from which something is in sight there. */
export function lyingOn(frame: number, sides: readonly { anchor: number; state: PropagationState | null }[]): Lying | null {
  const near = [...sides].sort((a, b) => Math.abs(a.anchor - frame) - Math.abs(b.anchor - frame));
  for (const { anchor, state } of near) if (state && !state.lost && !state.dropped) return { anchor, back: state.back };
  return null;
}

/** Strokes that cannot give a subject, in words for the artist. */
export class StrokesError extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'StrokesError';
  }
}

export interface PeelOptions {
  settings?: PeelSettings;
  /** Frames on which the artist says that the subject is out of sight. */
  hidden?: readonly FrameRange[];
  /** Where the subject may be on a frame (1), at a size; null where anywhere. */
  fence?(frame: number, size: { width: number; height: number }): Promise<Uint8Array | null>;
  /** Frames whose result is given, and their masks; nothing is painted on them. */
  held?: { frames: readonly number[]; mask(frame: number, size: { width: number; height: number }): Promise<Uint8Array> };
  /** What was carried to a frame before its own strokes mend it, found by these alone; they are carried here where nothing is said. */
  base?(frame: number, size: Size): Promise<Base>;
  /** Frames that are there already: they are not given, and found again only on the way to others. */
  known?(frame: number): boolean;
  /** What is kept of frames on the way, so that work goes on where it ended; in memory where nothing is said. */
  states?: StateStore;
}

/** The frames of a gap in the order of the work: those that one anchor decides first, each side outwards, then those that both do. */
function orderOf({ from, to, first, last }: Gap): number[] {
  const frames = Array.from({ length: last - first + 1 }, (_, i) => first + i);
  if (from === undefined) return frames.reverse();
  if (to === undefined) return frames;
  const share = (frame: number) => shareOfLater(from, to, frame);
  return [...frames.filter((f) => share(f) === 0), ...frames.filter((f) => share(f) === 1).reverse(), ...frames.filter((f) => share(f) > 0 && share(f) < 1)];
}

/**
 * Finds the frames from `first` to `last`, in the order of the work. Two anchors and a few frames are held at a time, however long
 * the shot, and of the others no more than `states` holds.
 * @throws StrokesError where nothing is kept on any painted frame
 */
export async function* peelShot(
  source: PeelSource,
  strokes: readonly FrameStroke[],
  first: number,
  last: number,
  options: PeelOptions = {},
): AsyncGenerator<PeeledFrame> {
  yield* framesOf(source, strokes, first, last, options, new Map());
}

/** @param bases what strokes mend, packed, by frame: the same whatever was painted after them */
async function* framesOf(
  source: PeelSource,
  strokes: readonly FrameStroke[],
  first: number,
  last: number,
  options: PeelOptions,
  bases: Map<number, Base>,
): AsyncGenerator<PeeledFrame> {
  const { settings = PEEL_SETTINGS, hidden = [], held, fence = async () => null, known = () => false, states = new StatesInMemory() } = options;
  const given = held?.frames ?? [];
  const plan = anchorsIn(strokes, given);
  const anchors = allAnchors(plan, given);
  if (anchors.length === 0) throw new StrokesError('Nothing is kept: paint at least one keep stroke on the subject.');
  const { plate } = source;
  const on = new Map<number, FrameStroke[]>();
  for (const s of strokes) on.set(s.frame, [...(on.get(s.frame) ?? []), s]);
  const own = (frame: number) => on.get(frame) ?? [];
  const isHidden = (frame: number) => isWithin(hidden, frame);
  const paint = (strokes: readonly FrameStroke[], { width, height }: Size, inside: Uint8Array | null) =>
    paintStrokes(strokes, rasterOf({ width, height }, plate), inside);
  const views = new FrameViews((frame) => source.frame(frame));
  const work: PropagationContext = {
    views,
    states,
    carry: settings.carry,
    async seeds(frame, size, painted) {
      const inside = await fence(frame, size);
      const strokes = painted ? own(frame) : [];
      if (!inside && !strokes.some((s) => s.kind !== 'soft')) return null;
      return paint(strokes, size, inside);
    },
    zone: (frame, { width, height }, before) => union(paintSoft(own(frame), rasterOf({ width, height }, plate)), before),
    hidden: isHidden,
    painted: (frame) => on.has(frame),
  };
  async function cut(frame: number): Promise<Anchor> {
    const view = await views.get(frame);
    if (held?.frames.includes(frame)) return { view, mask: await held.mask(frame, view), zone: null };
    const inside = await fence(frame, view);
    const prepared = await views.painted(frame, plate.frames);
    if (plan.mends.includes(frame)) {
      const base = await (options.base ?? carriedTo)(frame, view);
      const mended = mendPainted(prepared, base, own(frame), plate, settings.cut, { fence: inside });
      return { view, ...mended, whole: base.lying ? await filled(view, mended.mask, base.mask, base.lying) : undefined };
    }
    const found = cutPainted(prepared, own(frame), plate, settings.cut, { fence: inside });
    if (!found && own(frame).some((s) => s.kind === 'keep'))
      throw new StrokesError(`The keep strokes of frame ${frame} lie outside the picture or the fence, or under drop strokes. Paint on the subject.`);
    if (!found) throw new StrokesError(`Nothing stands out in the loop of frame ${frame}. Draw it closer, or paint on the subject.`);
    return { view, ...found };
  }
  /** A frame that is mended, with what the painted one it was carried from knows of what is hidden on it. */
  async function filled(view: FrameView, mask: Uint8Array, carried: Uint8Array, { anchor, back }: Lying): Promise<Whole> {
    const earlier = await anchorAt(anchor);
    earlier.whole ??= paintedWhole(earlier.view, earlier.mask);
    const dropped = paint(own(view.frame), view, null);
    for (let i = 0; i < dropped.length; i++) dropped[i] = dropped[i] === DROP || (carried[i] && !mask[i]) ? 1 : 0;
    return filledFrom(paintedWhole(view, mask), view.prepared, { ...earlier.whole, back }, dropped);
  }
  async function carriedTo(frame: number, { width, height }: Size): Promise<Base> {
    const packed = bases.get(frame);
    const opened = (mask: Uint8Array) => runLengthDecode(mask, width * height);
    if (packed) return { ...packed, mask: opened(packed.mask), zone: packed.zone && opened(packed.zone) };
    const before = decidingBefore(strokes, given, plan, frame);
    // States are shared: between a frame and the anchors beside it nothing was painted later that would change them.
    const alone = { ...options, held: before.given.length > 0 ? held : undefined, known: undefined, states };
    for await (const { mask, zone, lying } of framesOf(source, before.strokes, frame, frame, alone, bases)) {
      bases.set(frame, { mask: runLengthEncode(mask), zone: zone && runLengthEncode(zone), lying });
      return { mask, zone, lying };
    }
    throw new StrokesError(`Nothing was carried to frame ${frame}.`);
  }
  // The two anchors of the gap that is worked on, cut when they are asked for, and one that tells what is hidden on them.
  const cuts = new LRUCache<number, Promise<Anchor>>({ max: 3 });
  const anchorAt = (frame: number) => memoisedPromise(cuts, frame, () => cut(frame));
  const found = (
    { frame, prepared }: FrameView,
    anchor: number,
    { mask, zone, doubt }: { mask: Uint8Array; zone: Uint8Array | null; doubt: Uncertainty },
    lying: Lying | null,
  ) => ({ frame, mask, zone, picture: prepared.fine, anchor, lying, ...doubt });

  async function* gapFrames(gap: Gap): AsyncGenerator<PeeledFrame> {
    const { from, to } = gap;
    const after = from === undefined ? null : new PropagationPass(work, from, 1, plate.frames - 1, () => anchorAt(from));
    const before = to === undefined ? null : new PropagationPass(work, to, -1, 0, () => anchorAt(to));
    const order = orderOf(gap).filter((frame) => !known(frame));
    for (const [k, frame] of order.entries()) {
      if (k + 1 < order.length) views.ahead(order[k + 1]);
      if (!after || !before) {
        const state = await (after ?? (before as PropagationPass)).at(frame);
        const anchor = (from ?? to) as number;
        yield found(await views.get(frame), anchor, state, lyingOn(frame, [{ anchor, state }]));
        continue;
      }
      const share = shareOfLater(from as number, to as number, frame);
      let [a, b] = [share < 1 ? await after.at(frame) : null, share > 0 ? await before.at(frame) : null];
      // Where one side has lost the subject the other is asked, however near the first is. What the artist calls hidden stays so.
      if (!isHidden(frame) && a?.lost) b ??= await before.at(frame);
      if (!isHidden(frame) && b?.lost) a ??= await after.at(frame);
      const view = await views.get(frame);
      const anchor = (share < 0.5 ? from : to) as number;
      const lying = lyingOn(frame, [
        { anchor: from as number, state: a },
        { anchor: to as number, state: b },
      ]);
      yield found(view, anchor, a && b ? joined(a, b, share, view) : ((a ?? b) as PropagationState), lying);
    }
  }

  const gaps = gapsOf(anchors, first, last);
  for (const frame of anchors) {
    if (frame >= first && frame <= last && !known(frame)) {
      const { view, mask, zone } = await anchorAt(frame);
      yield found(view, frame, { mask, zone, doubt: SURE }, null);
    }
    for (const gap of gaps) if (gap.to === frame) yield* gapFrames(gap);
  }
  for (const gap of gaps) if (gap.to === undefined) yield* gapFrames(gap);
}
