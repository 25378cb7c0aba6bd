/** Outputs of a shot: the list, and asking for a new one. */
import type { Route } from './+types/shot-outputs';
import { asJson, jsonBody } from './answer.ts';

export const loader = ({ params, context }: Route.LoaderArgs) => asJson(() => context.services.outputs.list(context.services.queue, params.shotId));

export const action = ({ params, request, context }: Route.ActionArgs) =>
  asJson(async () => ({ jobId: await context.services.outputs.request(context.services.queue, params.shotId, await jsonBody(request, 100_000)) }));
