/** Long work as every page sees it: the list at first, then each step as it happens. */
import { useEffect } from 'react';
import { create } from 'zustand';
import type { JobSummary } from '~/server/jobs/queue.ts';
import { listen } from './live.ts';
import { send } from './send.ts';

interface JobsState {
  jobs: Record<string, JobSummary>;
}

export const useJobsStore = create<JobsState>(() => ({ jobs: {} }));

const put = (job: JobSummary) => useJobsStore.setState(({ jobs }) => ({ jobs: { ...jobs, [job.id]: job } }));

export const isOpen = (job: JobSummary): boolean => job.state === 'queued' || job.state === 'running' || job.state === 'paused';

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

/** "12 s left", "3 min left". */
export function timeLeft(seconds: number | null): string {
  if (seconds === null) return '';
  if (seconds < 90) return `${Math.max(1, Math.round(seconds))} s left`;
  if (seconds < 5400) return `${Math.round(seconds / 60)} min left`;
  return `${(seconds / 3600).toFixed(1)} h left`;
}
