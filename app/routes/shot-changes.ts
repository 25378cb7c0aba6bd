/** The log of a shot: steps after a revision, and taking in new ones. */
import { z } from 'zod';
import type { Route } from './+types/shot-changes';
import { resource } from './resource.ts';

const revision = z.coerce.number().int().min(0);

const { loader, action } = resource<Route.LoaderArgs>({
  GET({ params, request, context }) {
    const after = revision.parse(new URL(request.url).searchParams.get('after') ?? 0);
    return context.services.changes.since(params.shotId, after);
  },
  POST: async ({ params, request, context: { services, answer } }) =>
    services.changes.receive(params.shotId, await answer.body(request, services.config.limits.documentBytes)),
});

export { action, loader };
