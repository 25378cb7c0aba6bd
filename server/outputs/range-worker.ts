/** The inside of a thread that writes one range of an output. What comes and goes between threads is parsed. */
import { MessagePort } from 'node:worker_threads';
import { z } from 'zod';
import { asValue, problemSchema } from '../problem.ts';
import { outputTaskSchema } from './task-schema.ts';
import { writeRange } from './write-range.ts';

const orderSchema = z.strictObject({
  task: outputTaskSchema,
  range: z.strictObject({ first: z.number().int(), last: z.number().int() }),
  port: z.instanceof(MessagePort),
});

/** How it ended: null, or with a problem that people can do something about. */
export const rangeEndSchema = problemSchema.nullable();
export type RangeEnd = z.infer<typeof rangeEndSchema>;

/** A message to `port` stops it; frames that are done are told there. */
export default async function runRange(order: unknown): Promise<RangeEnd> {
  const { task, range, port } = orderSchema.parse(order);
  const controller = new AbortController();
  port.on('message', () => controller.abort());
  try {
    await writeRange(task, range, { signal: controller.signal, onProgress: (done) => port.postMessage(done) });
    return null;
  } catch (error) {
    return asValue(error);
  } finally {
    port.close();
  }
}
