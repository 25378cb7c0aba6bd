/** The inside of a job thread: a thin shell over the functions that do the work. */
import type { MessagePort } from 'node:worker_threads';
import { type IngestTask, ingest } from '../footage/ingest.ts';
import type { OutputTask } from '../outputs/task.ts';
import { writeOutput } from '../outputs/write-output.ts';
import { type CarryTask, carryPeel } from '../peel/carry-peel.ts';
import { Problem, Stopped } from '../problem.ts';
import { followTracks, type TrackTask } from '../track/follow-tracks.ts';

interface Control {
  onProgress(done: number): void;
  signal: AbortSignal;
}

const work: Record<string, (task: never, control: Control) => Promise<unknown>> = {
  ingest: (task: IngestTask, control) => ingest(task, control),
  output: (task: OutputTask, control) => writeOutput(task, control),
  carry: (task: CarryTask, control) => carryPeel(task, control),
  track: (task: TrackTask, control) => followTracks(task, control),
};

/** How work ended: with a result, or with a problem that people can do something about, and what was found by then that is worth keeping. */
export type JobEnd = { result: unknown; problem?: undefined } | { problem: { code: string; message: string; status: number }; found?: unknown };

export default async function runJob({ kind, task, port }: { kind: string; task: never; port: MessagePort }): Promise<JobEnd> {
  const controller = new AbortController();
  port.on('message', () => controller.abort());
  let told = 0;
  const control: Control = {
    signal: controller.signal,
    onProgress(done) {
      const now = Date.now();
      if (now - told < 100) return;
      told = now;
      port.postMessage(done);
    },
  };
  try {
    return { result: await work[kind](task, control) };
  } catch (error) {
    // Errors lose their name and code on the way between threads, so what people are told goes as a value.
    if (!(error instanceof Problem)) throw error;
    const { code, message, status } = error;
    return { problem: { code, message, status }, found: error instanceof Stopped ? error.found : undefined };
  } finally {
    port.close();
  }
}
