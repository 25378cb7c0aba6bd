/** Work that is waiting, running or paused. */
import type { Route } from './+types/jobs';
import { resource } from './resource.ts';

const { loader, action } = resource<Route.LoaderArgs>({
  GET: ({ context }) => context.services.queue.list({ open: true }),
});

export { action, loader };
