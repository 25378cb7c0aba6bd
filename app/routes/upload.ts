/** A whole upload: made into a shot (POST), or thrown away (DELETE). */
import { z } from 'zod';
import type { Route } from './+types/upload';
import { resource } from './resource.ts';

const requestSchema = z.strictObject({ productionId: z.string().max(64), name: z.string().max(200).optional(), rate: z.string().max(20).default('24') });

const { loader, action } = resource<Route.LoaderArgs>({
  async DELETE({ params, context }) {
    await context.services.uploads.discard(params.uploadId);
    return { discarded: true };
  },
  async POST({ params, request, context: { services, answer } }) {
    const { productionId, name, rate } = requestSchema.parse(await answer.body(request, 10_000));
    const made = await services.shots.createFromUpload({ productionId, uploadId: params.uploadId, name, rate });
    services.queue.wake();
    return made;
  },
});

export { action, loader };
