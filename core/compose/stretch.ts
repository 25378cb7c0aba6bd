/** An item laid over other frames: its life, its keys and what else of it is told in frames, moved and stretched in proportion. */
import { type Edit, EditError } from '../document/edits.ts';
import type { ElementEffect, LaneItem, Setting } from '../document/schema.ts';
import type { Descriptions } from '../effects/settings.ts';
import { type Animated, hasKeys, keyFrames } from '../time/animated.ts';
import type { FrameRange } from '../time/ranges.ts';
import { descriptionsOf } from './lane-items.ts';

/** All of an item that changes over time, by the record that has it: that, and effects of its own. */
const animatedIn = (item: LaneItem): [id: string, setting: string, value: Animated<unknown>][] => [
  [item.id, 'mix', item.mix],
  [item.id, 'followAmount', item.followAmount],
  ...(item.type === 'element' && item.corners ? [[item.id, 'corners', item.corners] as [string, string, Animated<unknown>]] : []),
  ...[item, ...(item.type === 'element' ? item.effects : [])].flatMap((of) =>
    Object.entries(of.settings).map(([key, value]): [string, string, Animated<unknown>] => [of.id, `settings.${key}`, value]),
  ),
  ...(item.type === 'element' ? item.effects.map((own): [string, string, Animated<unknown>] => [own.id, 'mix', own.mix]) : []),
];

/** The frames from the first to the last that say something of an item: those on which it lives, or of its keys; all of the shot where there are none. */
export function spanOf(item: LaneItem, frames: number): FrameRange {
  const own = item.lives.length > 0 ? item.lives.flatMap((r) => [r.first, r.last]) : animatedIn(item).flatMap(([, , value]) => keyFrames(value));
  return own.length > 0 ? { first: Math.min(...own), last: Math.max(...own) } : { first: 0, last: frames - 1 };
}

/** What of a record is told in frames of the shot, with the frames that it says. */
function toldInFrames(of: LaneItem | ElementEffect, descriptions: Descriptions): { key: string; value: Setting; frames: 'place' | 'span' }[] {
  return Object.entries(descriptions).flatMap(([key, d]) =>
    d.kind === 'number' && d.frames && of.settings[key] ? [{ key, value: of.settings[key], frames: d.frames }] : [],
  );
}

/**
 * Edits that lay an item over other frames: what was on the first and the last of `from` comes to those of `to`.
 * @throws EditError where keys would fall together
 */
export function stretchEdits(item: LaneItem, from: FrameRange, to: FrameRange): Edit[] {
  const ratio = from.last > from.first ? (to.last - to.first) / (from.last - from.first) : 1;
  const moved = (frame: number): number => Math.max(0, Math.round(to.first + (frame - from.first) * ratio));
  const keyed = <T>(value: Animated<T>): Animated<T> => {
    if (!hasKeys(value)) return value;
    const keys = value.keys.map((k) => ({ ...k, frame: moved(k.frame) }));
    if (new Set(keys.map((k) => k.frame)).size < keys.length)
      throw new EditError('Some of its keys would fall on one frame: choose a longer range, or thin its keys first.');
    return { keys };
  };
  const animated = new Map(animatedIn(item).map(([id, setting, value]) => [`${id} ${setting}`, { id, setting, value: keyed(value) }]));
  for (const of of [item, ...(item.type === 'element' ? item.effects : [])])
    for (const { key, value, frames } of toldInFrames(of, descriptionsOf(of))) {
      const told = (v: unknown): unknown =>
        typeof v !== 'number' ? v : frames === 'place' ? Math.round(to.first + (v - from.first) * ratio) : Math.max(1, Math.round(v * ratio));
      const at = keyed(value) as Animated<unknown>;
      const next = hasKeys(at) ? { keys: at.keys.map((k) => ({ ...k, value: told(k.value) })) } : { constant: told(at.constant) };
      animated.set(`${of.id} settings.${key}`, { id: of.id, setting: `settings.${key}`, value: next });
    }
  const lives = item.lives.map((r) => ({ first: moved(r.first), last: moved(r.last) }));
  const before = new Map(animatedIn(item).map(([id, setting, value]) => [`${id} ${setting}`, value]));
  return [
    ...(lives.length > 0 ? [{ kind: 'assign' as const, id: item.id, values: { lives } }] : []),
    ...[...animated].flatMap(([name, edit]): Edit[] =>
      JSON.stringify(before.get(name)) === JSON.stringify(edit.value) ? [] : [{ kind: 'animate', ...edit } as Edit],
    ),
  ];
}
