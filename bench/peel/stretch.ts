/** A stretch of footage carried from its first frame, as the battery, the measuring of doubt and its test do it. */
import { cutPainted } from '../../core/peel/cut-painted.ts';
import { type FrameStroke, type PeelSource, peelShot } from '../../core/peel/peel-shot.ts';
import { CUT_SETTINGS } from '../../core/peel/settings.ts';
import { finishedAlpha } from '../../core/peel/soft-edge.ts';
import type { PaintedStroke } from '../../core/peel/strokes.ts';
import { firstStrokes, nextStroke } from './artist.ts';
import { type Footage, HEIGHT, paintedFrame, WIDTH } from './footage.ts';
import { boundaryF, rankCorrelation } from './measures.ts';

const CORRECTIONS = 4;

export const sourceOf = ({ frames }: Pick<Footage, 'frames'>): PeelSource => ({
  plate: { width: WIDTH, height: HEIGHT, frames: frames.length },
  frame: async (f) => frames[f],
});

/** The made-up artist's strokes on a frame: the first ones, and four where it is worst. */
export async function strokesOn(footage: Footage, frame: number): Promise<FrameStroke[]> {
  const { truth } = footage;
  const prepared = await paintedFrame(footage, frame);
  const strokes: PaintedStroke[] = firstStrokes(truth[frame], WIDTH, HEIGHT);
  for (let k = 0; k < CORRECTIONS; k++) {
    const cut = cutPainted(prepared, strokes, { width: WIDTH, height: HEIGHT }, CUT_SETTINGS);
    const next = nextStroke(cut?.mask ?? new Uint8Array(WIDTH * HEIGHT), truth[frame], WIDTH, HEIGHT);
    if (!next) break;
    strokes.push(next);
  }
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
  const held = { frames: from === 'strokes' ? [] : [0], mask: async () => Uint8Array.from(footage.truth[0], (v) => (v > 127 ? 1 : 0)) };
  const told: Told = { doubts: [], fs: [] };
  for await (const { frame, anchor, mask, picture, doubt } of peelShot(sourceOf(footage), strokes, 0, footage.frames.length - 1, { held })) {
    if (frame === anchor) continue;
    const matte = Uint8Array.from(finishedAlpha(mask, picture, null), (v) => (v > 0.5 ? 1 : 0));
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
