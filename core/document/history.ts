/** Undo and redo over the log of a shot: they work after a reload, and each page takes back its own steps. */
import type { Edit } from './edits.ts';
import type { DocumentRecord } from './schema.ts';

export interface LogEntry {
  id: string;
  label: string;
  /** A start is how the shot was set up: it is where undo ends. */
  role: 'start' | 'do' | 'undo' | 'redo';
  /** For undo and redo: the entry that was taken back or done again. */
  target: string | null;
  /** The page that made it. */
  page: string;
}

/** Steps that stand, in the order in which they were done last, and steps that were taken back. */
export interface Standing {
  done: LogEntry[];
  undone: LogEntry[];
}

/** @param forgets whether a new step makes it impossible to do a step again that was taken back */
export function standingOf(log: readonly LogEntry[], forgets: (entry: LogEntry, undone: LogEntry) => boolean = () => false): Standing {
  let done: LogEntry[] = [];
  let undone: LogEntry[] = [];
  for (const entry of log) {
    if (entry.role === 'start') {
      done = [];
      undone = [];
    } else if (entry.role === 'do') {
      done.push(entry);
      undone = undone.filter((u) => !forgets(entry, u));
    } else {
      const [from, to] = entry.role === 'undo' ? [done, undone] : [undone, done];
      const i = from.findIndex((e) => e.id === entry.target);
      if (i >= 0) to.push(...from.splice(i, 1));
    }
  }
  return { done, undone };
}

/**
 * What undo would take back next on a page and what redo would do again next; null where there is none.
 * @param isOwn which pages' steps are this page's: its own, and those of pages that are no more
 */
export function historyEnds(log: readonly LogEntry[], isOwn: (page: string) => boolean = () => true): { undo: LogEntry | null; redo: LogEntry | null } {
  const { done, undone } = standingOf(log, (entry, u) => isOwn(entry.page) && isOwn(u.page));
  const own = (entry: LogEntry) => isOwn(entry.page);
  return { undo: done.findLast(own) ?? null, redo: undone.findLast(own) ?? null };
}

/** What an edit changes of a record: all of it, a field, or a field on some frames. */
interface Touch {
  id: string;
  field: string | null;
  frames: readonly number[] | null;
}

/** A record's list of others: what joins it stands on the record, not on what else is in the list. */
const CHILDREN = ' children';

function idsBelow(record: DocumentRecord): string[] {
  const below = Object.values(record).flatMap((value) => (Array.isArray(value) ? value : []));
  return [record.id, ...below.flatMap((v) => (typeof v === 'object' && v !== null && 'type' in v && 'id' in v ? idsBelow(v as DocumentRecord) : []))];
}

function touches(edit: Edit): Touch[] {
  const one = (id: string, field: string | null, frames: readonly number[] | null = null): Touch[] => [{ id, field, frames }];
  switch (edit.kind) {
    case 'insert':
      return [...idsBelow(edit.record).flatMap((id) => one(id, null)), ...one(edit.parent, CHILDREN)];
    case 'remove':
      return one(edit.id, null);
    case 'move':
      return one(edit.id, ' order');
    case 'assign':
      return Object.keys(edit.values).flatMap((field) => one(edit.id, field));
    case 'animate':
      return one(edit.id, edit.setting);
    case 'keys':
      return one(edit.id, edit.setting, [...edit.set.map((k) => k.frame), ...edit.clear]);
    case 'approve':
    case 'approvals':
      return one(edit.id, 'approved');
    case 'hold':
      return one(edit.id, 'held', [...edit.set.map((h) => h.frame), ...edit.clear]);
    case 'hide':
      return one(edit.id, 'hidden');
  }
}

function meet(a: Touch, b: Touch): boolean {
  if (a.id !== b.id) return false;
  if (a.field === null || b.field === null) return true;
  if (a.field !== b.field || a.field === CHILDREN) return false;
  if (!a.frames || !b.frames) return true;
  const those = new Set(b.frames);
  return a.frames.some((frame) => those.has(frame));
}

/** Whether a later step stands on an earlier one: it changed the same, so that taking the earlier one back would undo it as well. */
export function standsOn(later: readonly Edit[], earlier: readonly Edit[]): boolean {
  const under = earlier.flatMap(touches);
  return later.flatMap(touches).some((a) => under.some((b) => meet(a, b)));
}
