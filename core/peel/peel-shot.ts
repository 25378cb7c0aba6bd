/** A whole shot from strokes on some of its frames: those are cut, all others carried from the nearest of them. */
import { anchorModel, brightness, CARRY_SETTINGS, type CarrySettings, carryFrame, motionBetween } from './carry.ts';
import { CUT_SETTINGS, type CutSettings, cutFrame, type FrameBytes, type PreparedFrame, prepareFrame } from './cut-frame.ts';
import { changeSoFar, type Doubt, doubtOf } from './doubt.ts';
import { carryRuns } from './plan.ts';
import { KEEP, type PaintedStroke, paintStrokes } from './strokes.ts';

export interface FrameStroke extends PaintedStroke {
  frame: number;
}

export interface PeelSource {
  /** Size of the plate, in whose pixels strokes are. */
  plate: { width: number; height: number };
  /** The picture of a frame, all of one size, which may be a proxy's. */
  frame(frame: number): Promise<FrameBytes>;
}

export interface PeelSettings {
  cut: CutSettings;
  carry: CarrySettings;
}

export const PEEL_SETTINGS: PeelSettings = { cut: CUT_SETTINGS, carry: CARRY_SETTINGS };

/** What was found on one frame. */
export interface PeeledFrame extends Doubt {
  frame: number;
  /** 1 for the subject, at the size of the pictures. */
  mask: Uint8Array;
  width: number;
  height: number;
  /** The painted frame it was carried from; itself where it was painted. */
  anchor: number;
}

/** Strokes that cannot give a subject, in words for the artist. */
export class StrokesError extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'StrokesError';
  }
}

/**
 * Finds the frames from `first` to `last`, in the order of the work: from each anchor forwards, then backwards. Only two frames
 * are held at a time, however long the shot.
 * @throws StrokesError where nothing is kept on any painted frame
 */
export async function* peelShot(
  source: PeelSource,
  strokes: readonly FrameStroke[],
  first: number,
  last: number,
  settings: PeelSettings = PEEL_SETTINGS,
): AsyncGenerator<PeeledFrame> {
  const anchors = [...new Set(strokes.map((s) => s.frame))].sort((a, b) => a - b);
  if (!strokes.some((s) => s.kind === 'keep')) throw new StrokesError('Nothing is kept: paint at least one keep stroke on the subject.');
  for (const run of carryRuns(anchors, first, last)) {
    const own = strokes.filter((s) => s.frame === run.anchor);
    let picture = await source.frame(run.anchor);
    let before: PreparedFrame = prepareFrame(picture);
    const { width, height } = picture;
    const seeds = paintStrokes(own, width, height, width / source.plate.width, height / source.plate.height);
    if (own.some((s) => s.kind === 'keep') && !seeds.includes(KEEP))
      throw new StrokesError(`The keep strokes of frame ${run.anchor} lie outside the picture or under drop strokes. Paint on the subject.`);
    let mask = cutFrame(before, seeds, own.length, settings.cut);
    const inRange = run.anchor >= first && run.anchor <= last;
    if (inRange && run.step === 1) yield { frame: run.anchor, mask, width, height, anchor: run.anchor, doubt: 0, reasons: [] };
    if (run.anchor === run.last) continue;
    const model = anchorModel(before, mask);
    let { places } = model.windows;
    let light = brightness(before);
    let soFar = 0;
    for (let frame = run.anchor + run.step; frame !== run.last + run.step; frame += run.step) {
      picture = await source.frame(frame);
      const next = prepareFrame(picture);
      const nextLight = brightness(next);
      const moved = { ...model, windows: { models: model.windows.models, places } };
      const carried = carryFrame(before, mask, next, motionBetween(light, nextLight), moved, null, settings.carry);
      ({ mask, places } = carried);
      soFar = changeSoFar(soFar, carried.signals);
      if (frame >= first && frame <= last)
        yield { frame, mask, width, height, anchor: run.anchor, ...doubtOf(carried.signals, soFar, Math.abs(frame - run.anchor)) };
      before = next;
      light = nextLight;
    }
  }
}
