/** renderPicture: what the finished picture is on a frame. */
import { followedMotion } from '../document/follow.ts';
import type { LaneEffect, LaneItem, ShotDocument } from '../document/schema.ts';
import type { EffectContext } from '../effects/effect.ts';
import { effectById } from '../effects/index.ts';
import { settingsAt } from '../effects/lane-effect.ts';
import { renderElement } from '../elements/render-element.ts';
import { type Gray, newRgba, type Rgba, type Size } from '../image/picture.ts';
import { BLEND, type Blend } from '../math/blend.ts';
import { applyTo } from '../math/homography.ts';
import { mattesOf } from '../matte/mattes.ts';
import type { Sources } from '../matte/sources.ts';
import { numberAt } from '../time/animated.ts';
import { isWithin } from '../time/ranges.ts';
import { isKnown } from './lane-items.ts';
import { confinedTo, isIn, lanesInDepth } from './lanes.ts';

/**
 * One effect confined by a matte (null: everywhere): the effect sees the picture cut by the matte, so nothing from the other side
 * bleeds in, and what it makes replaces the picture by matte times mix.
 */
function applyConfined(picture: Rgba, matte: Gray | null, item: LaneEffect, mix: number, context: EffectContext): void {
  const layer = newRgba(picture.width, picture.height);
  const { data } = picture;
  const cut = layer.data;
  for (let i = 0, p = 0; i < data.length; i += 4, p++) {
    const m = matte ? matte.data[p] : 1;
    cut[i] = data[i] * m;
    cut[i + 1] = data[i + 1] * m;
    cut[i + 2] = data[i + 2] * m;
    cut[i + 3] = data[i + 3] * m;
  }
  effectById(item.effect).render(layer, settingsAt(item, context.frame), context);
  for (let i = 0, p = 0; i < data.length; i += 4, p++) {
    const m = (matte ? matte.data[p] : 1) * mix;
    const a = cut[i + 3];
    if (m === 0 || a < 1e-5) continue;
    // The plate is opaque, so the effect's own colour comes back by dividing out its alpha.
    data[i] += (cut[i] / a - data[i]) * m;
    data[i + 1] += (cut[i + 1] / a - data[i + 1]) * m;
    data[i + 2] += (cut[i + 2] / a - data[i + 2]) * m;
  }
}

/** Lays a premultiplied layer over the opaque picture, confined by a matte (null: everywhere) and as strong as `mix`. */
function layConfined(picture: Rgba, layer: Rgba, matte: Gray | null, blend: Blend, mix: number): void {
  const mixed = BLEND[blend];
  const { data } = picture;
  for (let i = 0, p = 0; i < data.length; i += 4, p++) {
    const a = layer.data[i + 3];
    const m = a * mix * (matte ? matte.data[p] : 1);
    if (m <= 0) continue;
    for (let k = i; k < i + 3; k++) data[k] += (mixed(data[k], layer.data[k] / a) - data[k]) * m;
  }
}

/** What an effect needs to know of the picture it changes. */
function contextOf(document: ShotDocument, { follow }: LaneEffect, frame: number, size: Size): EffectContext {
  const [scaleX, scaleY] = [size.width / document.plate.width, size.height / document.plate.height];
  const motion = follow && followedMotion(document, follow, frame);
  return {
    frame,
    scale: (scaleX + scaleY) / 2,
    at(x, y) {
      const [px, py] = motion ? applyTo(motion, x, y) : [x, y];
      return [px * scaleX, py * scaleY];
    },
  };
}

/** Whether something is asked to be seen on a frame at all. */
export const isAsked = (item: LaneItem, frame: number): boolean =>
  item.enabled && isKnown(item) && (item.lives.length === 0 || isWithin(item.lives, frame)) && numberAt(item.mix, frame) > 0;

/**
 * The finished picture: the plate, and onto it what is in the lanes, far to near. Opaque.
 * @param onItem told before each effect or element how many of how many are done
 */
export async function renderPicture(
  document: ShotDocument,
  frame: number,
  sources: Sources,
  size: Size,
  onItem: (done: number, of: number) => void = () => {},
): Promise<Rgba> {
  const plate = await sources.plate(frame, size);
  const picture: Rgba = { width: plate.width, height: plate.height, data: plate.data.slice() };
  const mattes = mattesOf(document, sources, size);
  const given = { document, sources, size, mattes };
  const of = document.lanes.filter((item) => isAsked(item, frame)).length;
  let done = 0;
  for (const lanePlace of lanesInDepth(document)) {
    let confined: Promise<Gray | null> | undefined;
    for (const item of document.lanes) {
      if (!isIn(item, lanePlace) || !isAsked(item, frame)) continue;
      const mix = Math.min(1, numberAt(item.mix, frame));
      onItem(done++, of);
      confined ??= confinedTo(lanePlace, document.cast, frame, mattes, size);
      if (item.type === 'effect') applyConfined(picture, await confined, item, mix, contextOf(document, item, frame, size));
      else {
        const layer = await renderElement(given, item, frame);
        if (layer) layConfined(picture, layer, await confined, item.blend, mix);
      }
    }
  }
  return picture;
}
