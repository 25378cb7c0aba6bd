/** What the program doubts on the current frame, in words, and the way to the next doubtful one. */

import { toast } from 'sonner';
import { REASONS } from '~/core/peel/doubt.ts';
import { anchorsOf } from '~/core/peel/inputs.ts';
import { DOUBTFUL, useDoubt } from '../state/peel.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';

/** Goes to the next frame after the current one whose doubt is high, from the start again after the last. */
export function useGoToDoubtful(): () => void {
  const { view } = useWorkbench();
  const { found } = useDoubt();
  return () => {
    const doubtful = [...found.values()].filter((f) => f.doubt >= DOUBTFUL).map((f) => f.frame);
    doubtful.sort((a, b) => a - b);
    const { frame } = view.getState();
    const next = doubtful.find((f) => f > frame) ?? doubtful[0];
    if (next === undefined) toast('No frame that was found has a high doubt.');
    else view.getState().goTo(next);
  };
}

export function DoubtNote() {
  const { plate } = useWorkbench();
  const frame = useView((s) => s.frame);
  const { peels, found } = useDoubt();
  if (peels.length === 0) return null;
  const here = found.get(frame);
  const isAnchor = peels.some((p) => anchorsOf(p).includes(frame));
  const painted = here?.anchor === frame;
  return (
    <div className="shrink-0 border-line border-t px-3 py-2 text-xs" aria-live="polite">
      {!here && (
        <p className="text-quiet">
          {isAnchor ? 'Painted on this frame. Carry it to the others.' : 'Not found yet on this frame, or its strokes have changed: carry the Peel.'}
        </p>
      )}
      {here && painted && <p>Painted and found on this frame.</p>}
      {here && !painted && (
        <>
          <p>
            Doubt <b className="font-mono">{here.doubt}</b> of 100, carried from frame {here.anchor + plate.firstNumber}
          </p>
          {here.reasons.map((r) => (
            <p key={r} className="text-quiet">
              {REASONS[r]}
            </p>
          ))}
        </>
      )}
    </div>
  );
}
