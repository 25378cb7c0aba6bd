/** Binds the shortcuts of the workbench to what they do. */
import { useEffect, useRef } from 'react';
import { toast } from 'sonner';
import { tinykeys } from 'tinykeys';
import { isApproved } from '~/core/document/approval.ts';
import { partWith } from '~/core/document/parts.ts';
import { REACHES } from '~/core/time/reach.ts';
import { useGoToDoubtful, useReview } from '../settings/doubt-note.tsx';
import { keyAllEdits, settingsOfEdge, settingsOfItem, settingsOfPart } from '../sheet/all-settings.ts';
import { isTrack, useColumns, useKeyFrames } from '../sheet/columns.ts';
import { deleteEdits, keyHereEdits } from '../sheet/key-work.ts';
import { type ToolId, whereIs } from '../state/benches.ts';
import { carryRange } from '../state/carry-range.ts';
import { approvalEdits, carry } from '../state/peel.ts';
import { SHORTCUTS } from '../state/shortcuts.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { currentSubject, useWorkbench } from '../state/workbench-context.tsx';
import { currentPeel } from '../viewer/brush-tool.ts';

/** Keys belong to a field while one is typed in; single letters would end up in it. */
const isTyping = (event: KeyboardEvent): boolean => {
  const target = event.target as HTMLElement;
  return (
    target.matches('input:not([type=range]):not([type=checkbox]), textarea, select, [contenteditable]') ||
    target.closest('[role=menu],[role=listbox],[role=dialog]') !== null
  );
};

