/** A shot of the demo film on which a guide can be tried. */
import type { Route } from './+types/guide-start';
import { resource } from './resource.ts';

const { loader, action } = resource<Route.LoaderArgs>({
  POST: ({ params, context }) => context.services.shotForGuide(params.guideId),
});

export { action, loader };
