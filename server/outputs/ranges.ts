/** Writing the ranges of an output, several at a time in threads of their own where that is worth it. */
import { availableParallelism } from 'node:os';
import path from 'node:path';
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { fenceOf, taskOf } from '../../core/document/fence.ts';
import type { FrameRange } from '../../core/time/ranges.ts';
import { PeelResults } from '../peel/results.ts';
import { Problem, Stopped } from '../problem.ts';
import { PROGRAM } from '../root.ts';
import { type OutputControl, SEGMENT } from './format.ts';
import { type RangeEnd, rangeEndSchema } from './range-worker.ts';
import type { OutputTask } from './task.ts';
import { framesOf, writtenFrames } from './timed.ts';
import { writeRange } from './write-range.ts';

/** Bytes that all threads of an output may take together, and what a picture takes of them for each of its pixels. */
const MEMORY = 1.5 * 2 ** 30;
const BYTES_A_PIXEL = 180;

/** How many ranges of an output are written at a time. A picture of another shot in one takes as much again. */
function threadsFor({ threads = availableParallelism(), document: { plate }, shots = {} }: OutputTask): number {
  const pictures = Object.keys(shots).length > 0 ? 2 : 1;
  return Math.max(1, Math.min(threads, Math.floor(MEMORY / (pictures * plate.width * plate.height * BYTES_A_PIXEL))));
}

/** Whether all that Peels of a shot are to find on frames is found. */
async function isFound({ document, peel }: Pick<OutputTask, 'document' | 'peel'>, { first, last }: FrameRange): Promise<boolean> {
  const peels = document.cast.flatMap(({ parts }) => parts.filter((p) => p.type === 'peel'));
  if (!peel || peels.length === 0) return true;
  const results = new PeelResults(peel.resultsDir);
  const missing = await Promise.all(
    peels.map(async (part) => (await results.found(taskOf(part, fenceOf(document, part)), first, last)).length <= last - first),
  );
  return !missing.includes(true);
}

/** The same of all shots that an output shows: where something is missing, one thread has it found, since each would do it for itself. */
async function allFound(task: OutputTask): Promise<boolean> {
  const others = Object.values(task.shots ?? {});
  const found = await Promise.all([isFound(task, task.spec), ...others.map((other) => isFound(other, framesOf(other)))]);
  return !found.includes(false);
}

/** At most so many ranges of about the same length, which begin where pieces do. */
export function rangesOf({ first, last }: FrameRange, most: number): FrameRange[] {
  const pieces = Math.ceil((last - first + 1) / SEGMENT);
  const count = Math.min(most, pieces);
  const beginOf = (k: number) => first + Math.floor((k * pieces) / count) * SEGMENT;
  return Array.from({ length: count }, (_, k) => ({ first: beginOf(k), last: k === count - 1 ? last : beginOf(k + 1) - 1 }));
}

/** Writes all ranges of an output. */
export async function writeRanges(task: OutputTask, control: OutputControl): Promise<void> {
  const all = writtenFrames(task);
  const ranges = rangesOf(all, threadsFor(task));
  if (ranges.length === 1) return writeRange(task, ranges[0], control);
  // What is written of the first range once is not written again.
  if (!(await allFound(task))) await writeRange(task, { first: all.first, last: all.first + SEGMENT - 1 }, control);
  const pool = new Piscina({ filename: path.join(PROGRAM, 'range-worker.js'), maxThreads: ranges.length });
  const done = ranges.map(() => 0);
  const stop = new AbortController();
  const signal = control.signal ? AbortSignal.any([control.signal, stop.signal]) : stop.signal;
  const writeOne = async (range: FrameRange, i: number): Promise<void> => {
    const { port1, port2 } = new MessageChannel();
    const onAbort = () => port1.postMessage(null);
    signal.addEventListener('abort', onAbort, { once: true });
    // It may have been asked to stop before anybody listened.
    if (signal.aborted) onAbort();
    const tell = (frames: number) => {
      if (frames <= done[i]) return;
      done[i] = frames;
      control.onProgress(done.reduce((a, b) => a + b, 0));
    };
    port1.on('message', tell);
    try {
      const end: RangeEnd = rangeEndSchema.parse(await pool.run({ task, range, port: port2 }, { transferList: [port2] }));
      if (end) throw end.code === 'stopped' ? new Stopped() : new Problem(end.code, end.message, end.status);
      // It may be done before its last word has come.
      tell(range.last - range.first + 1);
    } catch (error) {
      // What others write is of no use any more; what they finished stays for the next time.
      stop.abort();
      throw error;
    } finally {
      signal.removeEventListener('abort', onAbort);
      port1.close();
    }
  };
  try {
    const ends = await Promise.allSettled(ranges.map(writeOne));
    const failures = ends.flatMap((end) => (end.status === 'rejected' ? [end.reason] : []));
    // The first fault stopped the others: it is told, not that they were stopped.
    if (failures.length > 0) throw failures.find((f) => !(f instanceof Stopped)) ?? failures[0];
    // The threads may have been done before they heard of it: what was cancelled is not finished all the same.
    if (control.signal?.aborted) throw new Stopped();
  } finally {
    await pool.destroy();
  }
}
