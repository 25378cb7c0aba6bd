/** Effects as records of the document: new ones with their starting values, and the values of their settings on a frame. */
import type { Lane, LaneEffect } from '../document/schema.ts';
import { effectById } from './index.ts';
import { startsOf, type Values, valuesAt } from './settings.ts';

/** @param subject of a lane that is relative to one */
export const newLaneEffect = (id: string, lane: Lane, subject: string | null, effect: string): LaneEffect => ({
  id,
  type: 'effect',
  lane,
  subject,
  effect,
  enabled: true,
  mix: { constant: 1 },
  settings: startsOf(effectById(effect).settings),
});

export const settingsAt = (item: LaneEffect, frame: number): Values => valuesAt(effectById(item.effect).settings, item.settings, frame);
