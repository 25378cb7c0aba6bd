/** The inside of a thread that writes one range of an output. What comes and goes between threads is parsed. */
import { MessagePort } from 'node:worker_threads';
import { z } from 'zod';
import { documentSchema } from '../documents.ts';
import { peelPlaceSchema } from '../peel/carry-peel.ts';
import { Problem } from '../problem.ts';
import { formatOf, outputSpecSchema } from './formats/index.ts';
import { originalSchema } from './task.ts';

const orderSchema = z.strictObject({
  task: z.strictObject({
    document: documentSchema,
    spec: outputSpecSchema,
    directory: z.string(),
    footage: originalSchema.optional(),
    others: z.record(z.string(), originalSchema).optional(),
    peel: peelPlaceSchema.optional(),
    threads: z.number().int().min(1).optional(),
  }),
  range: z.strictObject({ first: z.number().int(), last: z.number().int() }),
  port: z.instanceof(MessagePort),
});

/** How it ended: null, or with a problem that people can do something about. */
export const rangeEndSchema = z.strictObject({ code: z.string(), message: z.string(), status: z.number().int() }).nullable();
export type RangeEnd = z.infer<typeof rangeEndSchema>;

/** A message to `port` stops it; frames that are done are told there. */
export default async function writeRange(order: unknown): Promise<RangeEnd> {
  const { task, range, port } = orderSchema.parse(order);
  const controller = new AbortController();
  port.on('message', () => controller.abort());
  try {
    await formatOf(task.spec).writeRange(task, range, { signal: controller.signal, onProgress: (done) => port.postMessage(done) });
    return null;
  } catch (error) {
    // Errors lose their class on the way between threads, so what people are told goes as a value.
    if (!(error instanceof Problem)) throw error;
    const { code, message, status } = error;
    return { code, message, status };
  } finally {
    port.close();
  }
}
