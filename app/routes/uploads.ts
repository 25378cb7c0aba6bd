/** Begins an upload; its files follow one by one. */
import type { Route } from './+types/uploads';
import { resource } from './resource.ts';

const { loader, action } = resource<Route.LoaderArgs>({
  POST: async ({ context }) => ({ uploadId: await context.services.uploads.create() }),
});

export { action, loader };
