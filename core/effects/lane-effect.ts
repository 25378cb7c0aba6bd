/** Effects as records of the document: new ones with their starting values, and the values of their settings on a frame. */
import type { ElementEffect, Lane, LaneEffect } from '../document/schema.ts';
import { toLinear, toPlateValues } from '../image/light.ts';
import type { Rgba, Size } from '../image/picture.ts';
import type { EffectContext } from './effect.ts';
import { effectById } from './index.ts';
import { middleOf, startsOf, sumOf, type Values, valuesAt } from './settings.ts';

/** @param subject of a lane that is relative to one; `plate` that in whose middle an effect with a place begins */
export const newLaneEffect = (id: string, lane: Lane, subject: string | null, effect: string, plate?: Size): LaneEffect => ({
  id,
  type: 'effect',
  lane,
  subject,
  effect,
  enabled: true,
  mix: { constant: 1 },
  lives: [],
  follow: null,
  followAmount: { constant: 1 },
  blend: 'normal',
  matteOf: null,
  matteFootage: null,
  leaves: effectById(effect).leaves === true || effectById(effect).cuts === true,
  settings: {
    ...startsOf(effectById(effect).settings),
    ...(effectById(effect).placed && plate ? middleOf(plate) : {}),
  },
});

/** An effect of an element of a plate, with its settings as they start. */
export const newElementEffect = (id: string, effect: string, plate: Size): ElementEffect => {
  const { settings } = newLaneEffect(id, 'front', null, effect, plate);
  return { id, type: 'element-effect', effect, enabled: true, mix: { constant: 1 }, blend: 'normal', matteOf: null, matteFootage: null, settings };
};

export const settingsAt = (item: LaneEffect | ElementEffect, frame: number): Values => valuesAt(effectById(item.effect).settings, item.settings, frame);

/** Where and when an effect is seen; the rest of its context comes from its record. */
export type Where = Omit<EffectContext, 'sum' | 'valuesAt'> & {
  /** Whether the layer is in linear light. */
  linear: boolean;
};

/** Changes a premultiplied layer in place by an effect with the values that its settings have on the frame. */
export function runEffect(layer: Rgba, item: LaneEffect | ElementEffect, where: Where): void {
  const effect = effectById(item.effect);
  const turned = where.linear && !effect.mixes;
  if (turned) toPlateValues(layer);
  effect.render(layer, settingsAt(item, where.frame), {
    ...where,
    valuesAt: (time) => settingsAt(item, time),
    sum(setting, of) {
      const described = effect.settings[setting];
      return described?.kind === 'number' ? sumOf(described, item.settings[setting], of)(0, where.frame) : 0;
    },
  });
  if (turned) toLinear(layer);
}
