/** The effects of one element: each changes its layer, before that is laid into the picture. */
import type { Element } from '../document/schema.ts';
import type { EffectContext } from '../effects/effect.ts';
import { effectById, isKnownEffect } from '../effects/index.ts';
import { settingsAt } from '../effects/lane-effect.ts';
import type { Rgba } from '../image/picture.ts';
import { numberAt } from '../time/animated.ts';

/**
 * Changes the premultiplied layer of an element by its effects, in their order. One that does not say that it reaches beyond what it is
 * given changes colours alone: alpha stays.
 */
export function applyOwnEffects(layer: Rgba, { effects }: Pick<Element, 'effects'>, context: EffectContext): void {
  const { data } = layer;
  for (const own of effects) {
    const mix = Math.min(1, numberAt(own.mix, context.frame));
    if (!own.enabled || mix <= 0 || !isKnownEffect(own.effect)) continue;
    const effect = effectById(own.effect);
    const values = settingsAt(own, context.frame);
    // What was there is needed again by those that stay within it, and where only a part of the effect is taken.
    const before = effect.reach && mix === 1 ? null : data.slice();
    effect.render(layer, values, context);
    if (!before) continue;
    if (!effect.reach) confine(data, before);
    if (mix < 1) for (let i = 0; i < data.length; i++) data[i] = before[i] + (data[i] - before[i]) * mix;
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
