/** Running tracks of a shot, as jobs. */
import type { Route } from './+types/shot-track';
import { resource } from './resource.ts';

const { loader, action } = resource<Route.LoaderArgs>({
  POST: async ({ params, request, context: { services, answer } }) => ({
    jobIds: await services.tracks.run(services.queue, params.shotId, await answer.body(request, 200_000)),
  }),
});

export { action, loader };
