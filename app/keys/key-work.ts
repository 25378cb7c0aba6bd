/** Work on the keys of columns within a range of frames, each as edits of one step. */
import type { Edit } from '~/core/document/edits.ts';
import { hasKeys, type Key } from '~/core/time/animated.ts';
import type { Ease } from '~/core/time/ease.ts';
import { keysIn, pasteKeys, reverseKeys, shiftKeys, stretchKeys, withoutRange } from '~/core/time/key-blocks.ts';
import { smoothKeys, thinKeys } from '~/core/time/key-cleaning.ts';
import type { FrameRange } from '~/core/time/ranges.ts';
import { keyHereEdit, keysEdit } from '../edits/path-edits.ts';
import type { Column, KeyedSetting } from './columns.ts';

const settingsOf = (columns: readonly Column[]): KeyedSetting[] => columns.flatMap((c) => c.settings);

function changed(columns: readonly Column[], change: (keys: Key<unknown>[], setting: KeyedSetting) => Key<unknown>[]): Edit[] {
  return settingsOf(columns).flatMap((s): Edit[] => {
    if (!hasKeys(s.value)) return [];
    const edit = keysEdit(s.record, s.setting, s.value.keys, change(s.value.keys, s));
    return edit.kind === 'keys' && (edit.set.length > 0 || edit.clear.length > 0) ? [edit] : [];
  });
}

export const deleteEdits = (columns: readonly Column[], range: FrameRange): Edit[] => changed(columns, (keys) => withoutRange(keys, range));

export const shiftEdits = (columns: readonly Column[], range: FrameRange, by: number, frames: number): Edit[] =>
  changed(columns, (keys) => shiftKeys(keys, range, by, frames));

export const stretchEdits = (columns: readonly Column[], range: FrameRange, factor: number, frames: number): Edit[] =>
  changed(columns, (keys) => stretchKeys(keys, range, factor, frames));

export const reverseEdits = (columns: readonly Column[], range: FrameRange): Edit[] => changed(columns, (keys) => reverseKeys(keys, range));

export const thinEdits = (columns: readonly Column[], range: FrameRange, tolerance: number): Edit[] =>
  changed(columns, (keys, s) => thinKeys(keys, range, tolerance, s.kind, s.distance));

export const smoothEdits = (columns: readonly Column[], range: FrameRange, strength: number): Edit[] =>
  changed(columns, (keys, s) => smoothKeys(keys, range, strength, 2, s.kind));

export const easeEdits = (columns: readonly Column[], range: FrameRange, ease: Ease): Edit[] =>
  changed(columns, (keys) => keys.map((k) => (k.frame >= range.first && k.frame <= range.last ? { ...k, ease } : k)));

/** Keys on one frame that hold what is there, for every setting that has keys, and every shape. */
export const keyHereEdits = (columns: readonly Column[], frame: number): Edit[] =>
  settingsOf(columns).flatMap((s) =>
    hasKeys(s.value) || s.setting === 'shape' ? [keyHereEdit(s.record, s.setting, s.value, frame, s.kind.at(s.value, frame))] : [],
  );

export interface CopiedKeys {
  record: string;
  setting: string;
  keys: Key<unknown>[];
}

export const copyKeys = (columns: readonly Column[], range: FrameRange): CopiedKeys[] =>
  settingsOf(columns).flatMap(({ record, setting, value }) => {
    const keys = hasKeys(value) ? keysIn(value.keys, range) : [];
    return keys.length > 0 ? [{ record, setting, keys }] : [];
  });

/**
 * Puts copied keys down so that the earliest of them lies at `at`: into the settings they came from where the columns hold
 * those, else in order into settings of the same name.
 */
export function pasteEdits(columns: readonly Column[], copied: readonly CopiedKeys[], at: number, frames: number): Edit[] {
  const settings = settingsOf(columns);
  const earliest = Math.min(...copied.flatMap((c) => c.keys.map((k) => k.frame)));
  const taken = new Set<KeyedSetting>();
  return copied.flatMap((c): Edit[] => {
    const target = settings.find((s) => s.record === c.record && s.setting === c.setting) ?? settings.find((s) => s.setting === c.setting && !taken.has(s));
    if (!target) return [];
    taken.add(target);
    const before = hasKeys(target.value) ? target.value.keys : [];
    const after = pasteKeys(before, c.keys, at + c.keys[0].frame - earliest, frames);
    return [keysEdit(target.record, target.setting, before, after)];
  });
}
