/**
 * A whole shot from strokes on some of its frames: those with keep strokes are cut, all others carried from the nearest of
 * them; drop strokes alone mend what is carried to their frame, and what is carried on from there.
 */
import { type AnchorModel, anchorModel, brightness, carryFrame, motionBetween, movedZone } from './carry.ts';
import { type FrameBytes, type PreparedFrame, prepareFrame } from './cut-frame.ts';
import { cutPainted } from './cut-painted.ts';
import { type Doubt, doubtOf, SURE } from './doubt.ts';
import type { LabPicture } from './lab.ts';
import { carryRuns } from './plan.ts';
import { agreementWith, carrySecond, startSecond } from './second-opinion.ts';
import { type CutSettings, PEEL_SETTINGS, type PeelSettings } from './settings.ts';
import { type PaintedStroke, paintSoft, paintStrokes } from './strokes.ts';

export interface FrameStroke extends PaintedStroke {
  frame: number;
}

export interface PeelSource {
  /** Size of the plate, in whose pixels strokes are. */
  plate: { width: number; height: number };
  /** The picture of a frame, all of one size, which may be a proxy's. */
  frame(frame: number): Promise<FrameBytes>;
}

/** What was found on one frame. */
export interface PeeledFrame extends Doubt {
  frame: number;
  /** 1 for the subject, at the size of the pictures. */
  mask: Uint8Array;
  /** 1 where the artist called the edge soft, gone along with the subject; null where nowhere. */
  zone: Uint8Array | null;
  picture: LabPicture;
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

/** A painted frame, cut, with what it teaches. */
interface Anchor {
  frame: number;
  picture: FrameBytes;
  prepared: PreparedFrame;
  mask: Uint8Array;
  zone: Uint8Array | null;
  /** Made when something is carried from it. */
  model?: AnchorModel;
}

type Painted = readonly FrameStroke[];

/** What is kept and dropped on a frame of this size; null where nothing is. */
function seedsOf({ plate }: PeelSource, own: Painted, { width, height }: { width: number; height: number }): Uint8Array | null {
  return own.some((s) => s.kind !== 'soft') ? paintStrokes(own, width, height, width / plate.width, height / plate.height) : null;
}

/** Where the edge was called soft on a frame, beside where it was before. */
function zoneOf({ plate }: PeelSource, own: Painted, { width, height }: { width: number; height: number }, before: Uint8Array | null): Uint8Array | null {
  const zone = paintSoft(own, width, height, width / plate.width, height / plate.height);
  if (!zone || !before) return zone ?? before;
  for (let i = 0; i < zone.length; i++) zone[i] |= before[i];
  return zone;
}

async function cutAnchor(source: PeelSource, strokes: Painted, frame: number, settings: CutSettings): Promise<Anchor> {
  const own = strokes.filter((s) => s.frame === frame);
  const picture = await source.frame(frame);
  const prepared = prepareFrame(picture);
  const cut = cutPainted(prepared, own, source.plate, settings);
  if (!cut) throw new StrokesError(`The keep strokes of frame ${frame} lie outside the picture or under drop strokes. Paint on the subject.`);
  return { frame, picture, prepared, ...cut };
}

/**
 * Finds the frames from `first` to `last`, in the order of the work: from each anchor forwards, then backwards. Only the anchor
 * and two frames are held at a time, however long the shot.
 * @param known frames that are there already: they are not given, and found again only on the way to others
 * @throws StrokesError where nothing is kept on any painted frame
 */
export async function* peelShot(
  source: PeelSource,
  strokes: readonly FrameStroke[],
  first: number,
  last: number,
  settings: PeelSettings = PEEL_SETTINGS,
  known: (frame: number) => boolean = () => false,
): AsyncGenerator<PeeledFrame> {
  if (!strokes.some((s) => s.kind === 'keep')) throw new StrokesError('Nothing is kept: paint at least one keep stroke on the subject.');
  let anchor: Anchor | undefined;
  const anchors = strokes.filter((s) => s.kind === 'keep').map((s) => s.frame);
  const wanted = (frame: number) => frame >= first && frame <= last && !known(frame);
  for (const run of carryRuns(anchors, first, last)) {
    let end = run.last;
    while (end !== run.anchor && !wanted(end)) end -= run.step;
    if (end === run.anchor && !(run.step === 1 && wanted(end))) continue;
    if (anchor?.frame !== run.anchor) anchor = await cutAnchor(source, strokes, run.anchor, settings.cut);
    let { prepared: before, mask, zone } = anchor;
    if (run.step === 1 && wanted(run.anchor)) yield { frame: run.anchor, mask, zone, picture: before.fine, anchor: run.anchor, ...SURE };
    if (run.anchor === end) continue;
    anchor.model ??= anchorModel(before, mask);
    const { model } = anchor;
    let { places } = model.windows;
    let light = brightness(before);
    let second = startSecond(anchor.picture, before, mask);
    for (let frame = run.anchor + run.step; frame !== end + run.step; frame += run.step) {
      const picture = await source.frame(frame);
      const next = prepareFrame(picture);
      const own = strokes.filter((s) => s.frame === frame);
      const seeds = seedsOf(source, own, picture);
      const nextLight = brightness(next);
      const moved = { ...model, windows: { models: model.windows.models, places } };
      const motion = motionBetween(light, nextLight);
      const carried = carryFrame(before, mask, next, motion, moved, seeds, settings.carry);
      ({ mask, places } = carried);
      zone = zoneOf(source, own, picture, zone && movedZone(zone, carried, picture.width, picture.height));
      second = carrySecond(second, picture, next, motion, model.table, (size) => seedsOf(source, own, size), settings.carry);
      if (wanted(frame))
        yield {
          frame,
          mask,
          zone,
          picture: next.fine,
          anchor: run.anchor,
          ...doubtOf(carried.signals, agreementWith(second, mask, next), Math.abs(frame - run.anchor)),
        };
      before = next;
      light = nextLight;
    }
  }
}
