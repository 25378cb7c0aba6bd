/** Every setting of a part, an edge or an item that can change over time, whether it has keys or not, and keying them all at once. */
import { descriptionsOf } from '~/core/compose/lane-items.ts';
import { EDGE_NAMES } from '~/core/document/edge-settings.ts';
import type { Edit } from '~/core/document/edits.ts';
import type { ElementEffect, LaneItem, Part, Subject } from '~/core/document/schema.ts';
import type { Animated } from '~/core/time/animated.ts';
import { keyHereEdit } from '../edits/path-edits.ts';
import { type KeyedSetting, keyedOfPart, keyedSetting, shapeSettings } from './columns.ts';

type Plain = Animated<number | number[] | string>;

/** Of a part: its curves, its opacity, and what its kind has. */
export const settingsOfPart = (part: Part): KeyedSetting[] => [
  ...shapeSettings(part),
  keyedSetting(part.id, 'opacity', part.opacity),
  ...keyedOfPart(part).map(({ setting, value }) => keyedSetting(part.id, setting, value)),
];

/** Of a subject: every step of its edge. */
export const settingsOfEdge = ({ id, edge }: Subject): KeyedSetting[] => EDGE_NAMES.map((name) => keyedSetting(id, `edge.${name}`, edge[name] as Plain));

/** Of what is in a lane: its strength, its corners where it is placed by them, and all that its kind and its own effects describe. */
export const settingsOfItem = (item: LaneItem | ElementEffect): KeyedSetting[] => [
  keyedSetting(item.id, 'mix', item.mix),
  ...(item.type !== 'element-effect' && item.follow ? [keyedSetting(item.id, 'followAmount', item.followAmount)] : []),
  ...(item.type === 'element' && item.corners ? [keyedSetting(item.id, 'corners', item.corners)] : []),
  ...Object.entries(descriptionsOf(item)).map(([name, { start }]) =>
    keyedSetting(item.id, `settings.${name}`, (item.settings[name] ?? { constant: start }) as Plain),
  ),
  ...(item.type === 'element' ? item.effects : []).flatMap(settingsOfItem),
];

/** Edits that put a key on a frame for each of them, which holds what is there: no frame changes, and all of it can from here on. */
export const keyAllEdits = (settings: readonly KeyedSetting[], frame: number): Edit[] =>
  settings.map((s) => keyHereEdit(s.record, s.setting, s.value, frame, s.kind.at(s.value, frame)));
