/** The document of a shot as one JSON file: out, and in again. */
import type { Route } from './+types/shot-document';
import { resource } from './resource.ts';

const { loader, action } = resource<Route.LoaderArgs>({
  async GET({ params, context }) {
    const { text, fileName } = await context.services.documentFile(params.shotId);
    return new Response(text, {
      headers: {
        'Content-Type': 'application/json',
        'Content-Disposition': `attachment; filename="${fileName}"`,
        'Cache-Control': 'no-store',
      },
    });
  },
  POST: async ({ params, request, context: { services, answer } }) =>
    services.importDocument(params.shotId, await answer.body(request, services.config.limits.documentBytes)),
});

export { action, loader };
