/** One frame of a plate as JPEG. Plates never change, so an answer may be kept for ever. */
import type { Route } from './+types/plate-frame';
import { resource } from './resource.ts';

const { loader, action } = resource<Route.LoaderArgs>({
  async GET({ params, context }) {
    const jpeg = await context.services.shots.storedFrame(params.plateId, params.size, params.frame);
    return new Response(new Uint8Array(jpeg), {
      headers: { 'Content-Type': 'image/jpeg', 'Content-Length': String(jpeg.length), 'Cache-Control': 'public, max-age=31536000, immutable' },
    });
  },
});

export { action, loader };
