/** Effects and elements alike: what they are called, and which settings they have. */
import type { ElementEffect, LaneItem, ShotDocument } from '../document/schema.ts';
import { effectById, isKnownEffect } from '../effects/index.ts';
import { MATTE } from '../effects/matte-settings.ts';
import { type Descriptions, valuesAt } from '../effects/settings.ts';
import type { End } from '../elements/element.ts';
import { elementById, endsOf, isKnownElement, isLed, settingsOf } from '../elements/index.ts';
import { endAt, type Leading } from '../elements/place.ts';
import { hasMatte } from '../elements/render-element.ts';
import { isDrawn } from '../elements/source.ts';

export const nameOf = (item: LaneItem | ElementEffect): string => (item.type === 'element' ? item.name : effectById(item.effect).label);

/** Whether this version knows what it is. */
export const isKnown = (item: LaneItem | ElementEffect): boolean => (item.type === 'element' ? isKnownElement(item.element) : isKnownEffect(item.effect));

export const descriptionsOf = (item: LaneItem | ElementEffect): Descriptions => {
  const own = item.type === 'element' ? settingsOf(elementById(item.element)) : effectById(item.effect).settings;
  return hasMatte(item) ? { ...own, ...MATTE } : own;
};

/** The document with some of its items only. The others are switched off, not taken away: one may be the matte of something. */
export const showingOnly = <D extends Pick<ShotDocument, 'lanes'>>(document: D, items: readonly LaneItem[]): D => ({
  ...document,
  lanes: document.lanes.map((l) => (items.includes(l) ? l : { ...l, enabled: false })),
});

/** The ends between which it lies; none where it has none. */
export const endsOfItem = (item: LaneItem): readonly End[] => (item.type === 'element' ? endsOf(elementById(item.element)) : []);

/** What of an effect is aimed: its settings for that; null where nothing is. */
export const aimOf = (item: LaneItem): { angle: string; length: string } | null => (item.type === 'effect' ? (effectById(item.effect).aim ?? null) : null);

/** Both ends of what an effect is aimed at, about the middle of the plate. */
export function aimOn({ plate }: Pick<ShotDocument, 'plate'>, item: LaneItem, frame: number): [number, number][] {
  const aim = aimOf(item);
  if (!aim) return [];
  const values = valuesAt(descriptionsOf(item), item.settings, frame);
  const [turn, half] = [((values[aim.angle] as number) * Math.PI) / 180, (values[aim.length] as number) / 2];
  return [-1, 1].map((side) => [plate.width / 2 + side * half * Math.cos(turn), plate.height / 2 + side * half * Math.sin(turn)]);
}

/** Whether it stands somewhere, or lies between ends, and so can follow a track. */
export const hasPlace = (item: LaneItem): boolean =>
  endsOfItem(item).length > 0 ||
  (item.type === 'element' && (isLed(elementById(item.element)) || isDrawn(item))) ||
  (item.type === 'effect' ? effectById(item.effect).placed : elementById(item.element).placed) === true;

/** Where its ends are on the plate on a frame. */
export const endsOn = (document: Leading, item: LaneItem, frame: number): { end: End; at: [number, number] }[] => {
  const values = valuesAt(descriptionsOf(item), item.settings, frame);
  return endsOfItem(item).map((end) => ({ end, at: endAt(document, item, end, values, frame) }));
};
