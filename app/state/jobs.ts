/** Long work as every page sees it: the list at first, then each step as it happens. */
import { useEffect } from 'react';
import { create } from 'zustand';
import type { JobSummary } from '~/server/jobs/queue.ts';
import { listen } from './event-stream.ts';
import { send } from './send.ts';

interface JobsState {
  jobs: Record<string, JobSummary>;
}

export const useJobsStore = create<JobsState>(() => ({ jobs: {} }));

const put = (job: JobSummary) => useJobsStore.setState(({ jobs }) => ({ jobs: { ...jobs, [job.id]: job } }));

export const isOpen = (job: JobSummary): boolean => job.state === 'queued' || job.state === 'running' || job.state === 'paused';

/** A work as people see it: one job, or several that go on at the same time. */
export interface Work {
  id: string;
  kind: string;
  doing: string;
  label: string;
  shotId: string;
  state: 'queued' | 'running' | 'paused';
  done: number;
  total: number;
  /** Until all of it is done; null while it is paused. */
  secondsLeft: number | null;
  /** Of a work that waits: how many run or wait before it. */
  ahead: number;
  createdAt: string;
  /** The jobs that are not over. */
  open: JobSummary[];
}

/** The works that are not over, in the order in which they were asked for. */
export function worksOf(jobs: Iterable<JobSummary>): Work[] {
  const groups = new Map<string, JobSummary[]>();
  for (const job of jobs) groups.set(job.group, [...(groups.get(job.group) ?? []), job]);
  const works = [...groups.values()].flatMap((all): Work[] => {
    // What was cancelled or failed is no longer to be done.
    const counted = all.filter((j) => isOpen(j) || j.state === 'done');
    const open = all.filter(isOpen);
    if (open.length === 0) return [];
    const state = (['running', 'queued', 'paused'] as const).find((s) => open.some((j) => j.state === s)) ?? 'paused';
    const sum = (of: 'done' | 'total') => counted.reduce((n, j) => n + j[of], 0);
    const left = open.flatMap((j) => j.secondsLeft ?? []);
    const [{ group: id, kind, doing, label, shotId }] = open;
    return [
      {
        ...{ id, kind, doing, label, shotId, state, open },
        done: sum('done'),
        total: sum('total'),
        secondsLeft: left.length > 0 ? Math.max(...left) : null,
        ahead: state === 'queued' ? Math.min(...open.map((j) => j.ahead ?? 0)) : 0,
        createdAt: all.map((j) => j.createdAt).sort()[0],
      },
    ];
  });
  return works.sort((a, b) => a.createdAt.localeCompare(b.createdAt));
}

/** Follows the server's jobs while any component that calls it is shown. `onEnd` hears of each job that ended. */
export function useJobs(onEnd?: (job: JobSummary) => void): Record<string, JobSummary> {
  useEffect(
    () =>
      listen({
        onOpen() {
          send<JobSummary[]>('/jobs')
            .then((list) => useJobsStore.setState({ jobs: Object.fromEntries(list.map((j) => [j.id, j])) }))
            .catch(() => {});
        },
        onJob: put,
      }),
    [],
  );
  useEffect(() => {
    if (!onEnd) return;
    return useJobsStore.subscribe((now, before) => {
      for (const job of Object.values(now.jobs)) {
        const was = before.jobs[job.id];
        if (was !== job && !isOpen(job) && (!was || isOpen(was))) onEnd(job);
      }
    });
  }, [onEnd]);
  return useJobsStore((s) => s.jobs);
}

/** Waits, as long as some component follows the jobs, for the end of a shot's ingest. */
export const ingestEnd = (shotId: string): Promise<JobSummary> =>
  new Promise((resolve) => {
    const look = () => {
      const job = Object.values(useJobsStore.getState().jobs).find((j) => j.shotId === shotId && j.kind === 'ingest' && !isOpen(j));
      if (!job) return;
      stop();
      resolve(job);
    };
    const stop = useJobsStore.subscribe(look);
    look();
  });

export const actOnJob = (id: string, action: 'pause' | 'resume' | 'cancel' | 'remove') => send<JobSummary>(`/jobs/${id}`, { body: { action } });

/** Pauses, takes up again or cancels all jobs of a work that are not over; what is over by now is no fault. */
export const actOnWork = ({ open }: Work, action: 'pause' | 'resume' | 'cancel'): Promise<unknown> =>
  Promise.all(
    open
      .filter((j) => action !== 'resume' || j.state === 'paused')
      .map((j) =>
        actOnJob(j.id, action).catch((error: Error & { code?: string }) => {
          if (error.code !== 'job-moved-on') throw error;
        }),
      ),
  );

/** How far a work is, in words: what it waits for, or how much is done and the time left. */
export function stateWords({ state, done, total, secondsLeft, ahead }: Work, interrupted: boolean): string {
  const frames = `${done} of ${total} frames`;
  if (interrupted) return `interrupted at ${frames}`;
  if (state === 'paused') return `paused at ${frames}`;
  const left = timeLeft(secondsLeft);
  if (state === 'queued') return `waits for ${ahead === 0 ? 'a thread' : ahead === 1 ? 'one other work' : `${ahead} other works`}${left && `; ${left}`}`;
  return [frames, left].filter(Boolean).join(', ');
}

/** "12 s left", "3 min left". */
export function timeLeft(seconds: number | null): string {
  if (seconds === null) return '';
  if (seconds < 90) return `${Math.max(1, Math.round(seconds))} s left`;
  if (seconds < 5400) return `${Math.round(seconds / 60)} min left`;
  return `${(seconds / 3600).toFixed(1)} h left`;
}
