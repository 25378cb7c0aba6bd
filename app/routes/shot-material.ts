/** What another shot needs to know of one of which it shows something: its document as it is now, and its plate. */
import type { Route } from './+types/shot-material';
import { resource } from './resource.ts';

const { loader, action } = resource<Route.LoaderArgs>({
  GET: async ({ params, context: { services } }) => {
    const { plate } = await services.shots.shot(params.shotId);
    const { document } = await services.changes.load(params.shotId);
    const { width, height, frames } = document.plate;
    return { document, plate: { id: plate.id, frames, proxyWidth: plate.proxyWidth ?? width, proxyHeight: plate.proxyHeight ?? height } };
  },
});

export { action, loader };
