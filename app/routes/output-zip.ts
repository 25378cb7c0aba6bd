import type { Route } from './+types/output-zip';
import { asJson } from './answer.ts';

export const loader = ({ params, context }: Route.LoaderArgs) =>
  asJson(
    async () =>
      new Response(await context.services.outputs.zip(params.jobId), {
        headers: { 'Content-Type': 'application/zip', 'Content-Disposition': `attachment; filename="mottrel-output-${params.jobId.slice(0, 8)}.zip"` },
      }),
  );
