/** Making a production for footage that is dropped where there is none. */
import { z } from 'zod';
import type { Route } from './+types/new-production';
import { asJson, jsonBody } from './answer.ts';

const bodySchema = z.strictObject({ name: z.string().max(200) });

export const action = ({ request, context }: Route.ActionArgs) =>
  asJson(async () => ({ id: await context.services.shots.createProduction(bodySchema.parse(await jsonBody(request, 10_000)).name) }));
