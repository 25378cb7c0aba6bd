/** The frames of a Peel that have been found with its strokes as they are, each with its doubt. */
import type { Route } from './+types/shot-peel';
import { resource } from './resource.ts';

const { loader, action } = resource<Route.LoaderArgs>({
  GET: ({ params, context }) => context.services.peels.found(params.shotId, params.partId),
});

export { action, loader };
