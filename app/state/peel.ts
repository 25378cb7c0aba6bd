/** What has been found of the Peels of a shot, frame by frame, with its doubt. */
import { useEffect, useMemo } from 'react';
import { toast } from 'sonner';
import { create } from 'zustand';
import { DOUBTFUL } from '~/core/document/approval.ts';
import { type Edit, findRecord } from '~/core/document/edits.ts';
import { type PeelTask, peelTask } from '~/core/document/fence.ts';
import type { PeelPart, ShotDocument, Subject } from '~/core/document/schema.ts';
import { anchorsOf, CONTROLS, peelKeys } from '~/core/peel/results/inputs.ts';
import type { FrameRange } from '~/core/time/ranges.ts';
import type { FoundFrame } from '~/server/peel/results.ts';
import { isOpen, useJobs, useJobsStore, worksOf } from './jobs.ts';
import { send } from './send.ts';
import { useShot, useShotStore } from './shot-context.tsx';
import type { ShotStore } from './shot-store.ts';
import { useSettledSubject, useView, useWorkbench } from './workbench-context.tsx';

type Found = ReadonlyMap<number, FoundFrame>;
const NOTHING: Found = new Map();

/** By part; what is here may be of strokes that have changed since: whoever asks compares. */
const usePeelStore = create<{ found: Record<string, Found> }>(() => ({ found: {} }));

const peelsOf = (subject: Subject | null): PeelPart[] => (subject?.parts ?? []).filter((p) => p.type === 'peel');

/**
 * Edits that approve frames of a subject or release them: what its Peels have found there is held, so that nothing painted later
 * changes it.
 */
export function approvalEdits(shot: ShotDocument, subject: Subject, range: FrameRange, approved: boolean): Edit[] {
  const edits: Edit[] = [{ kind: 'approve', id: subject.id, range, approved }];
  for (const peel of peelsOf(subject)) {
    const within = (frame: number) => frame >= range.first && frame <= range.last;
    const clear = peel.held.map((h) => h.frame).filter(within);
    const keyOf = peelKeys(peelTask(shot, peel));
    const found = [...(usePeelStore.getState().found[peel.id] ?? NOTHING).values()];
    const set = found.filter(({ frame, key }) => within(frame) && key === keyOf(frame)).map(({ frame, key }) => ({ frame, key }));
    if (approved && set.length > 0) edits.push({ kind: 'hold', id: peel.id, set, clear: [] });
    if (!approved && clear.length > 0) edits.push({ kind: 'hold', id: peel.id, set: [], clear });
  }
  return edits;
}

/** A Peel as carrying takes it. */
export const useTask = (part: PeelPart): PeelTask => useShot((s) => peelTask(s.history.settled, part));

/** Frames of a part that are found with its strokes as they are. */
export const useFound = (partId: string): Found => usePeelStore((s) => s.found[partId] ?? NOTHING);

/** Of every part, the frames that are found. */
export const useAllFound = (): Readonly<Record<string, Found>> => usePeelStore((s) => s.found);

/** Whether a frame of a part is found. */
export const isFound = (partId: string, frame: number): boolean => usePeelStore.getState().found[partId]?.has(frame) ?? false;

/** Where the edge of a found frame is in doubt, if it is much in doubt: x, y in plate pixels. */
export function doubtfulPlaces(partId: string, frame: number, { width, height }: { width: number; height: number }): number[] {
  const found = usePeelStore.getState().found[partId]?.get(frame);
  return found && found.doubt >= DOUBTFUL ? found.places.map((v, i) => v * (i % 2 === 0 ? width : height)) : [];
}
/** Whether nothing was kept on a found frame, since the subject is out of sight. */
export const isGone = ({ reasons }: FoundFrame): boolean => reasons.includes('hidden') || reasons.includes('vanished');

/** In a word, how it stands: out of sight as it was said to be, nowhere to be seen, worth a look, or neither. */
export function wordFor({ reasons, doubt }: FoundFrame): 'gone' | 'lost' | 'partial' | 'good' {
  if (reasons.includes('hidden')) return 'gone';
  if (reasons.includes('vanished')) return 'lost';
  return doubt >= DOUBTFUL ? 'partial' : 'good';
}

export const onFound = (listener: () => void): (() => void) => usePeelStore.subscribe(listener);

/** Frames of a subject's Peels that are found; of several the most doubtful counts. */
export const useDoubt = (): Doubt => useDoubtOf(useSettledSubject());

/** The same for what only shows it: where the current subject has no Peel, of the nearest that has one. `of` is its name then. */
export function useShownDoubt(): Doubt & { of: string | null } {
  const own = useSettledSubject();
  const other = useShot((s) => (peelsOf(own).length > 0 ? null : (s.history.settled.cast.find((c) => peelsOf(c).length > 0) ?? null)));
  return { ...useDoubtOf(other ?? own), of: other?.name ?? null };
}

interface Doubt {
  peels: PeelTask[];
  found: Found;
}

function useDoubtOf(subject: Subject | null): Doubt {
  const settled = useShot((s) => s.history.settled);
  const all = usePeelStore((s) => s.found);
  return useMemo(() => {
    const peels = peelsOf(subject).map((p) => peelTask(settled, p));
    const found = new Map<number, FoundFrame>();
    for (const { id } of peels) for (const [frame, one] of all[id] ?? NOTHING) if (one.doubt >= (found.get(frame)?.doubt ?? 0)) found.set(frame, one);
    return { peels, found };
  }, [settled, subject, all]);
}

