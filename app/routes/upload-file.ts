/** One file of an upload, as the raw body of a PUT, streamed to disk. */
import { z } from 'zod';
import type { Route } from './+types/upload-file';
import { asJson } from './answer.ts';

/** Bytes of a refused file that are still read, so that a sender in the middle of it hears the answer. */
const DRAIN = 64 * 1024 * 1024;

async function drain(body: ReadableStream<Uint8Array> | null): Promise<void> {
  if (!body || body.locked) return;
  const reader = body.getReader();
  for (let bytes = 0; bytes < DRAIN; ) {
    const { done, value } = await reader.read();
    if (done) return;
    bytes += value.length;
  }
}

export const action = ({ params, request, context }: Route.ActionArgs) =>
  asJson(async () => {
    const position = z.coerce.number().int().min(0).parse(params.position);
    const name = z.string().min(1).max(300).parse(new URL(request.url).searchParams.get('name'));
    const length = request.headers.get('content-length');
    try {
      await context.services.uploads.receive(params.uploadId, position, name, request.body, length === null ? null : Number(length));
    } catch (error) {
      await drain(request.body).catch(() => {});
      throw error;
    }
    return { received: position };
  });
