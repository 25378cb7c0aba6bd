/** Carrying a Peel of a shot, as a job. */
import type { Route } from './+types/shot-carry';
import { resource } from './resource.ts';

const { loader, action } = resource<Route.LoaderArgs>({
  POST: async ({ params, request, context: { services, answer } }) => ({
    jobIds: await services.peels.carry(services.queue, params.shotId, await answer.body(request, 10_000)),
  }),
});

export { action, loader };
