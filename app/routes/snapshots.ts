/** The snapshots of a shot by name, and one more. */
import type { Route } from './+types/snapshots';
import { asJson, jsonBody } from './answer.ts';

export const loader = ({ params, context }: Route.LoaderArgs) => asJson(() => context.services.snapshots.list(params.shotId));

export const action = ({ params, request, context }: Route.ActionArgs) =>
  asJson(async () => {
    const { services } = context;
    return services.snapshots.add(params.shotId, await jsonBody(request, services.config.limits.documentBytes));
  });
