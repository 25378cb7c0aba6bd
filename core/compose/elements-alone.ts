/** What is in the lanes without the plate: see-through where nothing is, or where a subject is in front. */
import type { ShotDocument } from '../document/schema.ts';
import { newRgba, type Rgba, type Size } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import type { Sources } from '../matte/sources.ts';
import { renderPicture } from './render-picture.ts';

/**
 * Premultiplied. It is told from the picture over black and the same over white (A. R. Smith and J. Blinn, "Blue screen matting", SIGGRAPH
 * 1996, 3.3): exact for all that is laid over the plate as it is; what blends with the plate or changes it has the light that it has over
 * black.
 */
export async function renderElementsAlone(document: ShotDocument, frame: number, sources: Sources, size: Size): Promise<Rgba> {
  const over = (value: number): Promise<Rgba> => {
    const plate = async (_frame: number, { width, height }: Size): Promise<Rgba> => {
      const out = newRgba(width, height);
      for (let i = 0; i < out.data.length; i += 4) out.data.set([value, value, value, 1], i);
      return out;
    };
    return renderPicture(document, frame, { ...sources, plate, plateBytes: undefined }, size);
  };
  const [black, white] = [await over(0), await over(1)];
  for (let i = 0; i < black.data.length; i += 4) {
    const through = Math.max(white.data[i] - black.data[i], white.data[i + 1] - black.data[i + 1], white.data[i + 2] - black.data[i + 2]);
    const alpha = clamp(1 - through, 0, 1);
    black.data[i + 3] = alpha;
    for (let k = i; k < i + 3; k++) black.data[k] = clamp(black.data[k], 0, alpha);
  }
  return black;
}
