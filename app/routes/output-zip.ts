/** All files of an output as one zip. */
import type { Route } from './+types/output-zip';
import { resource } from './resource.ts';

const { loader, action } = resource<Route.LoaderArgs>({
  GET: async ({ params, context }) =>
    new Response(await context.services.outputs.zip(context.services.queue, params.jobId), {
      headers: { 'Content-Type': 'application/zip', 'Content-Disposition': `attachment; filename="mottrel-output-${params.jobId.slice(0, 8)}.zip"` },
    }),
});

export { action, loader };
