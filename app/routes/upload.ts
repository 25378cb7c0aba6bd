/** A whole upload: made into a shot (POST), or thrown away (DELETE). */
import { z } from 'zod';
import type { Route } from './+types/upload';
import { asJson, jsonBody } from './answer.ts';

const wish = z.strictObject({ productionId: z.string().max(64), name: z.string().max(200).optional(), rate: z.string().max(20).default('24') });

export const action = ({ params, request, context }: Route.ActionArgs) =>
  asJson(async () => {
    const { uploads, shots, queue } = context.services;
    if (request.method === 'DELETE') {
      await uploads.discard(params.uploadId);
      return { discarded: true };
    }
    const { productionId, name, rate } = wish.parse(await jsonBody(request, 10_000));
    const made = await shots.createFromUpload({ productionId, uploadId: params.uploadId, name, rate });
    queue.wake();
    return made;
  });
