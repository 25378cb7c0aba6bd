/** Shots of a production that show others one after the other: making one. */
import type { Route } from './+types/joined';
import { resource } from './resource.ts';

const { loader, action } = resource<Route.LoaderArgs>({
  POST: async ({ params, request, context: { services, answer } }) => services.joinShots(params.productionId, await answer.body(request, 100_000)),
});

export { action, loader };
