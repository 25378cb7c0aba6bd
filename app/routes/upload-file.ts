/** One file of an upload, as the raw body of a PUT, streamed to disk. */
import { z } from 'zod';
import type { Route } from './+types/upload-file';
import { resource } from './resource.ts';

const position = z.coerce.number().int().min(0);
const name = z.string().min(1).max(300);

const { loader, action } = resource<Route.LoaderArgs>({
  async PUT({ params, request, context: { services, answer } }) {
    try {
      const at = position.parse(params.position);
      const named = name.parse(new URL(request.url).searchParams.get('name'));
      const length = request.headers.get('content-length');
      await services.uploads.receive(params.uploadId, at, named, request.body, length === null ? null : Number(length));
      return { received: at };
    } catch (error) {
      await answer.drain(request);
      throw error;
    }
  },
});

export { action, loader };
