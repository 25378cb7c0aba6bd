/** One pass over frames, from which several outputs are written: footage is read and mattes are made once for all of them. */
import type { FrameRange } from '../../core/time/ranges.ts';
import { Stopped } from '../problem.ts';
import type { OutputControl } from './format.ts';
import { Originals } from './originals.ts';
import type { OutputTask } from './task.ts';

/** Writes one output, frame after frame. */
export interface FrameWriter {
  /** Called for each frame of its range in turn; what is there already is passed over. */
  write(frame: number, sources: Originals): Promise<void>;
  /** Takes away what is half written, after something went wrong. */
  drop(): Promise<void>;
}

/** Writes a range of frames by all writers. @throws Problem with code "stopped" where the signal asked it to stop */
export async function writeFrames(task: OutputTask, writers: readonly FrameWriter[], { first, last }: FrameRange, control: OutputControl): Promise<void> {
  const sources = new Originals(task, control.signal);
  try {
    for (let frame = first; frame <= last; frame++) {
      for (const writer of writers) {
        if (control.signal?.aborted) throw new Stopped();
        await writer.write(frame, sources);
      }
      control.onProgress(frame - first + 1);
    }
  } catch (error) {
    for (const writer of writers) await writer.drop();
    throw control.signal?.aborted ? new Stopped() : error;
  } finally {
    await sources.close();
  }
}
