/** One file of an upload, as the raw body of a PUT, streamed to disk. */
import { z } from 'zod';
import type { Route } from './+types/upload-file';
import { asJson, drain } from './answer.ts';

export const action = ({ params, request, context }: Route.ActionArgs) =>
  asJson(async () => {
    const position = z.coerce.number().int().min(0).parse(params.position);
    const name = z.string().min(1).max(300).parse(new URL(request.url).searchParams.get('name'));
    const length = request.headers.get('content-length');
    try {
      await context.services.uploads.receive(params.uploadId, position, name, request.body, length === null ? null : Number(length));
    } catch (error) {
      await drain(request);
      throw error;
    }
    return { received: position };
  });
