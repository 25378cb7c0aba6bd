/** Effects as records of the document: new ones with their starting values, and the values of their settings on a frame. */
import type { ElementEffect, Lane, LaneEffect } from '../document/schema.ts';
import type { Size } from '../image/picture.ts';
import { effectById } from './index.ts';
import { middleOf, startsOf, type Values, valuesAt } from './settings.ts';

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
  settings: {
    ...startsOf(effectById(effect).settings),
    ...(effectById(effect).placed && plate ? middleOf(plate) : {}),
  },
});

/** An effect of an element of a plate, with its settings as they start. */
export const newElementEffect = (id: string, effect: string, plate: Size): ElementEffect => {
  const { settings } = newLaneEffect(id, 'front', null, effect, plate);
  return { id, type: 'element-effect', effect, enabled: true, mix: { constant: 1 }, settings };
};

export const settingsAt = (item: LaneEffect | ElementEffect, frame: number): Values => valuesAt(effectById(item.effect).settings, item.settings, frame);
