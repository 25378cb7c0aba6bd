/** Finding the frames of a stretch and writing their mattes: the part of `cli peel` that several threads can do at a time. */
import path from 'node:path';
import type { MessagePort } from 'node:worker_threads';
import { finishedAlpha } from '../core/peel/matting/soft-edge.ts';
import { type Quality, seenAt } from '../core/peel/settings.ts';
import { peelShot, StrokesError } from '../core/peel/shot/peel-shot.ts';
import type { FrameStroke } from '../core/peel/strokes/strokes.ts';
import { REASONS } from '../core/peel/uncertainty/uncertainty.ts';
import { mattePicture } from '../server/outputs/pictures.ts';
import { atPlateSize, storedPicture } from '../server/peel/carry-peel.ts';
import { WriteBehind } from '../server/write-behind.ts';

export interface PeelTask {
  plate: { width: number; height: number; frames: number };
  /** Where the frames are, and where the mattes go. */
  store: string;
  out: string;
  strokes: FrameStroke[];
  quality: Quality;
  bits: 8 | 16;
  /** Frames to find, both in it. */
  first: number;
  last: number;
}

export interface PeelReport {
  frame: number;
  doubt: number;
  reasons: string[];
  anchor: boolean;
}

/** @param onFrame told of each frame whose matte is there. @throws StrokesError */
export async function peelFrames({ plate, store, out, strokes, quality, bits, first, last }: PeelTask, onFrame: () => void): Promise<PeelReport[]> {
  const report: PeelReport[] = [];
  const writing = new WriteBehind();
  const source = { plate, frame: async (frame: number) => seenAt(quality, await storedPicture(store, frame)) };
  try {
    for await (const { frame, mask, zone, picture, anchor, doubt, reasons } of peelShot(source, strokes, first, last)) {
      const matte = { width: picture.width, height: picture.height, data: finishedAlpha(mask, picture, zone) };
      const large = await atPlateSize(matte, quality, store, frame, plate);
      await writing.add(async () => {
        await mattePicture(large, bits)
          .png({ compressionLevel: 1 })
          .toFile(path.join(out, `matte.${String(frame).padStart(4, '0')}.png`));
        report.push({ frame, doubt, reasons: reasons.map((r) => REASONS[r]), anchor: anchor === frame });
        onFrame();
      });
    }
  } finally {
    await writing.done();
  }
  return report;
}

/** How a thread ended: errors lose their names on the way between threads, so what is wrong with the strokes goes as a value. */
export type PeelEnd = { report: PeelReport[] } | { wrong: string };

/** The same in a thread; a message goes to `port` for each frame. */
export default async function peelInThread({ task, port }: { task: PeelTask; port: MessagePort }): Promise<PeelEnd> {
  try {
    return { report: await peelFrames(task, () => port.postMessage(null)) };
  } catch (error) {
    if (error instanceof StrokesError) return { wrong: error.message };
    throw error;
  } finally {
    port.close();
  }
}
