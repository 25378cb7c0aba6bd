/** Outputs of a shot: the list, and asking for a new one. */
import type { Route } from './+types/shot-outputs';
import { resource } from './resource.ts';

const { loader, action } = resource<Route.LoaderArgs>({
  GET: ({ params, context: { services } }) => services.outputs.list(services.queue, params.shotId),
  POST: async ({ params, request, context: { services, answer } }) => ({
    jobIds: await services.outputs.requestAll(services.queue, params.shotId, await answer.body(request, 100_000)),
  }),
});

export { action, loader };
