/** One job: how far it is, and pausing, going on, cancelling, taking its output away. */
import { z } from 'zod';
import type { Route } from './+types/job';
import { resource } from './resource.ts';

const requestSchema = z.strictObject({ action: z.enum(['pause', 'resume', 'cancel', 'remove']) });

const { loader, action } = resource<Route.LoaderArgs>({
  GET: ({ params, context }) => context.services.queue.get(params.jobId),
  async POST({ params, request, context: { services, answer } }) {
    const { action } = requestSchema.parse(await answer.body(request, 1000));
    if (action === 'remove') {
      await services.outputs.remove(services.queue, params.jobId);
      return { removed: true };
    }
    await services.queue.act(params.jobId, action);
    return services.queue.get(params.jobId);
  },
});

export { action, loader };
