/** What a Peel found on one frame, as gray PNG. Under its key it never changes; where it is not there yet it may come any moment. */
import { z } from 'zod';
import type { Route } from './+types/peel-frame';
import { resource } from './resource.ts';

const frameNumber = z.coerce.number().int().min(0).max(10_000_000);

const { loader, action } = resource<Route.LoaderArgs>({
  async GET({ params, context }) {
    const png = await context.services.peels.picture(params.plateId, params.key, frameNumber.parse(params.frame));
    return new Response(new Uint8Array(png), {
      headers: { 'Content-Type': 'image/png', 'Content-Length': String(png.length), 'Cache-Control': 'public, max-age=31536000, immutable' },
    });
  },
});

export { action, loader };
