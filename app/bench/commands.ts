/** What every command of the workbench does, and why it cannot be used now. */
import { useRef } from 'react';
import { toast } from 'sonner';
import { isApproved } from '~/core/document/approval.ts';
import { partWith } from '~/core/document/parts.ts';
import { REACHES } from '~/core/time/reach.ts';
import { keyAllEdits, settingsOfEdge, settingsOfItem, settingsOfPart } from '../keys/all-settings.ts';
import { isTrack, useColumns, useKeyFrames } from '../keys/columns.ts';
import { deleteEdits, keyHereEdits } from '../keys/key-work.ts';
import { BENCHES, benchOf, whereIs } from '../state/benches.ts';
import { carryRange } from '../state/carry-range.ts';
import { openHelp } from '../state/help.ts';
import { approvalEdits, carry } from '../state/peel.ts';
import { type CommandId, SHORTCUT } from '../state/shortcuts.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { takeTool, useToBench } from '../state/to-bench.ts';
import { currentSubject, useWorkbench } from '../state/workbench-context.tsx';
import { currentPeel } from '../tools/brush-tool.ts';
import { TOOLS } from '../tools/index.ts';
import { useGoToDoubtful, useReview } from '../ui/doubt-note.tsx';

export interface Command {
  id: string;
  does: string;
  run(): void;
  /** Why it cannot be used now; null where it can. */
  whyNot(): string | null;
}

const TOOL_IDS = TOOLS.map((t) => t.id);

/** What is done for each of several ids, by id. */
const forEach = <Id extends string, R>(ids: readonly Id[], act: (id: Id, index: number) => R): Record<Id, () => R> =>
  Object.fromEntries(ids.map((id, i) => [id, () => act(id, i)])) as Record<Id, () => R>;