export function useShortcuts(): void {
  const shotStore = useShotStore();
  const { view: viewStore, plate } = useWorkbench();
  const keys = useKeyFrames();
  const columns = useColumns();
  const goToDoubtful = useGoToDoubtful();
  const { next: nextToReview } = useReview();
  const latest = useRef({ keys, columns, goToDoubtful, nextToReview });
  latest.current = { keys, columns, goToDoubtful, nextToReview };

  useEffect(() => {
    const shot = () => shotStore.getState();
    const view = () => viewStore.getState();
    const part = () => {
      const { selected, path } = shot();
      const subject = currentSubject(shot());
      return subject ? (partWith(subject, selected) ?? partWith(subject, path)) : undefined;
    };
    const setRange = (change: { first?: number; last?: number }) => {
      const { range, setRange: put, frames } = view();
      const next = { first: 0, last: frames - 1, ...range, ...change };
      // What begins behind its end goes on to the end of the shot, and what ends before it begins starts with it.
      if (next.first <= next.last) put(next);
      else put(change.first === undefined ? { first: 0, last: next.last } : { first: next.first, last: frames - 1 });
    };
    /** The columns of the selected part, or all where none is. */
    const columns = () => {
      const own = part();
      const all = latest.current.columns;
      const { selected } = shot();
      return own ? all.filter((c) => c.record === own.id) : all.filter((c) => !isTrack(c) || c.record === selected);
    };
    /** A tool that is worked with the keyboard as well takes the focus to the viewer. */
    const toViewer = (tool: ToolId) => {
      if (!view().setTool(tool)) return void toast(`This tool belongs to ${whereIs(tool)}.`, { id: 'tool' });
      document.querySelector<HTMLElement>('[data-viewer]')?.focus();
    };
    const does: Record<string, () => void> = {
      next: () => view().step(1),
      previous: () => view().step(-1),
      keyBefore: () => {
        const k = latest.current.keys.findLast((f) => f < view().frame);
        if (k !== undefined) view().goTo(k);
      },
      keyAfter: () => {
        const k = latest.current.keys.find((f) => f > view().frame);
        if (k !== undefined) view().goTo(k);
      },
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
      composed: () => view().setView('composed'),
      outlines: () => view().set({ outlines: !view().outlines }),
      fit: () => view().setPlace(null),
      actual: () => view().showActual(window.devicePixelRatio),
      undo: () => shot().undo(),
      redo: () => shot().redo(),
      edit: () => toViewer('edit'),
      brush: () => toViewer('brush'),
      draw: () => toViewer('draw'),
      pan: () => toViewer('pan'),
      hand: () => toViewer('hand'),
      shape: () => toViewer('shape'),
      mark: () => toViewer('mark'),
      place: () => toViewer('place'),
      feather: () => toViewer('feather'),
      frame: () => view().set({ transforming: !view().transforming, pivot: null }),
      snap: () => view().set({ snap: !view().snap }),
      magnify: () => view().set({ magnify: !view().magnify }),
      numbers: () => view().set({ numbers: !view().numbers }),
      onion: () => view().set({ onion: view().onion === 0 ? 1 : 0 }),
      outline: () => view().setView('outline'),
      reachFrame: () => shot().setReach('this-frame'),
      reachKeys: () => shot().setReach('between-keys'),
      reachRange: () => shot().setReach('marked-range'),
      reachAll: () => shot().setReach('all-frames'),
      approve: () => {
        const own = currentSubject(shot());
        if (!own) return;
        const range = view().range ?? { first: view().frame, last: view().frame };
        const approved = !isApproved(own, view().frame);
        shot().commit(approved ? 'Approve' : 'Release', approvalEdits(shot().history.settled, own, range, approved));
      },
      carryBoth: () => {
        const peel = currentPeel({ shot: shot(), subject: currentSubject(shot()) });
        if (!peel) return void toast('There is no Peel here yet: take the brush (Z) and paint on the subject.');
        const { first, last } = carryRange('both', view().frame, view().range, plate.frames);
        void carry(shot().shotId, peel.id, first, last);
      },
      nextDoubt: () => latest.current.goToDoubtful(),
      review: () => latest.current.nextToReview(),
      curves: () => view().set({ curvesOpen: !view().curvesOpen }),
      reach: () => {
        const order = [...REACHES.slice(1), REACHES[0]];
        shot().setReach(order[(order.indexOf(shot().reach) + 1) % order.length]);
      },
      key: () => {
        const edits = keyHereEdits(columns(), view().frame);
        if (edits.length > 0) shot().commit('Key here', edits);
        else toast('Nothing here has keys yet. Alt K keys all settings of what is selected; the bar beside a setting keys that one.', { id: 'key' });
      },
      keyAll: () => {
        const { selected, document } = shot();
        const item = document.lanes.find((l) => l.id === selected);
        const own = part();
        const subject = currentSubject(shot());
        const all = item ? settingsOfItem(item) : view().bench === 'edge' && subject ? settingsOfEdge(subject) : own ? settingsOfPart(own) : [];
        if (all.length > 0) shot().commit('Key all settings', keyAllEdits(all, view().frame));
        else toast('Select a part, or something in a lane, to key all its settings.', { id: 'key' });
      },
      unkey: () => shot().commit('Take keys away', deleteEdits(columns(), { first: view().frame, last: view().frame })),
      invert: () => {
        const p = part();
        if (p) shot().commit(p.inverted ? 'Invert back' : 'Invert', [{ kind: 'assign', id: p.id, values: { inverted: !p.inverted } }]);
      },
    };
    const bindings: Record<string, (event: KeyboardEvent) => void> = {};
    for (const { items } of SHORTCUTS)
      for (const [name, { bind }] of Object.entries(items))
        for (const keysOf of bind)
          bindings[keysOf] = (event) => {
            if (isTyping(event) || event.defaultPrevented) return;
            // Space presses the button that has the focus, as everywhere.
            if (
              event.key === ' ' &&
              (event.target as HTMLElement).closest('button, a, [role=slider], [role=switch], [role=radio]') &&
              !(event.target as HTMLElement).closest('[data-viewer]')
            )
              return;
            event.preventDefault();
            does[name]();
          };
    return tinykeys(window, bindings);
  }, [shotStore, viewStore, plate]);
}
