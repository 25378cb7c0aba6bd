/** The document of a shot as one JSON file: out, and in again. */
import { randomUUID } from 'node:crypto';
import { fileStem } from '~/server/outputs/spec.ts';
import { sentDocument } from '~/server/sent-document.ts';
import type { Route } from './+types/shot-document';
import { asJson, jsonBody } from './answer.ts';

export const loader = ({ params, context }: Route.LoaderArgs) =>
  asJson(async () => {
    const { document } = await context.services.changes.load(params.shotId);
    return new Response(`${JSON.stringify(document, null, 2)}\n`, {
      headers: {
        'Content-Type': 'application/json',
        'Content-Disposition': `attachment; filename="${fileStem(document.name)}.mottrel.json"`,
        'Cache-Control': 'no-store',
      },
    });
  });

export const action = ({ params, request, context }: Route.ActionArgs) =>
  asJson(async () => {
    const { services } = context;
    const value = await jsonBody(request, services.config.limits.documentBytes);
    return services.changes.replace(params.shotId, sentDocument(value), 'import', randomUUID());
  });
