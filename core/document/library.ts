/** What is kept for use again, in all productions: shapes, starts, and the settings of edges, effects, elements, Peels and tracks. */
import { z } from 'zod';
import { type Animated, hasKeys, keysLater } from '../time/animated.ts';
import { curvesFileSchema } from './curves-file.ts';
import { deliverySchema } from './delivery.ts';
import { EDGE_NAMES } from './edge-settings.ts';
import type { Edit } from './edits.ts';
import { leaderOf } from './leaders.ts';
import { findPart } from './parts.ts';
import { copyOf } from './records.ts';
import {
  type Edge,
  type Element,
  edgeSchema,
  elementSchema,
  type Follow,
  type LaneEffect,
  type LaneItem,
  laneEffectSchema,
  nameSchema,
  type PeelPart,
  peelSchema,
  type Setting,
  type ShotDocument,
  type Track,
  trackSchema,
} from './schema.ts';
import { newestEdge } from './versions.ts';

/** What earlier versions kept is the mix and the settings; `whole` is all of the record. */
const effectContentSchema = z.object({ ...laneEffectSchema.pick({ effect: true, mix: true, settings: true }).shape, whole: laneEffectSchema.optional() });
const elementContentSchema = z.object({ ...elementSchema.pick({ element: true, mix: true, settings: true }).shape, whole: elementSchema.optional() });

/** Records keep what they do not know, so something that they do know has to be there. */
const edgeContentSchema = z.preprocess(
  newestEdge,
  z
    .looseObject({})
    .refine((edge) => EDGE_NAMES.some((name) => Object.hasOwn(edge, name)), { error: 'This is not an edge.' })
    .pipe(edgeSchema),
);

const peelContentSchema = z.strictObject(
  peelSchema.pick({ look: true, smoothness: true, separatePieces: true, quality: true, specks: true, holes: true }).required().shape,
);
const trackContentSchema = z.strictObject(trackSchema.pick({ look: true, pattern: true, search: true, lost: true }).required().shape);

/** Items of lanes, on a shot of so many frames. */
const startContentSchema = z.strictObject({
  frames: z.number().int().min(1),
  items: z
    .array(z.discriminatedUnion('type', [laneEffectSchema, elementSchema]))
    .min(1)
    .max(200),
});

/** Outputs as they are written together, without frames and subject. */
const outputsContentSchema = z.strictObject({
  outputs: z
    .array(
      z.strictObject({
        kind: z.string().max(60),
        options: z.record(z.string().max(40), z.union([z.string().max(60), z.number(), z.boolean()])),
        delivery: deliverySchema,
      }),
    )
    .min(1)
    .max(20),
});
/** One of them. */
export type OutputWish = z.infer<typeof outputsContentSchema>['outputs'][number];

/** A thing to keep: a shape as a curves file, or a preset. */
export const libraryItemSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('shape'), name: nameSchema, content: curvesFileSchema }),
  z.strictObject({ kind: z.literal('edge'), name: nameSchema, content: edgeContentSchema }),
  z.strictObject({ kind: z.literal('effect'), name: nameSchema, content: effectContentSchema }),
  z.strictObject({ kind: z.literal('element'), name: nameSchema, content: elementContentSchema }),
  z.strictObject({ kind: z.literal('peel'), name: nameSchema, content: peelContentSchema }),
  z.strictObject({ kind: z.literal('start'), name: nameSchema, content: startContentSchema }),
  z.strictObject({ kind: z.literal('outputs'), name: nameSchema, content: outputsContentSchema }),
  z.strictObject({ kind: z.literal('track'), name: nameSchema, content: trackContentSchema }),
]);
export type LibraryItem = z.infer<typeof libraryItemSchema>;
export type ItemOf<K extends LibraryItem['kind']> = Extract<LibraryItem, { kind: K }>;

export const LIBRARY_FORMAT = 'mottrel-library';
/** A library as it goes out and comes in. */
export const libraryFileSchema = z.object({ format: z.literal(LIBRARY_FORMAT), version: z.literal(1), items: z.array(libraryItemSchema).max(5000) });

export const effectContent = (item: LaneEffect): ItemOf<'effect'>['content'] => ({ effect: item.effect, mix: item.mix, settings: item.settings, whole: item });
export const elementContent = (item: Element): ItemOf<'element'>['content'] => ({ element: item.element, mix: item.mix, settings: item.settings, whole: item });
export const peelContent = ({ look, smoothness, separatePieces, quality, specks, holes }: PeelPart): ItemOf<'peel'>['content'] => ({
  ...{ look, smoothness, separatePieces, quality, specks, holes },
});
export const trackContent = ({ look, pattern, search, lost }: Track): ItemOf<'track'>['content'] => ({ look, pattern, search, lost });

const firstKey = (values: readonly Animated<unknown>[]): number => Math.min(...values.flatMap((v) => (hasKeys(v) ? [v.keys[0].frame] : [])));

/** Edits that animate `settings` of the record `id`, the earliest of their keys placed on `frame`. */
function animateAll(id: string, settings: Record<string, Animated<unknown>>, frame: number): Edit[] {
  const first = firstKey(Object.values(settings));
  return Object.entries(settings).map(([setting, value]) => ({ kind: 'animate', id, setting, value: keysLater(value, frame - first) }));
}

/** Edits that give subject `id` the edge of a preset; keys begin on `frame`. */
export function edgePresetEdits(id: string, edge: Edge, frame: number): Edit[] {
  return animateAll(id, Object.fromEntries(EDGE_NAMES.map((name) => [`edge.${name}`, edge[name]])), frame);
}

