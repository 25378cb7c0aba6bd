/** Bringing footage in: drop it anywhere on the page, or choose files. */
import { Film, Upload, X } from 'lucide-react';
import { Progress } from 'radix-ui';
import { useEffect, useRef, useState } from 'react';
import { useRevalidator } from 'react-router';
import { toast } from 'sonner';
import { timeLeft } from '../state/jobs.ts';
import { send } from '../state/send.ts';
import { type UploadProgress, uploadShot } from '../state/upload.ts';
import { Button, IconButton, TEXT_FIELD } from './controls.tsx';
import { FileInput } from './file-input.tsx';

interface Running {
  key: number;
  name: string;
  progress: UploadProgress;
  cancel(): void;
}

const IS_PICTURE = /\.(png|jpe?g|tiff?|exr|dpx|bmp|webp)$/i;
const size = (bytes: number) => (bytes > 1e9 ? `${(bytes / 1e9).toFixed(1)} GB` : `${(bytes / 1e6).toFixed(1)} MB`);

/** Pictures chosen together are one sequence; every other file is a shot of its own. */
function asShots(files: File[]): File[][] {
  const pictures = files.filter((f) => IS_PICTURE.test(f.name));
  const rest = files.filter((f) => !IS_PICTURE.test(f.name));
  return [...(pictures.length > 0 ? [pictures] : []), ...rest.map((f) => [f])];
}

/** A name for the production that footage makes by itself: that of its first file, as one would write it. */
const nameFrom = (file: string): string =>
  file
    .replace(/\.[^.]+$/, '')
    .replace(/[._-]*\d*$/, '')
    .replace(/[._-]+/g, ' ')
    .trim()
    .replace(/^./, (c) => c.toUpperCase())
    .slice(0, 120) || 'New footage';

/**
 * @param productionId where the footage goes; null: into a production that it makes by itself
 * @param onShots hears of the shots that came of what was dropped at once, and of their production
 */
export function DropFootage({
  productionId,
  onShots,
  large = false,
}: {
  productionId: string | null;
  onShots?(shotIds: string[], productionId: string): void;
  large?: boolean;
}) {
  const [running, setRunning] = useState<Running[]>([]);
  const [over, setOver] = useState(false);
  const [rate, setRate] = useState('24');
  const input = useRef<HTMLInputElement>(null);
  const { revalidate } = useRevalidator();
  const counter = useRef(0);

  const begin = (files: File[]) => {
    if (files.length === 0) return;
    const shots = asShots(files);
    const into =
      productionId !== null
        ? Promise.resolve(productionId)
        : send<{ id: string }>('/new-production', { body: { name: nameFrom(files[0].name) } }).then((made) => made.id);
    const made: string[] = [];
    let left = shots.length;
    for (const shot of shots) {
      const key = counter.current++;
      const name = shot.length === 1 ? shot[0].name : `${shot[0].name} and ${shot.length - 1} more`;
      const stop = new AbortController();
      setRunning((list) => [...list, { key, name, progress: { sent: 0, total: 1 }, cancel: () => stop.abort() }]);
      into
        .then((target) =>
          uploadShot(target, shot, rate, (progress) => setRunning((list) => list.map((r) => (r.key === key ? { ...r, progress } : r))), stop.signal),
        )
        .then(({ notes, shotId }) => {
          made.push(shotId);
          for (const note of notes) toast(note);
          void revalidate();
        })
        .catch((error: Error) => {
          if (error.name === 'AbortError') toast(`"${name}" was cancelled`);
          else toast.error(error.message, { duration: 15_000 });
        })
        .finally(() => {
          setRunning((list) => list.filter((r) => r.key !== key));
          left--;
          if (left === 0 && made.length > 0) void into.then((target) => onShots?.(made, target));
        });
    }
  };
  const latest = useRef(begin);
  latest.current = begin;

  useEffect(() => {
    const hasFiles = (e: DragEvent) => e.dataTransfer?.types.includes('Files') ?? false;
    const onOver = (e: DragEvent) => {
      if (!hasFiles(e)) return;
      e.preventDefault();
      setOver(true);
    };
    const onLeave = (e: DragEvent) => {
      if (e.relatedTarget === null) setOver(false);
    };
    const onDrop = (e: DragEvent) => {
      if (!hasFiles(e)) return;
      e.preventDefault();
      setOver(false);
      latest.current([...(e.dataTransfer?.files ?? [])]);
    };
    window.addEventListener('dragover', onOver);
    window.addEventListener('dragleave', onLeave);
    window.addEventListener('drop', onDrop);
    return () => {
      window.removeEventListener('dragover', onOver);
      window.removeEventListener('dragleave', onLeave);
      window.removeEventListener('drop', onDrop);
    };
  }, []);

  return (
    <section aria-label="Bring footage in" className="mb-6">
      <div
        className={`flex flex-wrap items-center gap-x-4 gap-y-2 rounded-lg border border-dashed px-4 ${large ? 'py-8' : 'py-4'} ${over ? 'border-ink bg-raised' : 'border-edge'}`}
      >
        <Film className="size-6 text-quiet" aria-hidden />
        <p className="min-w-60 flex-1 text-sm">
          {over ? 'Let go to bring it in.' : 'Drop footage here: a video, a numbered picture sequence (files or a zip), or a still.'}
        </p>
        <label className="flex items-center gap-2 text-quiet text-sm">
          Rate of sequences
          <input className={`${TEXT_FIELD} !w-20`} value={rate} onChange={(e) => setRate(e.target.value)} inputMode="decimal" aria-describedby="rate-unit" />
          <span id="rate-unit">frames/s</span>
        </label>
        <Button tone="strong" onClick={() => input.current?.click()}>
          <Upload className="size-4" aria-hidden /> Choose files
        </Button>
        <FileInput input={input} label="Footage files" multiple onFiles={begin} />
      </div>
      <ul aria-live="polite" className="mt-2 space-y-2">
        {running.map((r) => {
          const percent = Math.floor((100 * r.progress.sent) / Math.max(1, r.progress.total));
          return (
            <li key={r.key} className="flex items-center gap-3 rounded border border-line bg-panel px-3 py-2 text-sm">
              <span className="w-64 truncate">{r.name}</span>
              <Progress.Root value={percent} aria-label={`Sending ${r.name}`} className="h-1.5 flex-1 overflow-hidden rounded bg-well">
                <Progress.Indicator className="h-full bg-ink" style={{ width: `${percent}%` }} />
              </Progress.Root>
              <span className="w-64 text-right text-quiet">
                {r.progress.ahead
                  ? `waits for ${r.progress.ahead === 1 ? 'one upload' : `${r.progress.ahead} uploads`} before it`
                  : [`${size(r.progress.sent)} of ${size(r.progress.total)}`, timeLeft(r.progress.secondsLeft ?? null)].filter(Boolean).join(', ')}
              </span>
              <IconButton label="Cancel sending" about="Nothing of it is kept." onClick={r.cancel}>
                <X />
              </IconButton>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
