/** One snapshot: its document, or its end. */
import type { Route } from './+types/snapshot';
import { resource } from './resource.ts';

const { loader, action } = resource<Route.LoaderArgs>({
  GET: ({ params, context }) => context.services.snapshots.document(params.shotId, params.snapshotId),
  DELETE: ({ params, context }) => context.services.snapshots.remove(params.shotId, params.snapshotId),
});

export { action, loader };
