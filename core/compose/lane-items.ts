/** Effects and elements alike: what they are called, and which settings they have. */
import type { ElementEffect, LaneItem } from '../document/schema.ts';
import { effectById, isKnownEffect } from '../effects/index.ts';
import { MATTE } from '../effects/matte-settings.ts';
import type { Descriptions } from '../effects/settings.ts';
import { elementById, isKnownElement, settingsOf } from '../elements/index.ts';
import { hasMatte } from '../elements/render-element.ts';

export const nameOf = (item: LaneItem | ElementEffect): string => (item.type === 'element' ? item.name : effectById(item.effect).label);

/** Whether this version knows what it is. */
export const isKnown = (item: LaneItem | ElementEffect): boolean => (item.type === 'element' ? isKnownElement(item.element) : isKnownEffect(item.effect));

export const descriptionsOf = (item: LaneItem | ElementEffect): Descriptions => {
  const own = item.type === 'element' ? settingsOf(elementById(item.element)) : effectById(item.effect).settings;
  return hasMatte(item) ? { ...own, ...MATTE } : own;
};

/** Whether it stands somewhere, and so can follow a track. */
export const hasPlace = (item: LaneItem): boolean => (item.type === 'effect' ? effectById(item.effect).placed : elementById(item.element).placed) === true;
