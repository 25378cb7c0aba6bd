/** The store of one open shot: its document, what is selected, and how edits get in and out. */
import { toast } from 'sonner';
import { createStore, type StoreApi } from 'zustand';
import { applyChange, type Edit, EditError, findRecord } from '~/core/document/edits.ts';
import type { LogEntry } from '~/core/document/history.ts';
import { SHOT, type ShotDocument } from '~/core/document/schema.ts';
import type { Reach } from '~/core/time/reach.ts';
import type { LoggedChange } from '~/server/changes.ts';
import { NO_POINTS, type Points } from '../edits/points.ts';
import { type DocumentState, ends, reversal, sentId, startState, type Unsent, withLogged, withoutUnsent, withUnsent } from './document-state.ts';
import { listen } from './event-stream.ts';
import { setUnsent } from './link.ts';
import { holdPage, keep, livingPages, takeOver } from './outbox.ts';
import { Away, Refused, send } from './send.ts';

type SaveState = 'saved' | 'saving' | 'offline';

export interface ShotState {
  shotId: string;
  history: DocumentState;
  /** The document with the edit in progress. */
  document: ShotDocument;
  /** The edit in progress (a drag): shown at once, committed at its end. */
  draft: Edit[] | null;
  save: SaveState;
  /** Record selected in the cast or the lanes. */
  selected: string | null;
  /** The curve worked on last, and the selected points of all curves. */
  path: string | null;
  points: Points;
  reach: Reach;
  undoLabel: string | null;
  redoLabel: string | null;

  setDraft(edits: Edit[] | null): void;
  /** Makes `edits` (or the draft) one step of work. Gives whether it fitted. */
  commit(label: string, edits?: Edit[]): boolean;
  undo(): void;
  redo(): void;
  select(id: string | null): void;
  selectPoints(points: Points, path: string | null): void;
  setReach(reach: Reach): void;
  /** Starts sending and listening; gives what ends it. */
  open(): () => void;
}

export type ShotStore = StoreApi<ShotState>;

const RETRY_FIRST = 500;
const RETRY_MOST = 5000;

