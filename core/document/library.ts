/** What a production keeps for use again: shapes, and the settings of edges, effects and elements with their keys. */
import { z } from 'zod';
import { type Animated, hasKeys, keysLater } from '../time/animated.ts';
import { curvesFileSchema } from './curves-file.ts';
import { EDGE_NAMES } from './edge-settings.ts';
import type { Edit } from './edits.ts';
import { type Edge, type Element, edgeSchema, elementSchema, type LaneEffect, laneEffectSchema, nameSchema, type Setting } from './schema.ts';
import { newestEdge } from './versions.ts';

const effectContentSchema = laneEffectSchema.pick({ effect: true, mix: true, settings: true });
const elementContentSchema = elementSchema.pick({ element: true, mix: true, settings: true });

/** Records keep what they do not know, so something that they do know has to be there. */
const edgeContentSchema = z.preprocess(
  newestEdge,
  z
    .looseObject({})
    .refine((edge) => EDGE_NAMES.some((name) => Object.hasOwn(edge, name)), { error: 'This is not an edge.' })
    .pipe(edgeSchema),
);

/** A thing to keep: a shape as a curves file, or a preset. */
export const libraryItemSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('shape'), name: nameSchema, content: curvesFileSchema }),
  z.strictObject({ kind: z.literal('edge'), name: nameSchema, content: edgeContentSchema }),
  z.strictObject({ kind: z.literal('effect'), name: nameSchema, content: effectContentSchema }),
  z.strictObject({ kind: z.literal('element'), name: nameSchema, content: elementContentSchema }),
]);
export type LibraryItem = z.infer<typeof libraryItemSchema>;
export type ItemOf<K extends LibraryItem['kind']> = Extract<LibraryItem, { kind: K }>;

export const effectContent = ({ effect, mix, settings }: LaneEffect): ItemOf<'effect'>['content'] => ({ effect, mix, settings });
export const elementContent = ({ element, mix, settings }: Element): ItemOf<'element'>['content'] => ({ element, mix, settings });

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

/** Edits that give the effect or the element `id` the settings of a preset of the same kind; keys begin on `frame`. */
export function lanePresetEdits(id: string, { mix, settings }: Pick<ItemOf<'effect' | 'element'>['content'], 'mix' | 'settings'>, frame: number): Edit[] {
  const all: Record<string, Setting> = { mix, ...Object.fromEntries(Object.entries(settings).map(([key, value]) => [`settings.${key}`, value])) };
  return animateAll(id, all, frame);
}
