/** The next step, in one place on every bench: what a compositor would do now, what it takes, and why. */
import { ArrowRight, X } from 'lucide-react';
import { type Ref, useImperativeHandle } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { type NextStep, nextStep, type StepId } from '~/core/document/next-step.ts';
import { pathsOf } from '~/core/document/parts.ts';
import { gapsOf } from '~/core/document/tracks.ts';
import { carry } from '../state/peel.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { skipStep, useStanding } from '../state/standing.ts';
import { takeTool, useToBench } from '../state/to-bench.ts';
import { trackPart, useTracking } from '../state/track.ts';
import { currentSubject, useWorkbench } from '../state/workbench-context.tsx';
import type { ToolId } from '../tools/index.ts';
import { Button, IconButton } from '../ui/controls.tsx';
import { useReview } from '../ui/doubt-note.tsx';
import { RemarksNote } from '../ui/remarks-note.tsx';

/** Waits until something is on the page, since a bench may have to come first. */
function whenThere(selector: string, act: (element: HTMLElement) => void, tries = 40): void {
  const element = document.querySelector<HTMLElement>(selector);
  if (element) act(element);
  else if (tries > 0) setTimeout(() => whenThere(selector, act, tries - 1), 50);
}

/** The step that is offered, and doing it. */
function useNextStep(): { step: NextStep | null; act(): void; skip(): void; draw(): void } {
  const store = useShotStore();
  const bench = useWorkbench();
  const { plate, view } = bench;
  const navigate = useNavigate();
  const standing = useStanding();
  const { next: review } = useReview();
  const step = nextStep(standing);
  const { shotId } = store.getState();

  const toBench = useToBench();
  const take = (tool: ToolId) => toBench('isolate', () => takeTool(view, tool));
  const subject = () => currentSubject(store.getState());

  const does: Record<StepId, () => void> = {
    footage: () => navigate('/'),
    isolate: () => take('brush'),
    close() {
      const open = subject()
        ?.parts.flatMap(pathsOf)
        .find((p) => !p.closed);
      if (open && store.getState().commit('Close curve', [{ kind: 'assign', id: open.id, values: { closed: true } }])) return;
      take('draw');
    },
    carry() {
      for (const part of subject()?.parts ?? []) if (part.type === 'peel') void carry(store, part.id, 0, plate.frames - 1);
    },
    carrying: () => whenThere('[data-running-work]', (e) => e.click()),
    track() {
      const part = subject()?.parts.find((p) => p.type === 'spline' && !p.follow && p.paths.some((q) => q.closed));
      if (part?.type !== 'spline') return;
      store.getState().select(part.id);
      void trackPart(store, bench, part.id, { model: 'similarity', look: 'full', own: 'stay' }, { first: 0, last: plate.frames - 1 });
    },
    review: () => toBench('isolate', review),
    'mend-track'() {
      const part = subject()?.parts.find((p) => p.type === 'spline' && p.follow);
      const follow = part?.type === 'spline' ? part.follow : null;
      const track = standing.document.tracks.find((t) => t.id === follow?.track);
      const [gap] = track ? gapsOf(track) : [];
      toBench('isolate', () => {
        if (part) store.getState().select(part.id);
        if (gap) view.getState().goTo(gap.first);
        whenThere('[data-outcome]', (e) => e.scrollIntoView({ block: 'center' }));
      });
    },
    soften: () =>
      toBench('edge', () =>
        whenThere('[data-settings] input[data-setting="edge.featherOut"]', (e) => {
          e.scrollIntoView({ block: 'center' });
          e.focus();
        }),
      ),
    compose: () =>
      toBench('compose', () =>
        whenThere(`[data-add-to="behind:${subject()?.id}"]`, (e) => {
          e.focus();
          e.click();
        }),
      ),
    write() {
      // Where it is chosen what to write, this is the same as pressing its button.
      const there = view.getState().bench === 'output';
      toBench('output', () => whenThere('[data-write]', (e) => (there ? e.click() : e.focus())));
    },
    fetch: () => toBench('output', () => whenThere('[data-written] a[download]', (e) => e.focus())),
  };
  return {
    step,
    act: () => (step ? does[step.id]() : toast('Nothing is left to do here that Mottrel knows of.', { id: 'next' })),
    skip: () => step && skipStep(shotId, step.id),
    draw: () => take('draw'),
  };
}

export interface NextStepHandle {
  act(): void;
}

/** @param ref to do the step from elsewhere, as its key does */
export function NextStepBar({ ref }: { ref: Ref<NextStepHandle> }) {
  const { step, act, skip, draw } = useNextStep();
  useImperativeHandle(ref, () => ({ act }));
  const tracking = useTracking() !== null;
  return (
    <section aria-label="Next step" className="flex h-9 shrink-0 items-center gap-2 border-line border-t bg-panel px-3">
      <p className="min-w-0 flex-1 truncate text-quiet text-xs" title={step?.why}>
        {step ? step.why : 'All is done that Mottrel knows of.'}
      </p>
      <RemarksNote />
      {step && step.id !== 'carrying' && (
        <IconButton label="Not now" about="Puts this step aside for this shot and offers the next one." className="!size-6" onClick={skip}>
          <X />
        </IconButton>
      )}
      {step?.id === 'isolate' && (
        <Button className="shrink-0" onClick={draw}>
          Draw round it
        </Button>
      )}
      {step && (
        <Button tone="strong" className="shrink-0" data-next-step={step.id} disabled={step.id === 'track' && tracking} onClick={act}>
          {step.label} <ArrowRight className="size-3.5" aria-hidden />
        </Button>
      )}
    </section>
  );
}
