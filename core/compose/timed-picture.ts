/** The finished picture at a time of the shot that may lie between two of its frames. */
import type { ShotDocument } from '../document/schema.ts';
import { betweenFrames } from '../elements/between-frames.ts';
import type { Rgba, Size } from '../image/picture.ts';
import type { Sources } from '../matte/sources.ts';
import { renderPicture } from './render-picture.ts';

/** The nearer frame, or what lies between two, as the timing of the shot says. Opaque. */
export async function pictureAtTime(document: ShotDocument, time: number, sources: Sources, size: Size): Promise<Rgba> {
  const between = document.timing?.between ?? 'nearest';
  const last = document.plate.frames - 1;
  const frame = Math.min(last, Math.floor(time));
  const share = time - frame;
  if (between === 'nearest' || share === 0 || frame === last) return renderPicture(document, Math.min(last, Math.round(time)), sources, size);
  return betweenFrames(await renderPicture(document, frame, sources, size), await renderPicture(document, frame + 1, sources, size), share, between);
}