export function createShotStore(shotId: string, start: { document: ShotDocument; revision: number; log: LogEntry[] }): ShotStore {
  const page = crypto.randomUUID();
  /** Other pages that have this shot open: their steps are theirs to take back. */
  let others: ReadonlySet<string> = new Set();
  const isOwn = (of: string): boolean => !others.has(of);
  let sending = false;
  let closed = false;
  let retry: ReturnType<typeof setTimeout> | undefined;
  let wait = RETRY_FIRST;

  return createStore<ShotState>((set, get) => {
    const show = (history: DocumentState, more: Partial<ShotState> = {}) => {
      const { draft, selected, path } = { ...get(), ...more };
      let document = history.settled;
      let kept = draft;
      if (draft) {
        try {
          document = applyChange(history.settled, draft, true).document;
        } catch (error) {
          kept = null;
          // A drag that must not be says why, once however far it goes.
          if (more.draft && error instanceof EditError) toast.error(error.message, { id: 'draft' });
        }
      }
      const { undo, redo } = ends(history, isOwn);
      set({
        ...more,
        history,
        document,
        draft: kept,
        selected: selected && (selected === SHOT || findRecord(document, selected)) ? selected : null,
        path: path && findRecord(document, path) ? path : null,
        undoLabel: undo?.label ?? null,
        redoLabel: redo?.label ?? null,
      });
    };

    const store = (history: DocumentState) => {
      setUnsent(history.unsent.length);
      const ok = keep(
        shotId,
        page,
        history.unsent.map(({ sent, label }) => ({ sent, label })),
      );
      if (!ok) toast.error('The browser has no room to keep unsent work. Leave this page open until it says "Saved".', { id: 'no-room' });
    };

    const told = (lost: Unsent[]) => {
      if (lost.length > 0) toast.warning(`"${lost[0].label}" no longer fits: another page changed what it was about.`);
    };

    const push = (change: Unsent): boolean => {
      try {
        const history = withUnsent(get().history, change);
        show(history, { draft: null, save: get().save === 'offline' ? 'offline' : 'saving' });
        store(history);
        void pump();
        return true;
      } catch (error) {
        show(get().history, { draft: null });
        if (!(error instanceof EditError)) throw error;
        toast.error(error.message, { id: 'draft' });
        return false;
      }
    };

    const takeIn = (logged: LoggedChange) => {
      const { state, lost } = withLogged(get().history, logged);
      show(state);
      store(state);
      told(lost);
    };

    /** Fetches the steps between what this page has and `revision`. */
    const catchUp = async () => {
      const missed = await send<LoggedChange[]>(`/shots/${shotId}/changes?after=${get().history.revision}`);
      for (const logged of missed) takeIn(logged);
    };

    const pump = async (): Promise<void> => {
      if (sending || closed) return;
      sending = true;
      clearTimeout(retry);
      try {
        for (let next = get().history.unsent[0]; next && !closed; next = get().history.unsent[0]) {
          try {
            const logged = await send<LoggedChange>(`/shots/${shotId}/changes`, { body: next.sent });
            if (logged.revision > get().history.revision + 1) await catchUp();
            takeIn(logged);
          } catch (error) {
            if (!(error instanceof Refused)) throw error;
            const { state, lost } = withoutUnsent(get().history, sentId(next.sent));
            show(state);
            store(state);
            toast.error(error.message);
            told(lost);
          }
        }
        wait = RETRY_FIRST;
        set({ save: 'saved' });
      } catch (error) {
        if (!(error instanceof Away)) console.error(error);
        set({ save: 'offline' });
        retry = setTimeout(() => void pump(), wait);
        wait = Math.min(RETRY_MOST, wait * 2);
      } finally {
        sending = false;
      }
    };

    return {
      shotId,
      history: startState(start.document, start.revision, start.log),
      document: start.document,
      draft: null,
      save: 'saved',
      selected: null,
      path: null,
      points: NO_POINTS,
      reach: 'between-keys',
      undoLabel: null,
      redoLabel: null,

      setDraft(edits) {
        show(get().history, { draft: edits });
      },
      commit(label, edits = get().draft ?? []) {
        if (edits.length === 0) return false;
        const id = crypto.randomUUID();
        return push({ sent: { role: 'do', page, change: { id, label, edits } }, label, edits });
      },
      undo() {
        const change = reversal(get().history, { role: 'undo', page, id: crypto.randomUUID(), isOwn });
        if (change) push(change);
      },
      redo() {
        const change = reversal(get().history, { role: 'redo', page, id: crypto.randomUUID(), isOwn });
        if (change) push(change);
      },
      select: (id) => set({ selected: id }),
      selectPoints: (points, path) => set({ path, points }),
      setReach: (reach) => set({ reach }),

      open() {
        closed = false;
        show(get().history);
        const release = holdPage(page);
        void takeOver(shotId).then((left) => {
          for (const kept of left) push({ ...kept, edits: kept.sent.role === 'do' ? kept.sent.change.edits : null });
          void pump();
        });
        const leave = listen(
          {
            // Steps made while the line was down are fetched when it is up again.
            onOpen() {
              catchUp()
                .then(() => pump())
                .catch(() => {});
            },
            onPages(pages) {
              void livingPages().then((here) => {
                others = new Set([...pages, ...here].filter((p) => p !== page));
                show(get().history);
              });
            },
            onChange(logged) {
              const { revision } = get().history;
              if (logged.revision === revision + 1) takeIn(logged);
              else if (logged.revision > revision) catchUp().catch(() => {});
            },
          },
          { id: shotId, page },
        );
        const online = () => void pump();
        window.addEventListener('online', online);
        return () => {
          closed = true;
          release();
          clearTimeout(retry);
          leave();
          setUnsent(0);
          window.removeEventListener('online', online);
        };
      },
    };
  });
}
