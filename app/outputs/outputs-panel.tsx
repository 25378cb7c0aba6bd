/** Writing results out: what, of whom, which frames; and what was written before, ready to be fetched. */
import { Download, FileJson, FolderOpen, RotateCcw, ShieldCheck, Trash2 } from 'lucide-react';
import { useCallback, useEffect, useId, useRef, useState } from 'react';
import { toast } from 'sonner';
import { timeMap } from '~/core/compose/timing.ts';
import type { FormatDescription, OptionDescription, OutputSpec } from '~/server/outputs/format.ts';
import type { OutputSummary } from '~/server/outputs/outputs.ts';
import { ChoiceSetting, SwitchSetting } from '../settings/fields.tsx';
import { HELD } from '../settings/hold-still.tsx';
import { actOnJob, useJobs, worksOf } from '../state/jobs.ts';
import { send } from '../state/send.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button, EmptyNote, IconButton, PanelTitle, TEXT_FIELD } from '../ui/controls.tsx';
import { FileInput } from '../ui/file-input.tsx';
import { WorkControls, WorkProgress } from '../ui/running-jobs.tsx';

const FREE = 'as-filmed';
const report = (error: Error) => toast.error(error.message);

export function OutputsPanel() {
  const { shotId } = useShotStore().getState();
  const [outputs, setOutputs] = useState<OutputSummary[] | null>(null);
  const refresh = useCallback(() => {
    send<OutputSummary[]>(`/shots/${shotId}/outputs`).then(setOutputs).catch(report);
  }, [shotId]);
  useEffect(refresh, [refresh]);
  const jobs = useJobs(refresh);
  return (
    <section aria-label="Output" className="flex h-full min-h-0 flex-col bg-panel">
      <PanelTitle>Output</PanelTitle>
      <div className="min-h-0 flex-1 overflow-auto">
        <OutputForm onAsked={refresh} />
        <h3 className="border-line border-t px-3 pt-3 pb-1 font-semibold text-xs">Written outputs</h3>
        {outputs?.length === 0 && <EmptyNote>None yet. Choose what to write above; you can go on working meanwhile.</EmptyNote>}
        <ul className="px-2 pb-3" data-written>
          {outputs?.map((o) => (
            <OutputRow key={o.job.id} output={o} job={jobs[o.job.id] ?? o.job} onChanged={refresh} />
          ))}
        </ul>
        <DocumentFile />
      </div>
    </section>
  );
}

