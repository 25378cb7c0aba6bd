/** Making a production for footage that is dropped where there is none. */
import { z } from 'zod';
import type { Route } from './+types/new-production';
import { resource } from './resource.ts';

const bodySchema = z.strictObject({ name: z.string().max(200) });

const { loader, action } = resource<Route.LoaderArgs>({
  POST: async ({ request, context: { services, answer } }) => ({
    id: await services.shots.createProduction(bodySchema.parse(await answer.body(request, 10_000)).name),
  }),
});

export { action, loader };
