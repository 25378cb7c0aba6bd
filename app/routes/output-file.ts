/** One file of an output. */
import type { Route } from './+types/output-file';
import { resource } from './resource.ts';

const TYPES: Record<string, string> = { png: 'image/png', mov: 'video/quicktime', mp4: 'video/mp4', json: 'application/json' };

const { loader, action } = resource<Route.LoaderArgs>({
  async GET({ params, request, context }) {
    const { stream, bytes } = await context.services.outputs.file(params.jobId, params.name, new URL(request.url).searchParams.get('of'));
    const type = TYPES[params.name.split('.').at(-1) ?? ''] ?? 'application/octet-stream';
    return new Response(stream, {
      headers: {
        'Content-Type': type,
        'Content-Length': String(bytes),
        'Content-Disposition': `attachment; filename="${params.name.replace(/[^\w.-]/g, '_')}"`,
      },
    });
  },
});

export { action, loader };