function OutputForm({ onAsked }: { onAsked(): void }) {
  const store = useShotStore();
  const { plate, formats } = useWorkbench();
  const cast = useShot((s) => s.document.cast);
  const save = useShot((s) => s.save);
  const range = useView((s) => s.range);
  // Where something was put together, that is what is wanted first.
  const [kind, setKind] = useState(() => {
    const of = store.getState().document.lanes.some((l) => l.enabled) ? 'picture' : 'subject';
    return (formats.find((f) => f.of === of) ?? formats[0]).id;
  });
  const format = formats.find((f) => f.id === kind) ?? formats[0];
  const [chosen, setChosen] = useState<string | null>(null);
  /** Options as they were chosen, of all formats; what was not chosen is as it starts. */
  const [chosenOptions, setChosenOptions] = useState<Record<string, OptionDescription['start']>>({});
  const chosenOf = (id: string, option: OptionDescription) => chosenOptions[`${format.id} ${id}`] ?? option.start;
  // All of the shot: a range that is marked still from other work must not shorten what is written unasked.
  const whole = { first: plate.firstNumber, last: plate.frames - 1 + plate.firstNumber };
  const [first, setFirst] = useState(whole.first);
  const [last, setLast] = useState(whole.last);
  const marked = range && { first: range.first + plate.firstNumber, last: range.last + plate.firstNumber };
  const take = (frames: typeof whole) => {
    setFirst(frames.first);
    setLast(frames.last);
  };
  const [busy, setBusy] = useState(false);
  const tracks = useShot((s) => s.document.tracks);
  const [held, setHeld] = useState(FREE);
  const frame = useView((s) => s.readFrame);
  const subject = cast.find((s) => s.id === chosen)?.id ?? cast[0]?.id;
  const needsSubject = format.of === 'subject';
  const wrong =
    last < first
      ? 'The last frame comes before the first.'
      : first < plate.firstNumber || last > plate.firstNumber + plate.frames - 1
        ? `This shot has the frames ${plate.firstNumber} to ${plate.firstNumber + plate.frames - 1}.`
        : null;

  // A speed has a say only where there is one.
  const timing = useShot((s) => s.document.timing);
  const optionsOf = ({ options }: FormatDescription) => Object.entries(options).filter(([id]) => id !== 'timed' || timing);
  const timed = timing && format.options.timed && chosenOf('timed', format.options.timed) === true && !wrong;
  const written = timed ? timeMap(timing, { first: first - plate.firstNumber, last: last - plate.firstNumber }).frames : last - first + 1;

  const write = async () => {
    const hold = tracks.some((t) => t.id === held) ? { track: held, frame, takes: HELD } : undefined;
    const frames = { first: first - plate.firstNumber, last: last - plate.firstNumber, hold };
    const options = Object.fromEntries(Object.entries(format.options).map(([id, option]) => [id, chosenOf(id, option)]));
    const spec: OutputSpec = { kind: format.id, ...(needsSubject ? { subject } : {}), ...options, ...frames };
    setBusy(true);
    try {
      await send(`/shots/${store.getState().shotId}/outputs`, { body: spec });
      onAsked();
    } catch (error) {
      report(error as Error);
    } finally {
      setBusy(false);
    }
  };

  return (
    <form
      className="py-2"
      onSubmit={(e) => {
        e.preventDefault();
        void write();
      }}
    >
      <ChoiceSetting label="What" value={format.id} options={formats} onChange={setKind} />
      {needsSubject && cast.length > 0 && (
        <ChoiceSetting label="Subject" value={subject} options={cast.map((s) => ({ id: s.id, label: s.name }))} onChange={setChosen} />
      )}
      {optionsOf(format).map(([id, option]) => (
        <FormatOption
          key={`${format.id} ${id}`}
          option={option}
          value={chosenOf(id, option)}
          onValue={(value) => setChosenOptions((all) => ({ ...all, [`${format.id} ${id}`]: value }))}
        />
      ))}
      <div className="flex items-center gap-2 px-3 py-1 text-sm">
        <span className="w-20 shrink-0">Frames</span>
        <FrameBox label="First frame" value={first} onValue={setFirst} />
        <span className="text-quiet">to</span>
        <FrameBox label="Last frame" value={last} onValue={setLast} />
      </div>
      {(marked || first !== whole.first || last !== whole.last) && (
        <div className="flex flex-wrap gap-1 px-3 pb-1">
          {marked && (
            <Button className="!h-6 text-xs" disabled={first === marked.first && last === marked.last} onClick={() => take(marked)}>
              Marked range, {marked.first}–{marked.last}
            </Button>
          )}
          <Button className="!h-6 text-xs" disabled={first === whole.first && last === whole.last} onClick={() => take(whole)}>
            All frames
          </Button>
        </div>
      )}
      {tracks.length > 0 && (
        <ChoiceSetting
          label="Held still"
          value={tracks.some((t) => t.id === held) ? held : FREE}
          options={[{ id: FREE, label: 'As filmed' }, ...tracks.map((t) => ({ id: t.id, label: `By ${t.name}, as on frame ${frame + plate.firstNumber}` }))]}
          onChange={setHeld}
        />
      )}
      {wrong && (
        <p role="alert" className="px-3 py-1 text-doubt text-sm">
          {wrong}
        </p>
      )}
      {needsSubject && cast.length === 0 && <EmptyNote>There is no subject to write yet. Isolate one, or write the composed picture.</EmptyNote>}
      {save === 'offline' && <p className="px-3 py-1 text-doubt text-sm">The newest changes are not saved yet, so they would be missing.</p>}
      <div className="px-3 pt-2">
        <Button type="submit" data-write tone="strong" className="w-full" disabled={busy || wrong !== null || (needsSubject && cast.length === 0)}>
          Write {written > 0 ? `${written} frames` : ''}
        </Button>
      </div>
    </form>
  );
}

/** The field of one option, as its format describes it. */
function FormatOption<V extends OptionDescription['start']>({
  option,
  value,
  onValue,
}: {
  option: OptionDescription;
  value: V;
  onValue(value: OptionDescription['start']): void;
}) {
  if (option.kind === 'switch')
    return (
      <SwitchSetting label={option.label} checked={value === true} onChange={onValue}>
        {option.says}
      </SwitchSetting>
    );
  const options = option.options.map((o) => ({ id: String(o.value), label: o.label }));
  return (
    <ChoiceSetting
      label={option.label}
      value={String(value)}
      options={options}
      onChange={(id) => onValue(option.options.find((o) => String(o.value) === id)?.value ?? option.start)}
    />
  );
}

