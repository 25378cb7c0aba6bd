import { z } from 'zod';
import type { Route } from './+types/job';
import { asJson, jsonBody } from './answer.ts';

const wish = z.strictObject({ action: z.enum(['pause', 'resume', 'cancel', 'remove']) });

export const loader = ({ params, context }: Route.LoaderArgs) => asJson(() => context.services.queue.get(params.jobId));

export const action = ({ params, request, context }: Route.ActionArgs) =>
  asJson(async () => {
    const { action } = wish.parse(await jsonBody(request, 1000));
    if (action === 'remove') {
      await context.services.outputs.remove(params.jobId);
      return { removed: true };
    }
    await context.services.queue.act(params.jobId, action);
    return context.services.queue.get(params.jobId);
  });
