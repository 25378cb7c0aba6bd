/** The effects of one element: each changes its layer, before that is laid into the picture. */
import type { Element, ElementEffect, LaneEffect } from '../document/schema.ts';
import { changesShape } from '../effects/effect.ts';
import { effectById, isKnownEffect } from '../effects/index.ts';
import { runEffect, type Where } from '../effects/lane-effect.ts';
import type { Gray, Layer } from '../image/picture.ts';
import { type Blend, blender } from '../math/blend.ts';
import { numberAt } from '../time/animated.ts';

/**
 * Changes the premultiplied layer of an element by its effects, in their order.
 * @param matteOf that of an effect, on all of the picture
 */
export async function applyOwnEffects(
  layer: Layer,
  { effects }: Pick<Element, 'effects'>,
  where: Where,
  matteOf: (effect: ElementEffect) => Promise<Gray | null>,
): Promise<void> {
  for (const own of effects) {
    const mix = Math.min(1, numberAt(own.mix, where.frame));
    if (own.enabled && mix > 0 && isKnownEffect(own.effect)) applyWithin(layer, own, mix, where, true, await matteOf(own));
  }
}

/**
 * Changes a premultiplied layer by one effect, as strong as `mix`. One that does not say that it reaches beyond what it is given, or
 * that may not leave it, changes colours alone: alpha stays.
 */
export function applyWithin(layer: Layer, item: LaneEffect | ElementEffect, mix: number, where: Where, leaves: boolean, matte: Gray | null = null): void {
  const { data } = layer;
  const effect = effectById(item.effect);
  const free = leaves && changesShape(effect);
  const by = effect.matteMoves ? null : matte;
  // What was there is needed again by those that stay within it, and where only a part of the effect is taken.
  const before = free && mix === 1 && !by && item.blend === 'normal' ? null : data.slice();
  runEffect(layer, item, effect.matteMoves ? { ...where, matte } : where);
  if (!before) return;
  if (!free) confine(data, before);
  if (item.blend !== 'normal') blendOnto(data, before, item.blend);
  if (by) mixBy(layer, before, by, mix);
  else if (mix < 1) for (let i = 0; i < data.length; i++) data[i] = before[i] + (data[i] - before[i]) * mix;
}

/** Goes from what was there to what is there as far as a matte of the whole picture says, and no farther than `mix`. */
function mixBy({ left, top, width, height, data }: Layer, before: Float32Array, matte: Gray, mix: number): void {
  for (let y = 0, i = 0; y < height; y++)
    for (let p = (y + top) * matte.width + left, end = p + width; p < end; p++) {
      const share = matte.data[p] * mix;
      for (const last = i + 4; i < last; i++) data[i] = before[i] + (data[i] - before[i]) * share;
    }
}

/** Blends the colours of a changed layer with those that it had, where it had any. */
function blendOnto(data: Float32Array, before: Float32Array, blend: Blend): void {
  const mixed = blender(blend);
  const [b, s] = [new Float64Array(3), new Float64Array(3)];
  for (let i = 0; i < data.length; i += 4) {
    const [was, is] = [before[i + 3], data[i + 3]];
    if (was <= 0 || is <= 0) continue;
    for (let k = 0; k < 3; k++) {
      b[k] = Math.min(1, before[i + k] / was);
      s[k] = Math.min(1, data[i + k] / is);
    }
    mixed(b, s);
    // As where a picture is laid over one that is see-through: it blends where that is there, and is itself elsewhere.
    for (let k = 0; k < 3; k++) data[i + k] = Math.min(is, data[i + k] * (1 - was) + s[k] * is * was);
  }
}

/** The colours of a changed layer with the alpha that it had. */
function confine(data: Float32Array, before: Float32Array): void {
  for (let i = 0; i < data.length; i += 4) {
    const [was, is] = [before[i + 3], data[i + 3]];
    if (was === is) continue;
    const share = is > 0 ? was / is : 0;
    data[i] *= share;
    data[i + 1] *= share;
    data[i + 2] *= share;
    data[i + 3] = was;
  }
}
