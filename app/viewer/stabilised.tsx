/** Holding what a track follows still in the viewer: where the plate lies for it, and a word that it is so. */
import { useMemo } from 'react';
import { followedMotion, sureWay, wayAt } from '~/core/document/follow.ts';
import { useShot } from '../state/shot-context.tsx';
import type { ViewTransform } from '../state/view-transform.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { type StabilisedView, stabilisedView } from './stabilised-view.ts';

/** Null while nothing is held, or its track is gone. */
export function useStabilisedView(base: ViewTransform | null): StabilisedView | null {
  const hold = useView((s) => s.hold);
  // Only what is held moves with the frame.
  const frame = useView((s) => (s.hold ? s.frame : 0));
  const tracks = useShot((s) => s.document.tracks);
  return useMemo(() => {
    const track = hold && tracks.find((t) => t.id === hold.track);
    const motion = track && followedMotion({ tracks }, hold, frame);
    return base && motion ? stabilisedView(base, motion, wayAt(sureWay(track), hold.frame)) : null;
  }, [base, hold, tracks, frame]);
}

export function StabilisedNote() {
  const { plate, view } = useWorkbench();
  const since = useView((s) => s.hold?.frame ?? 0);
  return (
    <p className="absolute right-2 bottom-2 z-10 flex items-center gap-2 rounded bg-black/75 px-2 py-1 text-xs">
      Held still as on frame {since + plate.firstNumber}
      <button type="button" className="underline" onPointerDown={(e) => e.stopPropagation()} onClick={() => view.getState().set({ hold: null })}>
        Let go
      </button>
    </p>
  );
}
