/** One thing in a production's library, to be taken away. */
import type { Route } from './+types/library-item';
import { resource } from './resource.ts';

const { loader, action } = resource<Route.LoaderArgs>({
  DELETE: ({ params, context }) => context.services.library.remove(params.productionId, params.itemId),
});

export { action, loader };
