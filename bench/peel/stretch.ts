/** A stretch of footage carried from its first frame, as the battery, the measuring of doubt and its test do it. */
import { cutPainted } from '../../core/peel/cut/cut-painted.ts';
import { finishedAlpha } from '../../core/peel/matting/soft-edge.ts';
import { CUT_SETTINGS } from '../../core/peel/settings.ts';
import { type PeelSource, peelShot } from '../../core/peel/shot/peel-shot.ts';
import type { FrameStroke, PaintedStroke } from '../../core/peel/strokes/strokes.ts';
import { firstStrokes, nextStroke } from './artist.ts';
import { type Footage, HEIGHT, paintedFrame, WIDTH } from './footage.ts';
import { boundaryF, exactMask, finishedMask, rankCorrelation } from './measures.ts';

const CORRECTIONS = 4;

export const sourceOf = ({ frames }: Pick<Footage, 'frames'>): PeelSource => ({
  plate: { width: WIDTH, height: HEIGHT, frames: frames.length },
  frame: async (f) => frames[f],
});

/**
 * Draws, as often as said, a stroke where the mask is worst, onto those there are, and gives it and the mask before it and with it.
 * @param first the mask by the strokes there are, and `cut` that by any
 */
export function* corrections(
  most: number,
  strokes: PaintedStroke[],
  first: Uint8Array,
  truth: Uint8Array,
  cut: (strokes: readonly PaintedStroke[]) => Uint8Array,
) {
  let mask = first;
  for (let k = 0; k < most; k++) {
    const next = nextStroke(mask, truth, WIDTH, HEIGHT);
    if (!next) return;
    strokes.push(next);
    const was = mask;
    mask = cut(strokes);
    yield { next, was, mask };
  }
}

/** The made-up artist's strokes on a frame: the first ones, and four where it is worst. */
export async function strokesOn(footage: Footage, frame: number): Promise<FrameStroke[]> {
  const { truth } = footage;
  const prepared = await paintedFrame(footage, frame);
  const strokes: PaintedStroke[] = firstStrokes(truth[frame], WIDTH, HEIGHT);
  const cut = (some: readonly PaintedStroke[]) =>
    cutPainted(prepared, some, { width: WIDTH, height: HEIGHT }, CUT_SETTINGS)?.mask ?? new Uint8Array(WIDTH * HEIGHT);
  for (const _ of corrections(CORRECTIONS, strokes, cut(strokes), truth[frame], cut));
  return strokes.map((s) => ({ ...s, frame }));
}

/** What is told of the carried frames of a stretch, in their order, beside what is so. */
export interface Told {
  /** 0 to 100. */
  doubts: number[];
  /** Boundary F of the finished matte at 3 pixels. */
  fs: number[];
}

/** The stretch carried from the strokes on its first frame, or from the exact mask of that. */
export async function toldOf(footage: Footage, from: 'strokes' | 'exact mask'): Promise<Told> {
  const strokes = from === 'strokes' ? await strokesOn(footage, 0) : [];
  const held = { frames: from === 'strokes' ? [] : [0], mask: async () => exactMask(footage.truth[0]) };
  const told: Told = { doubts: [], fs: [] };
  for await (const { frame, anchor, mask, picture, doubt } of peelShot(sourceOf(footage), strokes, 0, footage.frames.length - 1, { held })) {
    if (frame === anchor) continue;
    const matte = finishedMask(finishedAlpha(mask, picture, null));
    told.doubts.push(doubt);
    told.fs.push(boundaryF(matte, footage.truth[frame], WIDTH, HEIGHT, 3));
  }
  return told;
}

/** What is told of several stretches. */
export const together = (all: readonly Told[]): Told => ({ doubts: all.flatMap((t) => t.doubts), fs: all.flatMap((t) => t.fs) });

/** The rank correlation with error, 1 − F, of doubt, and of the distance from the painted frame. */
export function ranksOf({ doubts, fs }: Told): { doubt: number; distance: number } {
  const errors = fs.map((f) => 1 - f);
  return { doubt: rankCorrelation(doubts, errors), distance: rankCorrelation([...errors.keys()], errors) };
}

/** How many of the frames with an F in a range have a doubt over 50, and how many there are. */
export function over50({ doubts, fs }: Told, least: number, most: number): { over: number; of: number } {
  const some = doubts.filter((_, k) => fs[k] >= least && fs[k] < most);
  return { over: some.filter((d) => d > 50).length, of: some.length };
}