const carryingIn = (shotId: string, jobs: ReturnType<typeof useJobs>) =>
  Object.values(jobs).filter((j) => j.kind === 'carry' && j.shotId === shotId && isOpen(j));

/** The works that carry a Peel of this shot, while there are any. */
export function useCarrying() {
  const { shotId } = useShotStore().getState();
  const jobs = useJobsStore((s) => s.jobs);
  return useMemo(() => worksOf(Object.values(jobs)).filter((w) => w.kind === 'carry' && w.shotId === shotId), [jobs, shotId]);
}

/** Keeps what was found up to date: with the strokes, once they are saved, and with the work that carries them. */
export function usePeelWatch(): void {
  const store = useShotStore();
  const { pictures } = useWorkbench();
  const { shotId } = store.getState();
  const saved = useShot((s) => s.save === 'saved');
  const jobs = useJobs();
  const steps = Object.values(jobs)
    .filter((j) => j.kind === 'carry' && j.shotId === shotId)
    .map((j) => `${j.id}${j.state}${j.done}`)
    .join();
  const settled = useShot((s) => s.history.settled);
  const peels = settled.cast.flatMap(peelsOf);
  const inputs = useMemo(
    () => JSON.stringify(peels.map((p) => [p.id, CONTROLS.map((c) => p[c]), p.hidden, p.held, p.strokes, peelTask(settled, p).fencing])),
    [settled],
  );
  useEffect(() => {
    if (!saved || peels.length === 0) return;
    const stop = new AbortController();
    for (const { id } of peels)
      send<FoundFrame[]>(`/shots/${shotId}/peel/${id}`, { signal: stop.signal })
        .then((list) => {
          const before = usePeelStore.getState().found[id] ?? NOTHING;
          if (list.length === before.size && list.every((f) => before.get(f.frame)?.key === f.key)) return;
          usePeelStore.setState(({ found }) => ({ found: { ...found, [id]: new Map(list.map((f) => [f.frame, f])) } }));
          pictures?.peelsCame();
        })
        .catch(() => {});
    return () => stop.abort();
  }, [shotId, saved, inputs, steps, pictures]);
}

/** While a stroke is drawn, its frame is got ready to be cut. */
export function usePeelAhead(): void {
  const { pictures, view } = useWorkbench();
  const subject = useSettledSubject();
  const painting = useView((s) => s.painting !== null);
  useEffect(() => {
    if (painting) void pictures?.render.preparePeel(view.getState().frame, peelsOf(subject)[0]?.quality ?? 'fine');
  }, [painting, pictures, subject, view]);
}

/** Frames that were asked for last, by part: those of them that are not there yet are asked for again when a stroke comes between. */
const asked = new Map<string, FrameRange>();

/** Once what was painted is saved, the frames that were found before, or were being found, and that it decides are found anew, and no others. */
export function usePeelMending(): void {
  const store = useShotStore();
  const { view } = useWorkbench();
  const painted = useView((s) => s.painted);
  useEffect(() => {
    if (!painted) return;
    const before = usePeelStore.getState().found[painted.part] ?? NOTHING;
    const going = carryingIn(store.getState().shotId, useJobsStore.getState().jobs).length > 0 ? (asked.get(painted.part) ?? null) : null;
    const mend = () => {
      const { save, history } = store.getState();
      if (save !== 'saved') return;
      stop();
      const part = findRecord(history.settled, painted.part);
      const stale = part?.type === 'peel' ? staleOf(peelTask(history.settled, part), before, going) : null;
      view.getState().set({ painted: null });
      if (stale) void carry(store, painted.part, stale.first, stale.last);
    };
    const stop = store.subscribe(mend);
    mend();
    return stop;
  }, [painted, store, view]);
}

/** Comes when all that was done is with the server; at once where that cannot be reached, which asking it will tell. */
const whenSaved = (store: ShotStore): Promise<void> =>
  new Promise((done) => {
    const look = () => {
      if (store.getState().save === 'saving') return;
      stop();
      done();
    };
    const stop = store.subscribe(look);
    look();
  });

/** Asks for frames of a Peel, as it is by now: what was painted last goes to the server first. */
export async function carry(store: ShotStore, part: string, first: number, last: number): Promise<void> {
  asked.set(part, { first, last });
  await whenSaved(store);
  try {
    await send(`/shots/${store.getState().shotId}/carry`, { body: { part, first, last } });
  } catch (error) {
    toast.error(error instanceof Error ? error.message : 'It could not be carried.');
  }
}

/**
 * First and last frame that was found and would be found otherwise by now, or was being found; null where there is none but what
 * shows anyway.
 */
function staleOf(part: PeelTask, found: Found, going: FrameRange | null): FrameRange | null {
  const keyOf = peelKeys(part);
  const stale = [...found.values()].filter((f) => keyOf(f.frame) !== f.key).map((f) => f.frame);
  if (going) for (let f = going.first; f <= going.last; f++) if (found.get(f)?.key !== keyOf(f)) stale.push(f);
  // What is painted itself is cut by the page.
  const anchors = anchorsOf(part);
  return stale.some((f) => !anchors.includes(f)) ? { first: Math.min(...stale), last: Math.max(...stale) } : null;
}
