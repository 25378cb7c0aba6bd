/** One snapshot: its document, or its end. */
import { Problem } from '~/server/problem.ts';
import type { Route } from './+types/snapshot';
import { asJson } from './answer.ts';

export const loader = ({ params, context }: Route.LoaderArgs) => asJson(() => context.services.snapshots.document(params.shotId, params.snapshotId));

export const action = ({ params, request, context }: Route.ActionArgs) =>
  asJson(() => {
    if (request.method !== 'DELETE') throw new Problem('wrong-method', 'A snapshot can only be deleted here.', 405);
    return context.services.snapshots.remove(params.shotId, params.snapshotId);
  });
