/** The library of a production: its shapes and presets, and one more. */
import type { Route } from './+types/library';
import { asJson, jsonBody } from './answer.ts';

export const loader = ({ params, context }: Route.LoaderArgs) => asJson(() => context.services.library.list(params.productionId));

export const action = ({ params, request, context }: Route.ActionArgs) =>
  asJson(async () => {
    const { services } = context;
    return services.library.add(params.productionId, await jsonBody(request, services.config.limits.documentBytes));
  });
