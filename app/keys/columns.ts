/** The columns of the Sheet: every keyed setting of the current subject and its lanes, with the frames of its keys. */
import { useMemo, useRef } from 'react';
import { descriptionsOf, nameOf } from '~/core/compose/lane-items.ts';
import { EDGE_NAMES, EDGE_SETTINGS } from '~/core/document/edge-settings.ts';
import { isSure, PLACES, placesOf } from '~/core/document/follow.ts';
import { kindOfPart } from '~/core/document/part-kinds/index.ts';
import { pathsOf } from '~/core/document/parts.ts';
import { type ElementEffect, type LaneItem, type Part, type Placed, SHOT, type Subject, type Timing, type Track } from '~/core/document/schema.ts';
import { distanceBetween } from '~/core/path/between.ts';
import type { Shape } from '~/core/path/path.ts';
import { type Animated, hasKeys, keyFrames } from '~/core/time/animated.ts';
import { CHOICES, LISTS, NUMBERS, type ValueKind } from '~/core/time/reach.ts';
import { REASONS } from '~/core/track/quality.ts';
import { kindOf } from '../edits/path-edits.ts';
import { useShot } from '../state/shot-context.tsx';
import { useSettledSubject, useView, useWorkedTrack } from '../state/workbench-context.tsx';

/** One animated setting of one record, with what its values can do. */
export interface KeyedSetting {
  record: string;
  setting: string;
  value: Animated<unknown>;
  kind: ValueKind<unknown>;
  /** How far two values are apart: pixels for shapes. */
  distance(a: unknown, b: unknown): number;
}

export interface Column {
  id: string;
  /** What the keys belong to, and which setting. */
  owner: string;
  label: string;
  /** Frames that hold a key, rising. */
  keys: number[];
  has: ReadonlySet<number>;
  /** Record that a press on the column selects. */
  record: string;
  settings: KeyedSetting[];
  /** What is wrong on frames: where a track is not to be trusted, 0 to 100 like the doubt of a Peel, and why; where footage ends. */
  doubt?: ReadonlyMap<number, Guess>;
}

export interface Guess {
  doubt: number;
  reason: string;
  /** What its row says; its doubt where nothing is said. */
  text?: string;
}

const numberSetting = (record: string, setting: string, value: Animated<number>): KeyedSetting => ({
  record,
  setting,
  value,
  kind: NUMBERS as ValueKind<unknown>,
  distance: (a, b) => Math.abs((a as number) - (b as number)),
});

const listSetting = (record: string, setting: string, value: Animated<number[]>): KeyedSetting => ({
  record,
  setting,
  value,
  kind: LISTS as ValueKind<unknown>,
  distance: (a, b) => Math.max(...(a as number[]).map((v, i) => Math.abs(v - (b as number[])[i]))),
});

const choiceSetting = (record: string, setting: string, value: Animated<string>): KeyedSetting => ({
  record,
  setting,
  value,
  kind: CHOICES as ValueKind<unknown>,
  distance: (a, b) => (a === b ? 0 : Number.POSITIVE_INFINITY),
});

export const shapeSettings = (part: Part): KeyedSetting[] =>
  pathsOf(part).map((path) => ({
    record: path.id,
    setting: 'shape',
    value: path.shape,
    kind: kindOf(path) as ValueKind<unknown>,
    distance: (a, b) => ((a as Shape).length === (b as Shape).length ? distanceBetween(a as Shape, b as Shape) : Number.POSITIVE_INFINITY),
  }));

/** What the kind of a part lets be keyed, beside its opacity and its curves. */
export const keyedOfPart = (part: Part): { setting: string; label: string; value: Animated<number | number[] | string> }[] =>
  Object.entries(kindOfPart(part).keyed).map(([setting, label]) => ({ setting, label, value: (part as unknown as Record<string, Animated<number>>)[setting] }));

/** Places of a track that are guesses. */
const guessesOf = (track: Track): ReadonlyMap<number, Guess> =>
  new Map(
    placesOf(track).flatMap(({ frame, value }) =>
      isSure(value) ? [] : [[frame, { doubt: Math.round(100 * (1 - value.quality)), reason: value.reason ? REASONS[value.reason] : 'not sure' }] as const],
    ),
  );

const placeSetting = (track: Track): KeyedSetting => ({
  record: track.id,
  setting: 'motion',
  value: track.motion,
  kind: PLACES as ValueKind<unknown>,
  distance: (a, b) => Math.hypot((a as Placed).at[0] - (b as Placed).at[0], (a as Placed).at[1] - (b as Placed).at[1]),
});

/** The setting with what its kind of value can do: a number, a list of them, or a choice. */
export function keyedSetting(record: string, setting: string, value: Animated<number | number[] | string>): KeyedSetting {
  const one = hasKeys(value) ? value.keys[0].value : value.constant;
  if (typeof one === 'string') return choiceSetting(record, setting, value as Animated<string>);
  return Array.isArray(one) ? listSetting(record, setting, value as Animated<number[]>) : numberSetting(record, setting, value as Animated<number>);
}

