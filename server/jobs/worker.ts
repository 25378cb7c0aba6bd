/** The inside of a job thread: a thin shell over the functions that do the work. What comes and goes between threads is parsed. */
import { MessagePort } from 'node:worker_threads';
import { z } from 'zod';
import { asValue, problemSchema, Stopped } from '../problem.ts';
import type { Control } from './kind.ts';
import { JOB_KINDS, type JobKindId } from './kinds.ts';

const orderSchema = z.strictObject({
  kind: z.enum(Object.keys(JOB_KINDS) as [JobKindId, ...JobKindId[]]),
  task: z.unknown(),
  port: z.instanceof(MessagePort),
});

/** How work ended: with a result, or with a problem that people can do something about, and what was found by then that is worth keeping. */
export const jobEndSchema = z.union([z.strictObject({ problem: problemSchema, found: z.unknown() }), z.strictObject({ result: z.unknown() })]);
export type JobEnd = z.infer<typeof jobEndSchema>;

const TELL_EVERY = 100;

export default async function runJob(order: unknown): Promise<JobEnd> {
  const { kind: id, task, port } = orderSchema.parse(order);
  const kind = JOB_KINDS[id];
  const controller = new AbortController();
  port.on('message', () => controller.abort());
  let told = 0;
  const control: Control = {
    signal: controller.signal,
    onProgress(done) {
      const now = Date.now();
      if (now - told < TELL_EVERY) return;
      told = now;
      port.postMessage(done);
    },
  };
  try {
    return { result: await kind.work(kind.task.parse(task), control) };
  } catch (error) {
    return { problem: asValue(error), found: error instanceof Stopped ? error.found : undefined };
  } finally {
    port.close();
  }
}
