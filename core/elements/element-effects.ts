/** The effects of one element: each changes its layer, before that is laid into the picture. */
import type { Element, ElementEffect, LaneEffect } from '../document/schema.ts';
import { effectById, isKnownEffect } from '../effects/index.ts';
import { runEffect, type Where } from '../effects/lane-effect.ts';
import type { Rgba } from '../image/picture.ts';
import { numberAt } from '../time/animated.ts';

/** Changes the premultiplied layer of an element by its effects, in their order. */
export function applyOwnEffects(layer: Rgba, { effects }: Pick<Element, 'effects'>, where: Where): void {
  for (const own of effects) {
    const mix = Math.min(1, numberAt(own.mix, where.frame));
    if (own.enabled && mix > 0 && isKnownEffect(own.effect)) applyWithin(layer, own, mix, where, true);
  }
}

/**
 * Changes a premultiplied layer by one effect, as strong as `mix`. One that does not say that it reaches beyond what it is given, or
 * that may not leave it, changes colours alone: alpha stays.
 */
export function applyWithin(layer: Rgba, item: LaneEffect | ElementEffect, mix: number, where: Where, leaves: boolean): void {
  const { data } = layer;
  const effect = effectById(item.effect);
  const free = leaves && effect.reach !== undefined;
  // What was there is needed again by those that stay within it, and where only a part of the effect is taken.
  const before = free && mix === 1 ? null : data.slice();
  runEffect(layer, item, where);
  if (!before) return;
  if (!free) confine(data, before);
  if (mix < 1) for (let i = 0; i < data.length; i++) data[i] = before[i] + (data[i] - before[i]) * mix;
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
