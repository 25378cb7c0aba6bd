/** Effects as records of the document: new ones with their starting values, and the values of their settings on a frame. */
import type { Lane, LaneEffect } from '../document/schema.ts';
import { mixLists, mixNumbers, valueAt } from '../time/animated.ts';
import { effectById } from './index.ts';

export function newLaneEffect(id: string, lane: Lane, subject: string, effect: string): LaneEffect {
  const { settings } = effectById(effect);
  return {
    id,
    type: 'effect',
    lane,
    subject,
    effect,
    enabled: true,
    mix: { constant: 1 },
    settings: Object.fromEntries(Object.entries(settings).map(([key, s]) => [key, { constant: s.start }])),
  };
}

/** Values of all settings of an effect on `frame`, within their ranges; settings the record lacks are as they start. */
export function settingsAt(item: LaneEffect, frame: number): Record<string, number | number[]> {
  const values: Record<string, number | number[]> = {};
  for (const [key, described] of Object.entries(effectById(item.effect).settings)) {
    const own = item.settings[key];
    const value = own
      ? valueAt<number | number[]>(own, frame, (a, b, t) => (Array.isArray(a) ? mixLists(a, b as number[], t) : mixNumbers(a, b as number, t)))
      : described.start;
    if (described.kind === 'number') values[key] = Math.max(described.min, Math.min(described.max, typeof value === 'number' ? value : described.start));
    else values[key] = Array.isArray(value) && value.length === described.start.length ? value : described.start;
  }
  return values;
}
