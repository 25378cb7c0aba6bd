/** The log of a shot: steps after a revision, and taking in new ones. */
import { z } from 'zod';
import { sentChangeSchema } from '~/server/changes.ts';
import type { Route } from './+types/shot-changes';
import { asJson, jsonBody } from './answer.ts';

export const loader = ({ params, request, context }: Route.LoaderArgs) =>
  asJson(() => {
    const after = z.coerce
      .number()
      .int()
      .min(0)
      .parse(new URL(request.url).searchParams.get('after') ?? 0);
    return context.services.changes.since(params.shotId, after);
  });

export const action = ({ params, request, context }: Route.ActionArgs) =>
  asJson(async () => {
    const { services } = context;
    const sent = sentChangeSchema.parse(await jsonBody(request, services.config.limits.documentBytes));
    return services.changes.apply(params.shotId, sent);
  });
