/** Running tracks of a shot, as jobs. */
import type { Route } from './+types/shot-track';
import { asJson, jsonBody } from './answer.ts';

export const action = ({ params, request, context }: Route.ActionArgs) =>
  asJson(async () => ({ jobIds: await context.services.tracks.run(context.services.queue, params.shotId, await jsonBody(request, 200_000)) }));
