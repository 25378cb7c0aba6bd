/** The columns of the Sheet: every keyed setting of the current subject and its lanes, with the frames of its keys. */
import { useMemo } from 'react';
import type { LaneEffect, Subject } from '~/core/document/schema.ts';
import { effectById } from '~/core/effects/index.ts';
import { hasKeys, keyFrames } from '~/core/time/animated.ts';
import { useShot } from '../state/shot-context.tsx';
import { useCurrentSubject } from '../state/workbench-context.tsx';

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
}

const EDGE_WORDS = { grow: 'grow', featherIn: 'feather in', featherOut: 'feather out' } as const;

export function columnsOf(subject: Subject | null, lanes: LaneEffect[]): Column[] {
  if (!subject) return [];
  const columns: Column[] = [];
  const add = (column: Omit<Column, 'has'>) => columns.push({ ...column, has: new Set(column.keys) });
  for (const part of subject.parts) {
    const frames = new Set(part.paths.flatMap((p) => keyFrames(p.shape)));
    add({ id: part.id, owner: part.name, label: 'shape', keys: [...frames].sort((a, b) => a - b), record: part.id });
    if (hasKeys(part.opacity)) add({ id: `${part.id}.opacity`, owner: part.name, label: 'opacity', keys: keyFrames(part.opacity), record: part.id });
  }
  for (const [setting, label] of Object.entries(EDGE_WORDS)) {
    const value = subject.edge[setting as keyof typeof EDGE_WORDS];
    if (hasKeys(value)) add({ id: `edge.${setting}`, owner: 'Edge', label, keys: keyFrames(value), record: subject.id });
  }
  for (const item of lanes) {
    if (item.subject !== subject.id) continue;
    const effect = effectById(item.effect);
    if (hasKeys(item.mix)) add({ id: `${item.id}.mix`, owner: effect.label, label: 'mix', keys: keyFrames(item.mix), record: item.id });
    for (const [key, value] of Object.entries(item.settings)) {
      if (hasKeys(value))
        add({ id: `${item.id}.${key}`, owner: effect.label, label: effect.settings[key]?.label ?? key, keys: keyFrames(value), record: item.id });
    }
  }
  return columns;
}

export function useColumns(): Column[] {
  const subject = useCurrentSubject();
  const lanes = useShot((s) => s.document.lanes);
  return useMemo(() => columnsOf(subject, lanes), [subject, lanes]);
}

/** All frames that hold any key of the current subject, rising. */
export function useKeyFrames(): number[] {
  const columns = useColumns();
  return useMemo(() => [...new Set(columns.flatMap((c) => c.keys))].sort((a, b) => a - b), [columns]);
}
