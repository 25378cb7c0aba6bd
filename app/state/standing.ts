/** How the shot stands: what the next step and the guides go by. */
import { useEffect, useMemo, useState } from 'react';
import { z } from 'zod';
import { create } from 'zustand';
import { isDoubtful } from '~/core/document/approval.ts';
import type { Standing, StepId } from '~/core/document/next-step.ts';
import { peelKeys } from '~/core/peel/results/inputs.ts';
import { keepIn, keptIn } from './browser-kept.ts';
import { useJobs, useJobsStore } from './jobs.ts';
import { useAllFound, useCarrying, useDoubt } from './peel.ts';
import { reviewedName } from './reviewed.ts';
import { useShot } from './shot-context.tsx';
import { useSettledSubject, useView, useWorkbench } from './workbench-context.tsx';

/** Works on as many threads at a time when it goes both ways. */
const BOTH_WAYS = 2;

const STORED = 'mottrel.skipped.';
const skippedSchema = z.array(z.string());
const NONE: StepId[] = [];

/** Steps that were put aside, by shot; kept in the browser. */
const useSkipped = create<{ of: Record<string, readonly StepId[]> }>(() => ({ of: {} }));

const skippedIn = (shotId: string): readonly StepId[] => keptIn(STORED + shotId, skippedSchema, NONE) as readonly StepId[];

const putSkipped = (shotId: string, list: readonly StepId[]) => useSkipped.setState(({ of }) => ({ of: { ...of, [shotId]: list } }));

export function skipStep(shotId: string, id: StepId): void {
  const list = [...(useSkipped.getState().of[shotId] ?? []), id];
  putSkipped(shotId, list);
  keepIn(STORED + shotId, list);
}

/** Outputs of the shot that are there: those at first, and those that were written since. */
function useWritten(shotId: string): number {
  const { written } = useWorkbench();
  const jobs = useJobsStore((s) => s.jobs);
  const [atFirst] = useState(() => new Date().toISOString());
  const since = Object.values(jobs).filter((j) => j.kind === 'output' && j.shotId === shotId && j.state === 'done' && j.createdAt > atFirst).length;
  return written + since;
}

export function useStanding(): Standing {
  useJobs();
  const { plate, carryCost, threads } = useWorkbench();
  const shotId = useShot((s) => s.shotId);
  const document = useShot((s) => s.history.settled);
  const subject = useSettledSubject();
  const { peels, found } = useDoubt();
  const all = useAllFound();
  const [work] = useCarrying();
  const written = useWritten(shotId);
  const skipped = useSkipped((s) => s.of[shotId] ?? NONE);
  useEffect(() => putSkipped(shotId, skippedIn(shotId)), [shotId]);
  const { done, total } = work ?? { done: 0, total: 0 };
  const reviewed = useView((s) => s.reviewed);
  const going = work !== undefined;
  const missing = useMemo(() => {
    let n = 0;
    for (const peel of peels) {
      const keyOf = peelKeys(peel);
      if (keyOf(0) === null) continue;
      for (let f = 0; f < plate.frames; f++) if (all[peel.id]?.get(f)?.key !== keyOf(f)) n++;
    }
    return n;
  }, [peels, all, plate.frames]);
  return useMemo(() => {
    const doubtful = [...found.values()].filter((f) => !reviewed.has(reviewedName(f)) && isDoubtful(subject, f)).length;
    const secondsToCarry = (carryCost.start + (carryCost.unit * missing) / Math.min(BOTH_WAYS, threads)) / 1000;
    return {
      document,
      subject,
      found: found.size,
      doubtful,
      missing,
      secondsToCarry,
      carrying: going ? { done, total } : null,
      written,
      skipped: new Set(skipped),
    };
  }, [document, subject, found, reviewed, missing, carryCost, threads, going, done, total, written, skipped]);
}
