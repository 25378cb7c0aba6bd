/**
 * The document as a page sees it: what the server has, then the changes not confirmed yet, then the edit in progress. Pure
 * data and functions; the store keeps one of these and the sync feeds it.
 */
import { applyChange, type Edit } from '~/core/document/edits.ts';
import { historyEnds, type LogEntry } from '~/core/document/history.ts';
import type { ShotDocument } from '~/core/document/schema.ts';
import type { LoggedChange, SentChange } from '~/server/changes.ts';
import type { UnsentChange } from './outbox.ts';

export interface Unsent extends UnsentChange {
  /** Null while only the server knows them (undo of a step made before this page was opened). */
  edits: Edit[] | null;
}

export interface DocumentState {
  /** As the server has it at `revision`. */
  base: ShotDocument;
  revision: number;
  log: LogEntry[];
  unsent: Unsent[];
  /** `base` with the unsent changes. */
  settled: ShotDocument;
  /** Edits that take a step back, by the id of the step; known for steps seen since the page was opened. */
  inverses: ReadonlyMap<string, Edit[]>;
}

export const sentId = (sent: SentChange): string => (sent.role === 'do' ? sent.change.id : sent.id);

const entryOf = ({ sent, label }: UnsentChange): LogEntry => ({
  id: sentId(sent),
  label,
  role: sent.role,
  target: sent.role === 'do' ? null : sent.target,
  page: sent.page,
});

export const startState = (base: ShotDocument, revision: number, log: LogEntry[]): DocumentState => ({
  base,
  revision,
  log,
  unsent: [],
  settled: base,
  inverses: new Map(),
});

/** Adds a change to those waiting to be sent. Throws EditError where it does not fit. */
export function withUnsent(state: DocumentState, change: Unsent): DocumentState {
  if (!change.edits) return { ...state, unsent: [...state.unsent, change] };
  const { document, inverse } = applyChange(state.settled, change.edits);
  return { ...state, settled: document, unsent: [...state.unsent, change], inverses: new Map(state.inverses).set(sentId(change.sent), inverse) };
}

/** Takes in a step that the server logged, and lays the unsent changes on top again. Gives those that no longer fit. */
export function withLogged(state: DocumentState, logged: LoggedChange): { state: DocumentState; lost: Unsent[] } {
  if (logged.revision <= state.revision) return { state: { ...state, unsent: state.unsent.filter((u) => sentId(u.sent) !== logged.id) }, lost: [] };
  const { document, inverse } = applyChange(state.base, logged.edits);
  const inverses = new Map(state.inverses).set(logged.id, inverse);
  const entry: LogEntry = { id: logged.id, label: logged.label, role: logged.role, target: logged.target, page: logged.page };
  const waiting = state.unsent.filter((u) => sentId(u.sent) !== logged.id);
  const next: DocumentState = { base: document, revision: logged.revision, log: [...state.log, entry], unsent: [], settled: document, inverses };
  return relay(next, waiting);
}

/** Drops an unsent change that the server refused. */
export function withoutUnsent(state: DocumentState, id: string): { state: DocumentState; lost: Unsent[] } {
  return relay(
    { ...state, unsent: [], settled: state.base },
    state.unsent.filter((u) => sentId(u.sent) !== id),
  );
}

function relay(state: DocumentState, waiting: Unsent[]): { state: DocumentState; lost: Unsent[] } {
  let current = state;
  const lost: Unsent[] = [];
  for (const change of waiting) {
    try {
      current = withUnsent(current, change);
    } catch {
      lost.push(change);
    }
  }
  return { state: current, lost };
}

const allOf = (state: DocumentState): LogEntry[] => [...state.log, ...state.unsent.map(entryOf)];

/** What undo and redo would take next of the steps that are this page's own. */
export const ends = (state: DocumentState, isOwn: (page: string) => boolean = () => true) => historyEnds(allOf(state), isOwn);

/** The change that takes back (or does again) this page's newest step, or null where there is none. */
export function reversal(
  state: DocumentState,
  { role, page, id, isOwn = () => true }: { role: 'undo' | 'redo'; page: string; id: string; isOwn?: (page: string) => boolean },
): Unsent | null {
  const target = ends(state, isOwn)[role];
  if (!target) return null;
  const all = allOf(state);
  // The last doing (or redoing) of the target for undo, its last undoing for redo.
  const last = all.findLastIndex((e) =>
    role === 'undo' ? e.id === target.id || (e.target === target.id && e.role === 'redo') : e.target === target.id && e.role === 'undo',
  );
  // Where another page went on since, the server knows whether that stands on it.
  const alone = all.slice(last + 1).every((e) => isOwn(e.page));
  return { sent: { role, page, id, target: target.id }, label: target.label, edits: (alone && all[last] && state.inverses.get(all[last].id)) || null };
}
