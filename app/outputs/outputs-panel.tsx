/** Writing results out, and what was written before, ready to be fetched. */
import { useCallback, useEffect, useState } from 'react';
import { toast } from 'sonner';
import type { OutputJob } from '~/server/outputs/outputs.ts';
import { useJobs } from '../state/jobs.ts';
import { send } from '../state/send.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { EmptyNote } from '../ui/controls.tsx';
import { DocumentFile } from './document-file.tsx';
import { OutputForm } from './output-form.tsx';
import { WrittenOutput } from './written-output.tsx';

export function OutputsPanel() {
  const { shotId } = useShotStore().getState();
  const [written, setWritten] = useState<OutputJob[] | null>(null);
  const refresh = useCallback(() => {
    send<OutputJob[]>(`/shots/${shotId}/outputs`)
      .then(setWritten)
      .catch((error: Error) => toast.error(error.message));
  }, [shotId]);
  useEffect(refresh, [refresh]);
  const jobs = useJobs(refresh);
  return (
    <section aria-label="Output" className="flex h-full min-h-0 flex-col bg-panel">
      <div className="min-h-0 flex-1 overflow-auto">
        <OutputForm onAsked={refresh} />
        <h3 className="border-line border-t px-3 pt-3 pb-1 font-semibold text-xs">Written outputs</h3>
        {written?.length === 0 && <EmptyNote>None yet. Choose what to write above; you can go on working meanwhile.</EmptyNote>}
        <ul className="px-2 pb-3" data-written>
          {written?.map((o) => (
            <WrittenOutput key={o.job.id} outputs={o.outputs} job={jobs[o.job.id] ?? o.job} onChanged={refresh} />
          ))}
        </ul>
        <DocumentFile />
      </div>
    </section>
  );
}
