/** The snapshots of a shot by name, and one more. */
import type { Route } from './+types/snapshots';
import { resource } from './resource.ts';

const { loader, action } = resource<Route.LoaderArgs>({
  GET: ({ params, context }) => context.services.snapshots.list(params.shotId),
  POST: async ({ params, request, context: { services, answer } }) =>
    services.snapshots.add(params.shotId, await answer.body(request, services.config.limits.documentBytes)),
});

export { action, loader };
