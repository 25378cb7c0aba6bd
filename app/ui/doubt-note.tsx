/** What the program doubts on the current frame, in words, the way to the next doubtful one, and the review of them all. */

import { toast } from 'sonner';
import { DOUBTFUL, isDoubtful } from '~/core/document/approval.ts';
import { anchorsOf, mendsOf } from '~/core/peel/results/inputs.ts';
import { REASONS } from '~/core/peel/uncertainty/uncertainty.ts';
import { approvalEdits, useDoubt, wordFor } from '../state/peel.ts';
import { reviewedName } from '../state/reviewed.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { takeTool } from '../state/to-bench.ts';
import { useSettledSubject, useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button } from './controls.tsx';

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

/**
 * The walk through frames, worst first: each is approved, mended or noted, or left, and the next is the most doubtful of those that
 * it has not been to. What was painted, approved or said to be out of sight is not in doubt.
 */
export function useReview() {
  const store = useShotStore();
  const { view } = useWorkbench();
  const { found } = useDoubt();
  const subject = useSettledSubject();
  const review = useView((s) => s.review);
  const open = (been: readonly number[]) => [...found.values()].filter((f) => !been.includes(f.frame) && isDoubtful(subject, f));
  return {
    running: review !== null,
    left: open(review ?? []).length,
    next() {
      const been = view.getState().review ?? [];
      const [worst] = open(been).sort((a, b) => b.doubt - a.doubt || a.frame - b.frame);
      if (!worst) {
        view.getState().set({ review: null });
        toast('No frame with a high doubt is left to review.');
        return;
      }
      view.getState().set({ review: [...been, worst.frame], reviewed: new Set(view.getState().reviewed).add(reviewedName(worst)) });
      view.getState().goTo(worst.frame);
    },
    approve() {
      const { frame } = view.getState();
      return (
        subject !== null && store.getState().commit('Approve', approvalEdits(store.getState().history.settled, subject, { first: frame, last: frame }, true))
      );
    },
    end: () => view.getState().set({ review: null }),
  };
}

function Review() {
  const { view } = useWorkbench();
  const { running, left, next, approve, end } = useReview();
  if (!running)
    return (
      <Button className="!h-6 mt-1 w-full text-xs" disabled={left === 0} title="Worst first (Shift R)" onClick={next}>
        {left === 0 ? 'Nothing to review' : `Review ${left === 1 ? 'one doubtful frame' : `${left} doubtful frames`}`}
      </Button>
    );
  return (
    <fieldset className="mt-1 flex flex-wrap gap-1" aria-label="Review">
      <span className="w-full text-quiet">{left === 0 ? 'Review: this is the last one' : `Review: ${left} more after this one`}</span>
      <Button className="!h-6 flex-1 text-xs" title="Approve it as it is, and go to the next" onClick={() => approve() && next()}>
        Approve
      </Button>
      <Button className="!h-6 flex-1 text-xs" title="Paint on it what is wrong" onClick={() => takeTool(view, 'brush')}>
        Mend
      </Button>
      <Button className="!h-6 flex-1 text-xs" onClick={() => document.querySelector<HTMLElement>('[data-note]')?.focus()}>
        Note
      </Button>
      <Button className="!h-6 flex-1 text-xs" title="Shift R" onClick={next}>
        Next
      </Button>
      <Button className="!h-6 flex-1 text-xs" onClick={end}>
        End
      </Button>
    </fieldset>
  );
}

export function DoubtNote() {
  const { plate } = useWorkbench();
  const frame = useView((s) => s.readFrame);
  const { peels, found } = useDoubt();
  if (peels.length === 0) return null;
  const here = found.get(frame);
  const mends = peels.some((p) => mendsOf(p).includes(frame));
  const work = mends ? 'Mended' : peels.some((p) => anchorsOf(p).includes(frame)) ? 'Painted' : null;
  const painted = here?.anchor === frame;
  return (
    <div className="shrink-0 border-line border-t px-3 py-2 text-xs" aria-live="polite">
      {!here && (
        <p className="text-quiet">
          {work ? `${work} on this frame. Carry it to the others.` : 'Not found yet on this frame, or its strokes have changed: carry the Peel.'}
        </p>
      )}
      {here && painted && <p>{mends ? 'Carried to this frame and mended here.' : 'Painted and found on this frame.'}</p>}
      {here && !painted && (
        <>
          <p>
            <b>{wordFor(here)}</b>: doubt <b className="font-mono">{here.doubt}</b> of 100, carried from frame {here.anchor + plate.firstNumber}
          </p>
          {here.reasons.map((r) => (
            <p key={r} className="text-quiet">
              {REASONS[r]}
            </p>
          ))}
        </>
      )}
      {found.size > 0 && <Review />}
    </div>
  );
}
