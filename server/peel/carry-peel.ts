/** Carrying a Peel through frames of a plate and keeping what is found. Used alike by the carry job and by outputs. */
import sharp from 'sharp';
import { z } from 'zod';
import type { FencePart } from '../../core/document/fence.ts';
import { type Gray, lumaOf, resized, type Size } from '../../core/image/picture.ts';
import { renderFence } from '../../core/matte/render-matte.ts';
import { NO_IMPORTS } from '../../core/matte/sources.ts';
import { refined } from '../../core/peel/matting/refine.ts';
import { finishedAlpha } from '../../core/peel/matting/soft-edge.ts';
import type { FrameBytes } from '../../core/peel/picture/lab.ts';
import { union } from '../../core/peel/picture/masks.ts';
import { anchorsOf, inputsBefore, type PeelInputs, paintedOf, peelKeys, peelSettings, startingFrozen } from '../../core/peel/results/inputs.ts';
import type { PropagationState } from '../../core/peel/results/propagation-state.ts';
import { type Quality, seenAt } from '../../core/peel/settings.ts';
import { type Base, lyingOn, peelShot, StrokesError } from '../../core/peel/shot/peel-shot.ts';
import { neighbours } from '../../core/peel/strokes/plan.ts';
import { readStoredFrame } from '../footage/frame-store.ts';
import { Problem, Stopped } from '../problem.ts';
import { WriteBehind } from '../write-behind.ts';
import { PeelResults } from './results.ts';

/** Where the frames of a plate are, and where what is found on them is kept. */
export const peelPlaceSchema = z.strictObject({
  storeDir: z.string(),
  resultsDir: z.string(),
  /** Where the frames of imported mattes are that can be fences, by the id of their footage. */
  fenceDirs: z.record(z.string(), z.string()),
});
export type PeelPlace = z.infer<typeof peelPlaceSchema>;

export interface CarryTask extends PeelPlace {
  plate: { width: number; height: number; frames: number; firstNumber: number };
  inputs: PeelInputs;
  /** What fences it in. */
  fence: FencePart | null;
  /** Frames to find, both in it. */
  first: number;
  last: number;
}

interface CarryControl {
  /** Frames that are there by now, of those asked for. */
  onProgress(done: number): void;
  signal?: AbortSignal;
}

/** A stored frame as RGBA bytes; of the proxy, which is what Peel looks at, or of full size. */
export async function storedPicture(storeDir: string, frame: number, of: 'proxy' | 'full' = 'proxy'): Promise<FrameBytes> {
  const { data, info } = await sharp(await readStoredFrame(storeDir, of, frame))
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

/** The luma of a stored frame of an imported matte, at a size. */
async function storedLuma(storeDir: string | undefined, frame: number, size: Size): Promise<Gray> {
  if (!storeDir)
    throw new Problem('no-matte', 'The footage of the matte that fences this Peel in is no longer here. Bring it in again, or choose another fence.', 409);
  const { data } = await sharp(await readStoredFrame(storeDir, 'proxy', frame))
    .resize(size.width, size.height, { fit: 'fill' })
    .removeAlpha()
    .toColourspace('srgb')
    .raw()
    .toBuffer({ resolveWithObject: true });
  return lumaOf(data, 3, size);
}

/** A matte that was found on a proxy, at the size of the plate: made fine by the stored frame, or just larger in a draft. */
export async function atPlateSize(matte: Gray, quality: Quality, storeDir: string, frame: number, size: Size): Promise<Gray> {
  if (quality === 'draft' || size.width <= matte.width) return resized(matte, size);
  return resized(refined(matte, await storedPicture(storeDir, frame, 'full')), size);
}

const maskFrom = async (png: Buffer, { width, height }: Size): Promise<Uint8Array> => {
  const { data } = await sharp(png).toColourspace('b-w').resize(width, height, { fit: 'fill' }).raw().toBuffer({ resolveWithObject: true });
  return Uint8Array.from(data, (v) => (v > 127 ? 1 : 0));
};

/** What the strokes of a frame mend: what the ones painted before come to there, carried to it where that is not kept. */
async function carriedBefore(task: CarryTask, results: PeelResults, frame: number, size: Size, signal?: AbortSignal): Promise<Base> {
  const inputs = inputsBefore(task.inputs, frame);
  await carryPeel({ ...task, inputs, first: frame, last: frame }, { onProgress() {}, signal });
  const mask = await maskFrom(await results.read(peelKeys(inputs)(frame) as string, frame), size);
  const states = results.states(inputs);
  const { from, to } = neighbours(anchorsOf(inputs), frame);
  const sides: { anchor: number; state: PropagationState | null }[] = [];
  for (const anchor of [from, to]) if (anchor !== undefined) sides.push({ anchor, state: await states.get(anchor, frame) });
  let zone: Uint8Array | null = null;
  for (const { state } of sides) zone = union(zone, state?.zone ?? null);
  return { mask, zone, lying: lyingOn(frame, sides) };
}

/** Finds the frames that are not there yet. Throws a Problem with code "stopped" where the signal asked it to stop. */
export async function carryPeel(task: CarryTask, { onProgress, signal }: CarryControl): Promise<void> {
  const { storeDir, resultsDir, fenceDirs, plate, inputs, fence, first, last } = task;
  const results = new PeelResults(resultsDir);
  const keyOf = peelKeys(inputs);
  if (anchorsOf(inputs).length === 0) throw new Problem('nothing-kept', 'Nothing is kept: paint at least one keep stroke on the subject.', 422);
  const there = new Set((await results.found(inputs, first, last)).map((f) => f.frame));
  onProgress(there.size);
  const source = {
    plate,
    async frame(frame: number) {
      if (signal?.aborted) throw new Stopped();
      return seenAt(inputs.quality, await storedPicture(storeDir, frame));
    },
  };
  const writing = new WriteBehind();
  const strokes = paintedOf(inputs);
  const keys = new Map(startingFrozen(inputs).map((h) => [h.frame, h.key]));
  const held = {
    frames: [...keys.keys()],
    async mask(frame: number, size: Size) {
      const png = await results.read(keys.get(frame) as string, frame).catch(() => {
        throw new Problem('held-gone', `The matte of an approved frame is no longer here: release frame ${frame + plate.firstNumber}, and carry again.`, 409);
      });
      return maskFrom(png, size);
    },
  };
  const sources = { ...NO_IMPORTS, imported: (footage: string, frame: number, size: Size) => storedLuma(fenceDirs[footage], frame, size) };
  try {
    const options = {
      fence: fence ? (frame: number, size: Size) => renderFence(fence, frame, sources, plate, size) : undefined,
      settings: peelSettings(inputs),
      hidden: inputs.hidden,
      held,
      base: (frame: number, size: Size) => carriedBefore(task, results, frame, size, signal),
      known: (f: number) => there.has(f),
      states: results.states(inputs),
    };
    for await (const { frame, mask, zone, picture, anchor, doubt, reasons, places } of peelShot(source, strokes, first, last, options)) {
      const alpha = { width: picture.width, height: picture.height, data: finishedAlpha(mask, picture, zone) };
      await writing.add(async () => {
        await results.write({ frame, key: keyOf(frame) as string, anchor, doubt, reasons, places }, alpha);
        there.add(frame);
        onProgress(there.size);
      });
    }
  } catch (error) {
    throw error instanceof StrokesError ? new Problem('strokes', error.message, 422) : error;
  } finally {
    await writing.done();
  }
}
