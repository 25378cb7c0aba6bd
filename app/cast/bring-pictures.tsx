/** A picture or a sequence from disk, as an imported matte or for an element: sent, taken in as a shot of its own, then put where it is wanted. */
import { X } from 'lucide-react';
import { Progress } from 'radix-ui';
import { useState } from 'react';
import { toast } from 'sonner';
import type { ShotDocument } from '~/core/document/schema.ts';
import type { ChosenFootage } from '../state/footage.ts';
import { actOnJob, ingestEnd, isOpen, useJobsStore } from '../state/jobs.ts';
import { send } from '../state/send.ts';
import { uploadShot } from '../state/upload.ts';
import { useWorkbench } from '../state/workbench-context.tsx';
import { IconButton } from '../ui/controls.tsx';

export const FILE_FIELD = 'w-full text-xs file:mr-2 file:h-7 file:rounded file:border file:border-line file:bg-raised file:px-2 file:text-ink';

interface Sending {
  name: string;
  /** Share of the bytes that are there. */
  share: number;
  /** The shot it has become, while its frames are read. */
  shotId: string | null;
  cancel(): void;
}

export function BringPictures({ target, label, onBroughtIn }: { target: string; label: string; onBroughtIn(target: string, picture: ChosenFootage): void }) {
  const { plate, productionId } = useWorkbench();
  const [sending, setSending] = useState<Sending | null>(null);
  const job = useJobsStore((s) => Object.values(s.jobs).find((j) => j.shotId === sending?.shotId && j.kind === 'ingest' && isOpen(j)));

  const bringIn = async (files: File[]) => {
    if (files.length === 0) return;
    const stop = new AbortController();
    const name = files.length === 1 ? files[0].name : `${files[0].name} and ${files.length - 1} more`;
    setSending({ name, share: 0, shotId: null, cancel: () => stop.abort() });
    try {
      const rate = `${plate.rate.num}/${plate.rate.den}`;
      const progress = ({ sent, total }: { sent: number; total: number }) => setSending((s) => s && { ...s, share: sent / Math.max(1, total) });
      const made = await uploadShot(productionId, files, rate, progress, stop.signal);
      for (const note of made.notes) toast(note);
      setSending((s) => s && { ...s, share: 1, shotId: made.shotId });
      const end = await ingestEnd(made.shotId);
      if (end.state === 'cancelled') throw new DOMException('Cancelled', 'AbortError');
      if (end.state !== 'done') throw new Error(end.message ?? 'The picture could not be read.');
      const document = await send<ShotDocument>(`/shots/${made.shotId}/document`);
      const { frames, width, height } = document.plate;
      onBroughtIn(target, { plateId: made.plateId, name: document.name, frames, width, height, alpha: made.alpha });
    } catch (error) {
      const { name: kind, message } = error as Error;
      if (kind === 'AbortError') toast(`"${name}" was cancelled`);
      else toast.error(message || 'The picture could not be brought in.', { duration: 15_000 });
    }
    setSending(null);
  };

  const cancel = () => {
    if (job) actOnJob(job.id, 'cancel').catch((error: Error) => toast.error(error.message));
    else sending?.cancel();
  };

  const percent = Math.floor(100 * (job ? job.done / Math.max(1, job.total) : (sending?.share ?? 0)));
  const step = sending?.shotId ? 'Reading' : 'Sending';
  return (
    <>
      <input
        type="file"
        multiple
        aria-label={label}
        disabled={sending !== null}
        onChange={(e) => {
          void bringIn([...(e.target.files ?? [])]);
          e.target.value = '';
        }}
        className={FILE_FIELD}
      />
      <div aria-live="polite" className="min-h-7 pt-1 text-quiet text-xs">
        {sending && (
          <div className="flex items-center gap-2">
            <span className="max-w-56 truncate">
              {step} {sending.name}
            </span>
            <Progress.Root value={percent} aria-label={`${step} ${sending.name}`} className="h-1.5 flex-1 overflow-hidden rounded bg-well">
              <Progress.Indicator className="h-full bg-ink" style={{ width: `${percent}%` }} />
            </Progress.Root>
            <IconButton label="Cancel bringing it in" about="Nothing of it is kept." className="!size-6" onClick={cancel}>
              <X />
            </IconButton>
          </div>
        )}
      </div>
    </>
  );
}
