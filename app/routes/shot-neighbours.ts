/** The other shots of the production of one, and what of them can be shown in it. */
import type { Route } from './+types/shot-neighbours';
import { resource } from './resource.ts';

const { loader, action } = resource<Route.LoaderArgs>({
  GET: ({ params, context: { services } }) => services.shots.neighbours(params.shotId),
});

export { action, loader };