/** Columns in order (@param composing whether all that is in the lanes is worked on): the selected track, then parts, edge and lanes, then the tracks that parts follow. */
export function columnsOf(
  subject: Subject | null,
  lanes: readonly LaneItem[],
  tracks: readonly Track[] = [],
  selected: string | null = null,
  composing = false,
  timing: Timing | null = null,
  borders: { id: string; frames: ReadonlySet<number> } | null = null,
): Column[] {
  const columns: Column[] = [];
  const add = (id: string, owner: string, label: string, record: string, settings: KeyedSetting[], doubt?: Column['doubt']) => {
    const has = new Set(settings.flatMap((s) => keyFrames(s.value)));
    columns.push({ id, owner, label, record, settings, has, keys: [...has].sort((a, b) => a - b), ...(doubt ? { doubt } : {}) });
  };
  const addTracks = (these: readonly Track[]) => {
    for (const track of these) add(track.id, track.name, 'track', track.id, [placeSetting(track)], guessesOf(track));
  };
  const addItem = (item: LaneItem | ElementEffect, within?: LaneItem) => {
    const described = descriptionsOf(item);
    const owner = within ? `${nameOf(within)}: ${nameOf(item)}` : nameOf(item);
    const record = (within ?? item).id;
    if (hasKeys(item.mix)) add(`${item.id}.mix`, owner, 'mix', record, [numberSetting(item.id, 'mix', item.mix)]);
    if (item.type !== 'element-effect' && hasKeys(item.followAmount))
      add(`${item.id}.followAmount`, owner, 'goes along', record, [numberSetting(item.id, 'followAmount', item.followAmount)]);
    if (item.type === 'element' && item.corners && hasKeys(item.corners))
      add(`${item.id}.corners`, owner, 'corners', record, [listSetting(item.id, 'corners', item.corners)]);
    for (const [key, value] of Object.entries(item.settings)) {
      if (!hasKeys(value)) continue;
      add(`${item.id}.${key}`, owner, described[key]?.label ?? key, record, [keyedSetting(item.id, `settings.${key}`, value)]);
    }
    if (item.type === 'element') for (const own of item.effects) addItem(own, item);
  };
  addTracks(tracks.filter((t) => t.id === selected));
  const bare = composing && borders && borders.frames.size > 0 ? lanes.find((l) => l.id === borders.id) : undefined;
  if (bare && borders) {
    const empty = new Map([...borders.frames].map((frame) => [frame, { doubt: 100, reason: 'an empty border shows', text: 'empty' }]));
    add(`${bare.id}.border`, nameOf(bare), 'border', bare.id, [], empty);
  }
  if (composing && timing && hasKeys(timing.speed)) add('timing.speed', 'Timing', 'speed', SHOT, [numberSetting(SHOT, 'timing.speed', timing.speed)]);
  // Where the picture is put together, what is in the lanes comes first, whatever it is relative to.
  for (const item of lanes) if (composing || item.subject === null) addItem(item);
  if (!subject) return columns;
  for (const part of subject.parts) {
    if (part.type === 'spline') add(part.id, part.name, 'shape', part.id, shapeSettings(part));
    if (hasKeys(part.opacity)) add(`${part.id}.opacity`, part.name, 'opacity', part.id, [numberSetting(part.id, 'opacity', part.opacity)]);
    for (const { setting, label, value } of keyedOfPart(part))
      if (hasKeys(value)) add(`${part.id}.${setting}`, part.name, label, part.id, [keyedSetting(part.id, setting, value)]);
  }
  for (const setting of EDGE_NAMES) {
    const value: Animated<number | string> = subject.edge[setting];
    if (hasKeys(value)) add(`edge.${setting}`, 'Edge', EDGE_SETTINGS[setting].column, subject.id, [keyedSetting(subject.id, `edge.${setting}`, value)]);
  }
  for (const item of lanes) if (!composing && item.subject === subject.id) addItem(item);
  addTracks(tracks.filter((t) => t.id !== selected));
  return columns;
}

/** Whether a column is the way of a track, which has a place on nearly every frame. */
export const isTrack = (column: Column): boolean => column.settings.some((s) => s.setting === 'motion');

/** Columns of owners in `folded` as one each, with the keys of all of them. */
export function foldColumns(columns: readonly Column[], folded: ReadonlySet<string>): Column[] {
  const out: Column[] = [];
  for (const column of columns) {
    const group = folded.has(column.owner) ? out.find((c) => c.owner === column.owner) : undefined;
    if (!group) {
      out.push(folded.has(column.owner) ? { ...column, id: `folded.${column.owner}`, label: 'all' } : column);
      continue;
    }
    const has = new Set([...group.has, ...column.has]);
    Object.assign(group, { has, keys: [...has].sort((a, b) => a - b), settings: [...group.settings, ...column.settings] });
  }
  return out;
}

export function useColumns(): Column[] {
  const subject = useSettledSubject();
  const lanes = useShot((s) => s.history.settled.lanes);
  const worked = useWorkedTrack();
  const selected = useShot((s) => s.selected);
  const followed = new Set(subject?.parts.map((p) => (p.type === 'spline' ? p.follow?.track : undefined)));
  const tracks = useShot((s) => s.history.settled.tracks).filter((t) => t === worked || followed.has(t.id));
  // Records keep their identity while they do not change.
  const known = useRef(tracks);
  if (known.current.length !== tracks.length || tracks.some((t, i) => t !== known.current[i])) known.current = tracks;
  const shown = known.current;
  const composing = useView((s) => s.bench === 'compose');
  const timing = useShot((s) => s.history.settled.timing);
  const borders = useView((s) => s.borders);
  return useMemo(() => columnsOf(subject, lanes, shown, selected, composing, timing, borders), [subject, lanes, shown, selected, composing, timing, borders]);
}

/** All frames that hold any key of the current subject, rising. */
export function useKeyFrames(): number[] {
  const columns = useColumns();
  return useMemo(() => [...new Set(columns.flatMap((c) => (isTrack(c) ? [] : c.keys)))].sort((a, b) => a - b), [columns]);
}
