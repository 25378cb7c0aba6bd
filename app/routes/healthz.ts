/** Whether the server lives, and its database answers. */
import type { Route } from './+types/healthz';

export const loader = async ({ context }: Route.LoaderArgs) => {
  const health = await context.services.health.look();
  return Response.json(health, { status: health.database ? 200 : 503, headers: { 'Cache-Control': 'no-store' } });
};
