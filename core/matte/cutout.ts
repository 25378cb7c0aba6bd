/** The cut-out of a subject. */
import type { ShotDocument } from '../document/schema.ts';
import { newRgba, type Rgba, type Size } from '../image/picture.ts';
import { numberAt } from '../time/animated.ts';
import { cleanColours } from './colour-cleaning.ts';
import { mattesOf } from './mattes.ts';
import type { Sources } from './sources.ts';

/** The plate cut by the subject's matte (which `mattes` may have by now), premultiplied, the colours of its soft edge cleaned as far as the subject asks. */
export async function renderCutout(
  document: ShotDocument,
  subjectId: string,
  frame: number,
  sources: Sources,
  size: Size,
  mattes = mattesOf(document, sources, size),
): Promise<Rgba> {
  const plate = await sources.plate(frame, size);
  const matte = await mattes(subjectId, frame);
  const out = newRgba(size.width, size.height);
  const subject = document.cast.find((s) => s.id === subjectId);
  const cleaning = subject ? numberAt(subject.edge.cleaning, frame) : 0;
  out.data.set(plate.data);
  cleanColours(out, matte, cleaning);
  for (let i = 0, p = 0; i < out.data.length; i += 4, p++) {
    const m = matte.data[p];
    out.data[i] *= m;
    out.data[i + 1] *= m;
    out.data[i + 2] *= m;
    out.data[i + 3] *= m;
  }
  return out;
}
