/** Effects and elements alike: what they are called, and which settings they have. */
import type { LaneItem } from '../document/schema.ts';
import { effectById, isKnownEffect } from '../effects/index.ts';
import type { Descriptions } from '../effects/settings.ts';
import { elementById, isKnownElement, settingsOf } from '../elements/index.ts';

export const nameOf = (item: LaneItem): string => (item.type === 'effect' ? effectById(item.effect).label : item.name);

/** Whether this version knows what it is. */
export const isKnown = (item: LaneItem): boolean => (item.type === 'effect' ? isKnownEffect(item.effect) : isKnownElement(item.element));

export const descriptionsOf = (item: LaneItem): Descriptions =>
  item.type === 'effect' ? effectById(item.effect).settings : settingsOf(elementById(item.element));

/** Whether it stands somewhere, and so can follow a track. */
export const hasPlace = (item: LaneItem): boolean => (item.type === 'effect' ? effectById(item.effect).placed : elementById(item.element).placed) === true;
