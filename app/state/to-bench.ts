/** Going to a bench, and taking a tool in hand there. */
import { useCallback } from 'react';
import { useNavigate } from 'react-router';
import type { ToolId } from '../tools/index.ts';
import type { BenchId } from './benches.ts';
import { useShot } from './shot-context.tsx';
import type { ViewStore } from './view-store.ts';
import { useWorkbench } from './workbench-context.tsx';

/** Milliseconds in which a bench that was come to has shown itself. */
const SHOWN_AFTER = 60;

/** Goes to a bench of the shot, and does something there: at once where it is open. */
export function useToBench(): (id: BenchId, then?: () => void) => void {
  const { view } = useWorkbench();
  const navigate = useNavigate();
  const shotId = useShot((s) => s.shotId);
  return useCallback(
    (id, then) => {
      if (view.getState().bench === id) {
        then?.();
        return;
      }
      navigate(`/shots/${shotId}/${id}`, { preventScrollReset: true });
      if (!then) return;
      const stop = view.subscribe((now) => {
        if (now.bench !== id) return;
        stop();
        setTimeout(then, SHOWN_AFTER);
      });
    },
    [navigate, shotId, view],
  );
}

/** Takes a tool in hand and the focus to the picture, since it is worked with the keyboard as well. */
export function takeTool(view: ViewStore, tool: ToolId): void {
  view.getState().setTool(tool);
  document.querySelector<HTMLElement>('[data-viewer]')?.focus();
}
