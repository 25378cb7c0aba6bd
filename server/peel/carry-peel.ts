/** Carrying a Peel through frames of a plate and keeping what is found. Used alike by the carry job and by outputs. */
import sharp from 'sharp';
import { anchorsOf, type PeelInputs, peelKeys, peelSettings } from '../../core/peel/inputs.ts';
import { peelShot, StrokesError } from '../../core/peel/peel-shot.ts';
import { finishedAlpha } from '../../core/peel/soft-edge.ts';
import { readStoredFrame } from '../footage/frame-store.ts';
import { Problem } from '../problem.ts';
import { PeelResults } from './results.ts';

/** Where the frames of a plate are, and where what is found on them is kept. */
export interface PeelPlace {
  storeDir: string;
  resultsDir: string;
}

export interface CarryTask extends PeelPlace {
  plate: { width: number; height: number };
  inputs: PeelInputs;
  /** Frames to find, both in it. */
  first: number;
  last: number;
}

interface CarryControl {
  /** Frames that are there by now, of those asked for. */
  onProgress(done: number): void;
  signal?: AbortSignal;
}

/** A stored frame of the proxy as RGBA bytes: what Peel looks at. */
export async function storedPicture(storeDir: string, frame: number): Promise<{ width: number; height: number; data: Uint8Array }> {
  const { data, info } = await sharp(await readStoredFrame(storeDir, 'proxy', frame))
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

/** Finds the frames that are not there yet. Throws a Problem with code "stopped" where the signal asked it to stop. */
export async function carryPeel({ storeDir, resultsDir, plate, inputs, first, last }: CarryTask, { onProgress, signal }: CarryControl): Promise<void> {
  const results = new PeelResults(resultsDir);
  const keyOf = peelKeys(inputs);
  if (anchorsOf(inputs).length === 0) throw new Problem('nothing-kept', 'Nothing is kept: paint at least one keep stroke on the subject.', 422);
  const there = new Set((await results.found(inputs, first, last)).map((f) => f.frame));
  onProgress(there.size);
  const source = {
    plate,
    frame(frame: number) {
      if (signal?.aborted) throw new Problem('stopped', 'Stopped.', 409);
      return storedPicture(storeDir, frame);
    },
  };
  const strokes = inputs.strokes.filter((s) => s.enabled);
  try {
    for await (const { frame, mask, zone, picture, anchor, doubt, reasons, places } of peelShot(source, strokes, first, last, peelSettings(inputs), (f) =>
      there.has(f),
    )) {
      const alpha = { width: picture.width, height: picture.height, data: finishedAlpha(mask, picture, zone) };
      await results.write(keyOf(frame) as string, { frame, anchor, doubt, reasons, places }, alpha);
      there.add(frame);
      onProgress(there.size);
    }
  } catch (error) {
    throw error instanceof StrokesError ? new Problem('strokes', error.message, 422) : error;
  }
}
