/** Holding what a track follows still in the viewer, to draw on it and to judge its edge. */
import type { Track } from '~/core/document/schema.ts';
import type { Aspect } from '~/core/math/motion.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button } from '../ui/controls.tsx';

/** All that can be held without bending the picture. */
export const HELD: Aspect[] = ['position', 'turn', 'scale'];

export function HoldStill({ track }: { track: Track }) {
  const { view } = useWorkbench();
  const hold = useView((s) => s.hold);
  const on = hold?.track === track.id;
  const takes = on ? hold.takes : [];
  const put = (next: Aspect[]) => {
    const { frame, hold: now } = view.getState();
    view.getState().set({ hold: next.length > 0 ? { track: track.id, frame: on && now ? now.frame : frame, takes: next } : null });
  };
  return (
    <div className="flex items-center gap-2 px-3 py-1 text-sm" role="group" aria-label="Hold still in the viewer">
      <span className="w-20 shrink-0">Hold still</span>
      <span className="flex flex-wrap gap-1">
        <Button
          aria-pressed={on}
          className="!h-6 !px-1.5 text-xs aria-pressed:border-edge aria-pressed:text-white"
          title="The viewer keeps it where it is on this frame; nothing else changes"
          onClick={() => put(on ? [] : HELD)}
        >
          {on ? 'On' : 'Off'}
        </Button>
        {on &&
          (['turn', 'scale'] as const).map((aspect) => (
            <Button
              key={aspect}
              aria-pressed={takes.includes(aspect)}
              className="!h-6 !px-1.5 text-xs aria-pressed:border-edge aria-pressed:text-white [&:not([aria-pressed=true])]:text-quiet"
              onClick={() => put(HELD.filter((a) => (a === aspect ? !takes.includes(a) : takes.includes(a))))}
            >
              {aspect === 'turn' ? 'Turn too' : 'Scale too'}
            </Button>
          ))}
      </span>
    </div>
  );
}