type LaneContent = ItemOf<'effect' | 'element'>['content'];
const named = (settings: Record<string, Setting>): Record<string, Setting> =>
  Object.fromEntries(Object.entries(settings).map(([key, value]) => [`settings.${key}`, value]));

/**
 * Edits that give an effect or an element what a preset of the same kind holds: all of it, but for what leads to records that are not in
 * this shot. Keys begin on `frame`, and ranges go with them.
 */
export function lanePresetEdits(document: ShotDocument, item: LaneItem, { mix, settings, whole }: LaneContent, frame: number, newId: () => string): Edit[] {
  const { id } = item;
  const plain = { mix, ...named(settings) };
  if (!whole || whole.type !== item.type) return animateAll(id, plain, frame);
  const [fitted] = withoutStrangers(document, [whole]);
  const animated: Record<string, Animated<unknown>> = { ...plain, followAmount: fitted.followAmount };
  if (fitted.type === 'element' && fitted.corners) animated.corners = fitted.corners;
  const own = fitted.type === 'element' ? fitted.effects : [];
  const first = firstKey([...Object.values(animated), ...own.flatMap((e) => [e.mix, ...Object.values(e.settings)])]);
  const by = Number.isFinite(first) ? frame - first : 0;
  const moved = (value: Animated<unknown>) => keysLater(value, by);
  const { blend, lives, matteOf, matteFootage, follow } = fitted;
  const ranges = lives.map((r) => ({ first: Math.max(0, r.first + by), last: Math.max(0, r.last + by) }));
  const fields: Record<string, unknown> = { blend, lives: ranges, matteOf, matteFootage, ...(follow ? { follow } : {}) };
  if (fitted.type === 'element')
    Object.assign(fields, { words: fitted.words, footage: fitted.footage, drawn: fitted.drawn, pins: fitted.pins, ...(fitted.of ? { of: fitted.of } : {}) });
  else fields.leaves = fitted.leaves;
  return [
    { kind: 'assign', id, values: fields as Extract<Edit, { kind: 'assign' }>['values'] },
    ...(item.type === 'element' && item.corners && !animated.corners ? [{ kind: 'animate' as const, id, setting: 'corners', value: null }] : []),
    ...Object.entries(animated).map(([setting, value]): Edit => ({ kind: 'animate', id, setting, value: moved(value) })),
    ...(item.type === 'element' ? item.effects.map((e): Edit => ({ kind: 'remove', id: e.id })) : []),
    ...own.map(
      (e, index): Edit => ({
        kind: 'insert',
        parent: id,
        index,
        record: {
          ...copyOf(e, newId),
          mix: moved(e.mix) as typeof e.mix,
          settings: Object.fromEntries(Object.entries(e.settings).map(([key, value]) => [key, moved(value) as Setting])),
        },
      }),
    ),
  ];
}

/** Items as they can be in a document: what leads to records that are neither in it nor among them is let go of. */
function withoutStrangers<T extends LaneItem>(document: ShotDocument, items: readonly T[]): T[] {
  const among = new Set(items.map((i) => i.id));
  const leads = ({ track }: Follow) => among.has(track) || leaderOf(document, track) !== null;
  const matte = (id: string | null) =>
    id !== null && (among.has(id) || document.cast.some((s) => s.id === id) || document.lanes.some((l) => l.id === id && l.type === 'element'));
  return items.map((item) => {
    const fitted = { ...item, follow: item.follow && leads(item.follow) ? item.follow : null, matteOf: matte(item.matteOf) ? item.matteOf : null };
    if (fitted.type !== 'element') return fitted;
    return {
      ...fitted,
      of: fitted.of !== null && (document.cast.some((s) => s.id === fitted.of) || findPart(document, fitted.of)) ? fitted.of : null,
      pins: Object.fromEntries(Object.entries(fitted.pins).filter(([, pin]) => leads(pin))),
      effects: fitted.effects.map((e) => ({ ...e, matteOf: matte(e.matteOf) ? e.matteOf : null })),
    };
  });
}

/** Edits that put items nearest in their lanes, the last of them nearest of all. */
export const addedEdits = ({ lanes }: Pick<ShotDocument, 'lanes'>, items: readonly LaneItem[]): Edit[] =>
  items.map((record, i) => ({ kind: 'insert', parent: 'lanes', index: lanes.length + i, record }));

/**
 * Copies of items for a document, in whose lanes they say they are: with new ids, those that lead to one another lead to the copies, and what leads elsewhere than
 * into that document is let go of.
 */
export function copiedItems<T extends LaneItem>(document: ShotDocument, items: readonly T[], newId: () => string): T[] {
  const ids = new Map(items.map((i) => [i.id, newId()]));
  const to = (id: string) => ids.get(id) ?? id;
  const follow = (f: Follow): Follow => ({ ...f, track: to(f.track) });
  return withoutStrangers(document, items).map((item) => {
    const copy = {
      ...copyOf(item, newId),
      id: to(item.id),
      follow: item.follow && follow(item.follow),
      matteOf: item.matteOf && to(item.matteOf),
    };
    if (copy.type !== 'element' || item.type !== 'element') return copy;
    return {
      ...copy,
      pins: Object.fromEntries(Object.entries(item.pins).map(([key, pin]) => [key, follow(pin)])),
      effects: copy.effects.map((e) => ({ ...e, matteOf: e.matteOf && to(e.matteOf) })),
    };
  });
}
