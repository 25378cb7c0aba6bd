/** Binds the shortcuts of the workbench to what they do. */
import { useEffect, useRef } from 'react';
import { tinykeys } from 'tinykeys';
import type { Edit } from '~/core/document/edits.ts';
import { hasKeys } from '~/core/time/animated.ts';
import { REACHES } from '~/core/time/reach.ts';
import { useKeyFrames } from '../sheet/columns.ts';
import { SHORTCUTS } from '../state/shortcuts.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { useCurrentSubject, useWorkbench } from '../state/workbench-context.tsx';
import { shapeAt } from '../viewer/path-edits.ts';

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
  const subject = useCurrentSubject();
  const latest = useRef({ keys, subject });
  latest.current = { keys, subject };

  useEffect(() => {
    const shot = () => shotStore.getState();
    const view = () => viewStore.getState();
    const part = () => {
      const { selected, path } = shot();
      return latest.current.subject?.parts.find((p) => p.id === selected || p.paths.some((q) => q.id === path));
    };
    const setRange = (change: { first?: number; last?: number }) => {
      const { range, setRange: put, frames } = view();
      const next = { first: 0, last: frames - 1, ...range, ...change };
      put({ first: Math.min(next.first, next.last), last: Math.max(next.first, next.last) });
    };
    const keyEdits = (put: boolean): Edit[] => {
      const { frame } = view();
      return (part()?.paths ?? []).flatMap((path): Edit[] => {
        if (put) return [{ kind: 'keys', id: path.id, setting: 'shape', set: [{ frame, value: shapeAt(path, frame), ease: 'linear' }], clear: [] }];
        const here = hasKeys(path.shape) && path.shape.keys.some((k) => k.frame === frame);
        return here ? [{ kind: 'keys', id: path.id, setting: 'shape', set: [], clear: [frame] }] : [];
      });
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
      loop: () => view().setRange(view().range ? null : { first: view().frame, last: Math.min(plate.frames - 1, view().frame + 23) }),
      plate: () => view().setView('plate'),
      tint: () => view().setView('tint'),
      matte: () => view().setView('matte'),
      cutout: () => view().setView('cutout'),
      composed: () => view().setView('composed'),
      outlines: () => view().set({ outlines: !view().outlines }),
      fit: () => view().setPlace(null),
      actual: () => document.querySelector<HTMLButtonElement>('[aria-label^="Zoom"]')?.click(),
      undo: () => shot().undo(),
      redo: () => shot().redo(),
      edit: () => view().setTool('edit'),
      draw: () => {
        view().setTool('draw');
        document.querySelector<HTMLElement>('[data-viewer]')?.focus();
      },
      pan: () => view().setTool('pan'),
      reach: () => {
        const order = [...REACHES.slice(1), REACHES[0]];
        shot().setReach(order[(order.indexOf(shot().reach) + 1) % order.length]);
      },
      key: () => shot().commit('Key the shape', keyEdits(true)),
      unkey: () => shot().commit('Take keys away', keyEdits(false)),
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
