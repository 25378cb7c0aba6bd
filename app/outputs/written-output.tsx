/** Outputs that were written or are being written. */
import { Download, FileJson, FolderOpen, RotateCcw, ShieldCheck, Trash2 } from 'lucide-react';
import { toast } from 'sonner';
import type { OutputJob, OutputSummary } from '~/server/outputs/outputs.ts';
import { actOnJob, worksOf } from '../state/jobs.ts';
import { useWorkbench } from '../state/workbench-context.tsx';
import { IconButton } from '../ui/controls.tsx';
import { WorkControls, WorkProgress } from '../ui/running-jobs.tsx';
import { specWords } from './output-words.ts';

const report = (error: Error) => toast.error(error.message);

/** What one job wrote, or is writing: an output, or several in one pass. */
export function WrittenOutput({ outputs, job, onChanged }: { outputs: readonly OutputSummary[]; job: OutputJob['job']; onChanged(): void }) {
  const { formats } = useWorkbench();
  const [work] = worksOf([job]);
  const [one] = outputs;
  const several = outputs.length > 1;
  const format = formats.find((f) => f.id === one.spec.kind);
  const single = !several && format?.single ? one.files[0] : null;
  const words = useWordsOf();
  const isThere = job.state === 'done' && one.files.length > 0;
  return (
    <li className="mt-1 rounded border border-line p-2">
      <div className="flex items-center gap-1">
        <div className="min-w-0 flex-1">
          <p className="truncate text-sm" title={format?.label}>
            {several ? `${outputs.length} outputs in one pass` : (format?.label ?? one.spec.kind)}
          </p>
          {!several && (
            <p className="truncate text-quiet text-xs" title={words(one)}>
              {words(one)}
            </p>
          )}
        </div>
        {/* That it is done may be known before what was written is. */}
        {isThere && (
          <>
            {!several && <Sidecar jobId={job.id} output={one} />}
            <a
              className="flex h-7 items-center gap-1 rounded border border-line bg-raised px-2 text-sm hover:border-edge"
              href={single ? `/outputs/${job.id}/files/${encodeURIComponent(single)}` : `/outputs/${job.id}/zip`}
              download
            >
              <Download className="size-4" aria-hidden /> {single ? 'Fetch' : 'Zip'}
            </a>
          </>
        )}
        {job.state === 'failed' && (
          <IconButton label="Try again" about="From where it failed." onClick={() => actOnJob(job.id, 'resume').then(onChanged, report)}>
            <RotateCcw />
          </IconButton>
        )}
        {work ? (
          <WorkControls work={work} />
        ) : (
          <IconButton
            label="Delete this output and its files"
            about="The shot stays; it can be written again."
            onClick={() => actOnJob(job.id, 'remove').then(onChanged, report)}
          >
            <Trash2 />
          </IconButton>
        )}
      </div>
      {work && (
        <div className="mt-1.5">
          <WorkProgress work={work} />
        </div>
      )}
      {job.state === 'failed' && <p className="mt-1 text-doubt text-xs">{job.message}</p>}
      {outputs.map((output) => (
        <Checked key={output.folder} output={output} jobId={job.id} isDone={job.state === 'done'} named={several} />
      ))}
    </li>
  );
}

function useWordsOf(): (output: OutputSummary) => string {
  const { plate, formats } = useWorkbench();
  return ({ spec, subjectName }) =>
    specWords(
      spec,
      formats.find((f) => f.id === spec.kind),
      plate,
      subjectName,
    );
}

const Sidecar = ({ jobId, output: { part } }: { jobId: string; output: OutputSummary }) => (
  <a
    className="flex size-7 items-center justify-center rounded hover:bg-raised"
    href={`/outputs/${jobId}/files/output.json${part ? `?of=${encodeURIComponent(part)}` : ''}`}
    download
    aria-label="Fetch the sidecar: what it was made from"
  >
    <FileJson className="size-4" />
  </a>
);

/** What was found when an output was read back, and where it is. */
function Checked({ output, jobId, isDone, named }: { output: OutputSummary; jobId: string; isDone: boolean; named: boolean }) {
  const { formats } = useWorkbench();
  const words = useWordsOf();
  const { checked, folder, spec, files } = output;
  return (
    <div className={named ? 'mt-1 border-line border-t pt-1' : ''}>
      {named && (
        <div className="flex items-center gap-1">
          <p className="min-w-0 flex-1 text-xs">
            {formats.find((f) => f.id === spec.kind)?.label ?? spec.kind} <span className="text-quiet">{words(output)}</span>
          </p>
          {isDone && files.length > 0 && <Sidecar jobId={jobId} output={output} />}
        </div>
      )}
      {isDone && checked && (
        <p className="mt-1 flex items-center gap-1 text-2xs text-quiet" title={`Read back as rendered: frames ${checked.readBack.join(', ')}`}>
          <ShieldCheck className="size-3.5 shrink-0" aria-hidden /> Checked: {checked.frames === 1 ? 'one frame' : `${checked.frames} frames`}
          {checked.sound !== null && `, ${checked.sound.toFixed(2)} s of sound`}, {checked.readBack.length} read back as rendered
        </p>
      )}
      {isDone && (
        <p className="mt-1 flex items-center gap-1 text-2xs text-quiet" title={folder}>
          <FolderOpen className="size-3.5 shrink-0" aria-hidden /> <span className="select-all truncate font-mono">{folder}</span>
        </p>
      )}
    </div>
  );
}