/** What was chosen in a format, in words. */
const optionWords = (format: FormatDescription | undefined, spec: OutputSpec): string[] =>
  Object.entries(format?.options ?? {}).flatMap(([id, option]) => {
    const label = option.kind === 'choice' && option.options.find((o) => o.value === spec[id])?.label;
    return label ? [label.toLowerCase()] : [];
  });

function FrameBox({ label, value, onValue }: { label: string; value: number; onValue(value: number): void }) {
  return (
    <input
      aria-label={label}
      type="number"
      className={`${TEXT_FIELD} text-right font-mono text-xs`}
      value={Number.isNaN(value) ? '' : value}
      onChange={(e) => onValue(e.target.valueAsNumber)}
      required
    />
  );
}

function OutputRow({ output, job, onChanged }: { output: OutputSummary; job: OutputSummary['job']; onChanged(): void }) {
  const { spec, files, folder, checked } = output;
  const { plate, formats } = useWorkbench();
  const [work] = worksOf([job]);
  const format = formats.find((f) => f.id === spec.kind);
  const single = format?.single ? files[0] : null;
  const details = [
    `${spec.first + plate.firstNumber}–${spec.last + plate.firstNumber}`,
    ...optionWords(format, spec),
    output.subjectName,
    spec.hold ? 'held still' : null,
  ].filter(Boolean);
  return (
    <li className="mt-1 rounded border border-line p-2">
      <div className="flex items-center gap-1">
        <div className="min-w-0 flex-1">
          <p className="truncate text-sm" title={format?.label}>
            {format?.label ?? spec.kind}
          </p>
          <p className="truncate text-quiet text-xs">{details.join(', ')}</p>
        </div>
        {/* That it is done may be known before what was written is. */}
        {job.state === 'done' && files.length > 0 && (
          <>
            <a
              className="flex size-7 items-center justify-center rounded hover:bg-raised"
              href={`/outputs/${job.id}/files/output.json`}
              download
              aria-label="Fetch the sidecar: what it was made from"
            >
              <FileJson className="size-4" />
            </a>
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
      {job.state === 'done' && checked && (
        <p className="mt-1 flex items-center gap-1 text-2xs text-quiet" title={`Read back as rendered: frames ${checked.readBack.join(', ')}`}>
          <ShieldCheck className="size-3.5 shrink-0" aria-hidden /> Checked: {checked.frames === 1 ? 'one frame' : `${checked.frames} frames`}
          {checked.sound !== null && `, ${checked.sound.toFixed(2)} s of sound`}, {checked.readBack.length} read back as rendered
        </p>
      )}
      {job.state === 'done' && (
        <p className="mt-1 flex items-center gap-1 text-2xs text-quiet" title={folder}>
          <FolderOpen className="size-3.5 shrink-0" aria-hidden /> <span className="select-all truncate font-mono">{folder}</span>
        </p>
      )}
    </li>
  );
}

function DocumentFile() {
  const { shotId } = useShotStore().getState();
  const { plate } = useWorkbench();
  const input = useRef<HTMLInputElement>(null);
  const id = useId();
  const bringIn = async (file: File) => {
    try {
      const value: unknown = JSON.parse(await file.text());
      await send(`/shots/${shotId}/document`, { body: value });
      const other = (value as { plate?: { frames?: number } }).plate?.frames;
      const note = other !== undefined && other !== plate.frames ? ` It was made for ${other} frames; this shot has ${plate.frames}.` : '';
      toast(`The document was brought in. Undo takes it back.${note}`);
    } catch (error) {
      toast.error(error instanceof SyntaxError ? `"${file.name}" is not a JSON file.` : (error as Error).message);
    }
  };
  return (
    <section aria-labelledby={id} className="border-line border-t px-3 py-3">
      <h3 id={id} className="pb-2 font-semibold text-xs">
        Document of this shot
      </h3>
      <div className="flex gap-2">
        <a
          className="inline-flex h-7 items-center rounded border border-line bg-raised px-2.5 text-sm hover:border-edge"
          href={`/shots/${shotId}/document`}
          download
        >
          Export JSON
        </a>
        <Button onClick={() => input.current?.click()}>Import JSON …</Button>
        <FileInput input={input} label="Document file" accept="application/json,.json" onFiles={([file]) => void bringIn(file)} />
      </div>
    </section>
  );
}
