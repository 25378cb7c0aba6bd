import type { Route } from './+types/output-file';
import { asJson } from './answer.ts';

const TYPES: Record<string, string> = { png: 'image/png', mov: 'video/quicktime', mp4: 'video/mp4', json: 'application/json' };

export const loader = ({ params, context }: Route.LoaderArgs) =>
  asJson(async () => {
    const { stream, bytes } = await context.services.outputs.file(params.jobId, params.name);
    const type = TYPES[params.name.split('.').at(-1) ?? ''] ?? 'application/octet-stream';
    return new Response(stream, {
      headers: {
        'Content-Type': type,
        'Content-Length': String(bytes),
        'Content-Disposition': `attachment; filename="${params.name.replace(/[^\w.-]/g, '_')}"`,
      },
    });
  });
