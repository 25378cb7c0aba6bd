/** Carrying a Peel of a shot, as a job. */
import type { Route } from './+types/shot-carry';
import { asJson, jsonBody } from './answer.ts';

export const action = ({ params, request, context }: Route.ActionArgs) =>
  asJson(async () => ({ jobIds: await context.services.peels.carry(context.services.queue, params.shotId, await jsonBody(request, 10_000)) }));
