/** The running work in the top bar: how many, how far, and pause, go on and cancel for each. */
import { Activity, Pause, Play, X } from 'lucide-react';
import { Popover, Progress } from 'radix-ui';
import { toast } from 'sonner';
import type { JobSummary } from '~/server/jobs/queue.ts';
import { actOnJob, isOpen, timeLeft, useJobs } from '../state/jobs.ts';
import { IconButton } from './controls.tsx';

const KINDS: Record<string, string> = { ingest: 'Bringing footage in', output: 'Writing an output', carry: 'Carrying a Peel', track: 'Tracking' };

const report = (error: Error) => toast.error(error.message);

export function JobProgress({ job }: { job: JobSummary }) {
  const percent = job.total > 0 ? Math.floor((100 * job.done) / job.total) : 0;
  const word = job.state === 'queued' ? 'waiting' : job.state === 'paused' ? 'paused' : timeLeft(job.secondsLeft) || `${percent} %`;
  return (
    <div className="min-w-0 flex-1">
      <div className="flex justify-between gap-2 text-xs">
        <span className="truncate">{KINDS[job.kind] ?? job.kind}</span>
        <span className="shrink-0 text-quiet">{word}</span>
      </div>
      <Progress.Root value={percent} aria-label={KINDS[job.kind] ?? job.kind} className="mt-1 h-1.5 overflow-hidden rounded bg-well">
        <Progress.Indicator className="h-full bg-ink" style={{ width: `${percent}%` }} />
      </Progress.Root>
    </div>
  );
}

export function JobControls({ job }: { job: JobSummary }) {
  return (
    <span className="flex">
      {job.state === 'paused' ? (
        <IconButton label="Go on" onClick={() => actOnJob(job.id, 'resume').catch(report)}>
          <Play />
        </IconButton>
      ) : (
        <IconButton label="Pause" onClick={() => actOnJob(job.id, 'pause').catch(report)}>
          <Pause />
        </IconButton>
      )}
      <IconButton label="Cancel" onClick={() => actOnJob(job.id, 'cancel').catch(report)}>
        <X />
      </IconButton>
    </span>
  );
}

export function RunningJobs() {
  const open = Object.values(useJobs())
    .filter(isOpen)
    .sort((a, b) => a.createdAt.localeCompare(b.createdAt));
  if (open.length === 0) return null;
  return (
    <Popover.Root>
      <Popover.Trigger className="inline-flex h-7 items-center gap-1.5 rounded border border-line bg-raised px-2 text-sm hover:border-edge">
        <Activity className="size-4" aria-hidden /> {open.length} running
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          className="z-50 w-80 space-y-3 rounded-md border border-line bg-panel p-3 shadow-xl"
          aria-label="Running work"
        >
          {open.map((job) => (
            <div key={job.id} className="flex items-center gap-2">
              <JobProgress job={job} />
              <JobControls job={job} />
            </div>
          ))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
