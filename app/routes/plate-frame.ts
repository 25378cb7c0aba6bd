/** One frame of a plate as JPEG. Plates never change, so an answer may be kept for ever. */
import { z } from 'zod';
import { readStoredFrame, STORES } from '~/server/footage/frame-store.ts';
import type { Route } from './+types/plate-frame';
import { asJson } from './answer.ts';

const frameNumber = z.coerce.number().int().min(0).max(10_000_000);

export const loader = ({ params, context }: Route.LoaderArgs) =>
  asJson(async () => {
    const jpeg = await readStoredFrame(context.services.shots.frameStore(params.plateId), z.enum(STORES).parse(params.size), frameNumber.parse(params.frame));
    return new Response(new Uint8Array(jpeg), {
      headers: { 'Content-Type': 'image/jpeg', 'Content-Length': String(jpeg.length), 'Cache-Control': 'public, max-age=31536000, immutable' },
    });
  });
