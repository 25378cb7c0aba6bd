/** The inside of a job thread: a thin shell over the functions that do the work. */
import type { MessagePort } from 'node:worker_threads';
import { type IngestTask, ingest } from '../footage/ingest.ts';
import { type OutputTask, writeOutput } from '../outputs/write-output.ts';
import { type CarryTask, carryPeel } from '../peel/carry-peel.ts';

interface Control {
  onProgress(done: number): void;
  signal: AbortSignal;
}

const work: Record<string, (task: never, control: Control) => Promise<unknown>> = {
  ingest: (task: IngestTask, control) => ingest(task, control),
  output: (task: OutputTask, control) => writeOutput(task, control),
  carry: (task: CarryTask, control) => carryPeel(task, control),
};

export default async function runJob({ kind, task, port }: { kind: string; task: never; port: MessagePort }): Promise<unknown> {
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
    return await work[kind](task, control);
  } catch (error) {
    // Errors lose their fields between threads unless they are plain.
    const { name, message, code, status, stack } = error as Error & { code?: string; status?: number };
    throw Object.assign(new Error(message), { name, code, status, stack });
  } finally {
    port.close();
  }
}
