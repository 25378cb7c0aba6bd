/** Undo and redo over the log of a shot, so that they work after a reload and from any page. */

export interface LogEntry {
  id: string;
  label: string;
  /** A start is how the shot was set up: it is where undo ends. */
  role: 'start' | 'do' | 'undo' | 'redo';
  /** For undo and redo: the entry that was taken back or done again. */
  target: string | null;
}

/** What undo would take back next and what redo would do again next, as ids of the first doing; null where there is none. */
export function historyEnds(log: readonly LogEntry[]): { undo: LogEntry | null; redo: LogEntry | null } {
  const done: LogEntry[] = [];
  let undone: LogEntry[] = [];
  for (const entry of log) {
    if (entry.role === 'start') {
      done.length = 0;
      undone = [];
    } else if (entry.role === 'do') {
      done.push(entry);
      undone = [];
    } else if (entry.role === 'undo') {
      const i = done.findIndex((e) => e.id === entry.target);
      if (i >= 0) undone.push(...done.splice(i, 1));
    } else {
      const i = undone.findIndex((e) => e.id === entry.target);
      if (i >= 0) done.push(...undone.splice(i, 1));
    }
  }
  return { undo: done.at(-1) ?? null, redo: undone.at(-1) ?? null };
}
