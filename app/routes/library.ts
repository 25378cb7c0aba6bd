/** The library of a production: its shapes and presets, and one more. */
import type { Route } from './+types/library';
import { resource } from './resource.ts';

const { loader, action } = resource<Route.LoaderArgs>({
  GET: ({ params, context }) => context.services.library.list(params.productionId),
  POST: async ({ params, request, context: { services, answer } }) =>
    services.library.add(params.productionId, await answer.body(request, services.config.limits.documentBytes)),
});

export { action, loader };