/** @param more commands of the page itself: the next step, the list of commands */
export function useCommands(more: { nextStep(): void; commands(): void }): Command[] {
  const shotStore = useShotStore();
  const { view: viewStore, plate } = useWorkbench();
  const toBench = useToBench();
  const keys = useKeyFrames();
  const columns = useColumns();
  const goToDoubtful = useGoToDoubtful();
  const { next: nextToReview, left } = useReview();
  const latest = useRef({ keys, columns, goToDoubtful, nextToReview, left, more });
  latest.current = { keys, columns, goToDoubtful, nextToReview, left, more };
  const made = useRef<Command[] | null>(null);
  if (made.current) return made.current;

  const shot = () => shotStore.getState();
  const view = () => viewStore.getState();
  const subject = () => currentSubject(shot());
  const part = () => {
    const { selected, path } = shot();
    const own = subject();
    return own ? (partWith(own, selected) ?? partWith(own, path)) : undefined;
  };
  const setRange = (change: { first?: number; last?: number }) => {
    const { range, setRange: put, frames } = view();
    const next = { first: 0, last: frames - 1, ...range, ...change };
    // What begins behind its end goes on to the end of the shot, and what ends before it begins starts with it.
    if (next.first <= next.last) put(next);
    else put(change.first === undefined ? { first: 0, last: next.last } : { first: next.first, last: frames - 1 });
  };
  /** The columns of the selected part or item, or all where none is. */
  const workedColumns = () => {
    const { selected, document } = shot();
    const own = document.lanes.find((l) => l.id === selected) ?? part();
    const all = latest.current.columns;
    return own ? all.filter((c) => c.record === own.id) : all.filter((c) => !isTrack(c) || c.record === selected);
  };
  const toKeyAll = () => {
    const { selected, document } = shot();
    const item = document.lanes.find((l) => l.id === selected);
    const own = part();
    const edge = view().bench === 'edge' ? subject() : null;
    return item ? settingsOfItem(item) : edge ? settingsOfEdge(edge) : own ? settingsOfPart(own) : [];
  };

  const run: Record<CommandId, () => void> = {
    next: () => view().step(1),
    previous: () => view().step(-1),
    keyBefore: () => view().goTo(latest.current.keys.findLast((f) => f < view().frame) ?? view().frame),
    keyAfter: () => view().goTo(latest.current.keys.find((f) => f > view().frame) ?? view().frame),
    first: () => view().goTo(view().range?.first ?? 0),
    last: () => view().goTo(view().range?.last ?? plate.frames - 1),
    play: () => view().play(view().playing === 1 ? 0 : 1),
    playBack: () => view().play(view().playing === -1 ? 0 : -1),
    begin: () => setRange({ first: view().frame }),
    finish: () => setRange({ last: view().frame }),
    loop: () => view().toggleLoop(),
    plate: () => view().setView('plate'),
    tint: () => view().setView('tint'),
    matte: () => view().setView('matte'),
    cutout: () => view().setView('cutout'),
    outline: () => view().setView('outline'),
    composed: () => view().setView('composed'),
    outlines: () => view().set({ outlines: !view().outlines }),
    fit: () => view().setViewTransform(null),
    actual: () => view().showActual(window.devicePixelRatio),
    commands: () => latest.current.more.commands(),
    help: () => openHelp(shot(), view()),
    nextStep: () => latest.current.more.nextStep(),
    ...forEach(
      BENCHES.map((b) => `${b.id}Bench` as const),
      (_id, i) => toBench(BENCHES[i].id),
    ),
    undo: () => shot().undo(),
    redo: () => shot().redo(),
    ...forEach(TOOL_IDS, (tool) => takeTool(viewStore, tool)),
    frame: () => view().set({ transforming: !view().transforming, pivot: null }),
    snap: () => view().set({ snap: !view().snap }),
    magnify: () => view().set({ magnify: !view().magnify }),
    numbers: () => view().set({ numbers: !view().numbers }),
    onion: () => view().set({ onion: view().onion === 0 ? 1 : 0 }),
    reach: () => {
      const order = [...REACHES.slice(1), REACHES[0]];
      shot().setReach(order[(order.indexOf(shot().reach) + 1) % order.length]);
    },
    reachFrame: () => shot().setReach('this-frame'),
    reachKeys: () => shot().setReach('between-keys'),
    reachRange: () => shot().setReach('marked-range'),
    reachAll: () => shot().setReach('all-frames'),
    key: () => shot().commit('Key here', keyHereEdits(workedColumns(), view().frame)),
    keyAll: () => shot().commit('Key all settings', keyAllEdits(toKeyAll(), view().frame)),
    unkey: () => shot().commit('Take keys away', deleteEdits(workedColumns(), { first: view().frame, last: view().frame })),
    invert: () => {
      const p = part();
      if (p) shot().commit(p.inverted ? 'Invert back' : 'Invert', [{ kind: 'assign', id: p.id, values: { inverted: !p.inverted } }]);
    },
    approve: () => {
      const own = subject();
      if (!own) return;
      const range = view().range ?? { first: view().frame, last: view().frame };
      const approved = !isApproved(own, view().frame);
      shot().commit(approved ? 'Approve' : 'Release', approvalEdits(shot().history.settled, own, range, approved));
    },
    carryBoth: () => {
      const peel = currentPeel({ shot: shot(), subject: subject() });
      if (!peel) return;
      const { first, last } = carryRange('both', view().frame, view().range, plate.frames);
      void carry(shotStore, peel.id, first, last);
    },
    nextDoubt: () => latest.current.goToDoubtful(),
    review: () => latest.current.nextToReview(),
    curves: () => view().set({ curvesOpen: !view().curvesOpen }),
  };
  const noSubject = () => (subject() ? null : 'there is no subject yet');
  const whyNot: Partial<Record<CommandId, () => string | null>> = {
    keyBefore: () => (latest.current.keys.some((f) => f < view().frame) ? null : 'there is no key before this frame'),
    keyAfter: () => (latest.current.keys.some((f) => f > view().frame) ? null : 'there is no key after this frame'),
    undo: () => (shot().undoLabel ? null : 'there is nothing to undo'),
    redo: () => (shot().redoLabel ? null : 'there is nothing to redo'),
    ...forEach(TOOL_IDS, (tool) => (benchOf(view().bench).tools.includes(tool) ? null : `this tool belongs to ${whereIs(tool)}`)),
    key: () =>
      keyHereEdits(workedColumns(), view().frame).length > 0
        ? null
        : 'nothing here has keys yet; Alt K keys all settings of what is selected, the bar beside a setting that one',
    keyAll: () => (toKeyAll().length > 0 ? null : 'select a part, or something in a lane, first'),
    unkey: () => (deleteEdits(workedColumns(), { first: view().frame, last: view().frame }).length > 0 ? null : 'there is no key on this frame'),
    invert: () => (part() ? null : 'select a part first'),
    approve: noSubject,
    carryBoth: () => (currentPeel({ shot: shot(), subject: subject() }) ? null : 'there is no Peel here yet: take the brush (Z) and paint on the subject'),
    review: () => (latest.current.left > 0 || view().review !== null ? null : 'no frame that was found has a high doubt'),
    nextDoubt: () => (latest.current.left > 0 ? null : 'no frame that was found has a high doubt'),
  };
  made.current = (Object.keys(SHORTCUT) as CommandId[]).map((id) => {
    const { does } = SHORTCUT[id];
    const why = whyNot[id] ?? (() => null);
    return {
      id,
      does,
      whyNot: why,
      run() {
        const problem = why();
        if (problem) toast(`${problem[0].toUpperCase()}${problem.slice(1)}.`, { id: 'why-not' });
        else run[id]();
      },
    };
  });
  return made.current;
}
