/** A guide beside the work: its steps tick themselves off, each with a way to where it is done. */
import { ChevronDown, ChevronUp, Circle, CircleCheck, X } from 'lucide-react';
import { type GuideStep, guideById } from '~/core/guides/guides.ts';
import { endGuide, foldGuide, useGuide } from '../state/guide.ts';
import { useStanding } from '../state/standing.ts';
import { takeTool, useToBench } from '../state/to-bench.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { IconButton } from '../ui/controls.tsx';

export function GuidePanel() {
  const id = useGuide((s) => s.id);
  return guideById(id) ? <Steps /> : null;
}

function Steps() {
  const { id, folded } = useGuide();
  const guide = guideById(id);
  const { view } = useWorkbench();
  const toBench = useToBench();
  const standing = useStanding();
  const bench = useView((s) => s.bench);
  const shown = useView((s) => s.view);
  if (!guide) return null;
  const ticks = guide.steps.map((s) => s.done({ ...standing, bench, view: shown }));
  const at = ticks.indexOf(false);
  const done = ticks.filter(Boolean).length;
  const show = ({ bench: where, tool }: GuideStep) => toBench(where, tool && (() => takeTool(view, tool)));
  return (
    <section aria-label={`Guide: ${guide.title}`} className="flex max-h-[55%] shrink-0 flex-col border-line border-b bg-panel">
      <div className="flex h-9 shrink-0 items-center gap-1 pr-1 pl-3">
        <h2 className="min-w-0 flex-1 truncate font-semibold text-xs">
          {guide.title}{' '}
          <span className="font-normal text-quiet">
            {done} of {ticks.length}
          </span>
        </h2>
        <IconButton label={folded ? 'Unfold the guide' : 'Fold the guide'} about="Its title stays." className="!size-6" onClick={() => foldGuide(!folded)}>
          {folded ? <ChevronDown /> : <ChevronUp />}
        </IconButton>
        <IconButton label="Close the guide" about="It is found again in the command list and on the start page." className="!size-6" onClick={endGuide}>
          <X />
        </IconButton>
      </div>
      {!folded && (
        <ol className="min-h-0 overflow-auto px-2 pb-2" aria-live="polite">
          {guide.steps.map((step, i) => (
            <li key={step.words} className={`flex gap-2 rounded px-1 py-1 text-sm ${i === at ? 'bg-raised' : ''}`} aria-current={i === at ? 'step' : undefined}>
              {ticks[i] ? (
                <CircleCheck className="mt-0.5 size-4 shrink-0" role="img" aria-label="done" />
              ) : (
                <Circle className="mt-0.5 size-4 shrink-0 text-quiet" role="img" aria-label="to do" />
              )}
              <div className="min-w-0">
                <p className={ticks[i] ? 'text-quiet' : ''}>{step.words}</p>
                {i === at && (
                  <p className="text-quiet text-xs leading-relaxed">
                    {step.how}{' '}
                    <button type="button" className="text-ink underline" onClick={() => show(step)}>
                      Go there
                    </button>
                  </p>
                )}
              </div>
            </li>
          ))}
          {at < 0 && <li className="px-1 pt-1 text-sm">All done. Everything you did stays editable.</li>}
        </ol>
      )}
    </section>
  );
}
