/** renderPicture: what the finished picture is on a frame, and the cut-out of a subject. */
import type { LaneEffect, ShotDocument } from '../document/schema.ts';
import { effectById } from '../effects/index.ts';
import { settingsAt } from '../effects/lane-effect.ts';
import { type Gray, newRgba, type Rgba, type Size } from '../image/picture.ts';
import { type MatteSources, renderMatte } from '../matte/render-matte.ts';
import { numberAt } from '../time/animated.ts';
import { cleanColours } from './colour-cleaning.ts';

export interface Sources extends MatteSources {
  /** The plate on an integer frame at the asked size; what it gives is not changed. */
  plate(frame: number, size: Size): Promise<Rgba>;
}

/**
 * One effect confined by a matte: the effect sees the picture cut by the matte, so nothing from the other side bleeds in, and
 * what it makes replaces the picture by matte times mix.
 */
function applyConfined(picture: Rgba, matte: Gray, behind: boolean, item: LaneEffect, frame: number, scale: number): void {
  const mix = Math.max(0, Math.min(1, numberAt(item.mix, frame)));
  if (mix === 0) return;
  const layer = newRgba(picture.width, picture.height);
  const { data } = picture;
  const cut = layer.data;
  for (let i = 0, p = 0; i < data.length; i += 4, p++) {
    const m = behind ? 1 - matte.data[p] : matte.data[p];
    cut[i] = data[i] * m;
    cut[i + 1] = data[i + 1] * m;
    cut[i + 2] = data[i + 2] * m;
    cut[i + 3] = data[i + 3] * m;
  }
  effectById(item.effect).render(layer, settingsAt(item, frame), { scale, frame });
  for (let i = 0, p = 0; i < data.length; i += 4, p++) {
    const m = (behind ? 1 - matte.data[p] : matte.data[p]) * mix;
    const a = cut[i + 3];
    if (m === 0 || a < 1e-5) continue;
    // The plate is opaque, so the effect's own colour comes back by dividing out its alpha.
    data[i] += (cut[i] / a - data[i]) * m;
    data[i + 1] += (cut[i + 1] / a - data[i + 1]) * m;
    data[i + 2] += (cut[i + 2] / a - data[i + 2]) * m;
  }
}

/** The finished picture: the plate, then the lanes behind each subject, then those inside. Opaque. */
export async function renderPicture(document: ShotDocument, frame: number, sources: Sources, size: Size): Promise<Rgba> {
  const plate = await sources.plate(frame, size);
  const picture: Rgba = { width: plate.width, height: plate.height, data: plate.data.slice() };
  const scale = (size.width / document.plate.width + size.height / document.plate.height) / 2;
  const mattes = new Map<string, Gray>();
  for (const lane of ['behind', 'inside'] as const) {
    for (const item of document.lanes) {
      if (item.lane !== lane || !item.enabled) continue;
      let matte = mattes.get(item.subject);
      if (!matte) {
        matte = await renderMatte(document, item.subject, frame, sources, size);
        mattes.set(item.subject, matte);
      }
      applyConfined(picture, matte, lane === 'behind', item, frame, scale);
    }
  }
  return picture;
}

/** The plate cut by the subject's matte, premultiplied, the colours of its soft edge cleaned as far as the subject asks. */
export async function renderCutout(document: ShotDocument, subjectId: string, frame: number, sources: Sources, size: Size): Promise<Rgba> {
  const plate = await sources.plate(frame, size);
  const matte = await renderMatte(document, subjectId, frame, sources, size);
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
