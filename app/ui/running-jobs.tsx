/** The running work in the top bar: how many, how far, and pause, go on and cancel for each. */
import { Activity, Pause, Play, X } from 'lucide-react';
import { Popover, Progress } from 'radix-ui';
import { toast } from 'sonner';
import { actOnWork, stateWords, useJobs, type Work, worksOf } from '../state/jobs.ts';
import { useLink } from '../state/link.ts';
import { IconButton } from './controls.tsx';

const report = (error: Error) => toast.error(error.message);

/** Whether work stands still since what does it cannot be reached. */
const useInterrupted = () => useLink((s) => s.outage === 'server' || s.outage === 'database');

export function WorkProgress({ work }: { work: Work }) {
  const interrupted = useInterrupted();
  const percent = work.total > 0 ? (100 * work.done) / work.total : 0;
  const name = `${work.doing}${work.label ? ` ${work.label}` : ''}`;
  return (
    <div className="min-w-0 flex-1">
      <div className="truncate text-xs" title={name}>
        {name}
      </div>
      <Progress.Root value={Math.floor(percent)} aria-label={name} className="my-1 h-1.5 overflow-hidden rounded bg-well">
        <Progress.Indicator className={`h-full ${interrupted || work.state !== 'running' ? 'bg-edge' : 'bg-ink'}`} style={{ width: `${percent}%` }} />
      </Progress.Root>
      <div className="text-quiet text-xs">{stateWords(work, interrupted)}</div>
    </div>
  );
}

export function WorkControls({ work }: { work: Work }) {
  return (
    <span className="flex">
      {work.state === 'paused' ? (
        <IconButton label="Go on" about="From where it was paused." onClick={() => actOnWork(work, 'resume').catch(report)}>
          <Play />
        </IconButton>
      ) : (
        <IconButton label="Pause" about="It goes on later from where it is." onClick={() => actOnWork(work, 'pause').catch(report)}>
          <Pause />
        </IconButton>
      )}
      <IconButton label="Cancel" about="What was done until now stays." onClick={() => actOnWork(work, 'cancel').catch(report)}>
        <X />
      </IconButton>
    </span>
  );
}

/** In the top bar: how many works there are and how far the first is; each of them on a press. */
export function RunningJobs() {
  const works = worksOf(Object.values(useJobs()));
  const interrupted = useInterrupted();
  if (works.length === 0) return null;
  const first = works.find((w) => w.state === 'running') ?? works[0];
  const word = interrupted ? 'interrupted' : first.state === 'running' ? 'running' : first.state === 'paused' ? 'paused' : 'waiting';
  return (
    <Popover.Root>
      <Popover.Trigger
        data-running-work
        className="inline-flex h-7 shrink-0 items-center gap-1.5 whitespace-nowrap rounded border border-line bg-raised px-2 text-sm hover:border-edge"
      >
        <Activity className="size-4" aria-hidden /> {works.length} {word}
        {!interrupted && first.state === 'running' && (
          <span className="font-mono text-quiet text-xs">{Math.floor((100 * first.done) / Math.max(1, first.total))} %</span>
        )}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          className="z-50 w-80 space-y-3 rounded-md border border-line bg-panel p-3 shadow-xl"
          aria-label="Running work"
        >
          {works.map((work) => (
            <div key={work.id} className="flex items-center gap-2">
              <WorkProgress work={work} />
              <WorkControls work={work} />
            </div>
          ))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
