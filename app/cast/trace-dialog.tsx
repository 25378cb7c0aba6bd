/** Tracing a matte into curves: over which frames and how closely, how it comes along, and how close it came. */
import { Dialog, Progress } from 'radix-ui';
import { useEffect, useId, useRef, useState } from 'react';
import { toast } from 'sonner';
import { newSpline } from '~/core/document/part-kinds/spline.ts';
import type { Part, Subject } from '~/core/document/schema.ts';
import { clamp } from '~/core/math/clamp.ts';
import type { Trace } from '~/core/trace/trace.ts';
import { useFound } from '../state/peel.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { pathsFrom, traceMatte } from '../state/trace.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button, TEXT_FIELD } from '../ui/controls.tsx';

const newId = () => crypto.randomUUID();
const TOLERANCE = { least: 0.2, most: 20, usual: 1, step: 0.1 };
const AREA = { least: 0, most: 100_000, usual: 100, step: 10 };

/** What is traced: a part of a subject alone, or its finished matte. */
export interface ToTrace {
  subject: Subject;
  part: Part | null;
}

/** How many points, paths and keys a trace has, and how far off it is. */
function wordsOf({ paths, deviation }: Trace): string {
  const points = paths.reduce((sum, keys) => sum + keys[0].value.length, 0);
  const keys = paths.reduce((sum, k) => sum + k.length, 0);
  return `${points} points in ${paths.length === 1 ? 'one path' : `${paths.length} paths`}, ${keys} keys; at most ${deviation.toFixed(2)} px off`;
}

export function TraceDialog({ what, onClose }: { what: ToTrace | null; onClose(): void }) {
  return (
    <Dialog.Root open={what !== null} onOpenChange={onClose}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content
          aria-describedby={undefined}
          className="-translate-x-1/2 fixed top-1/4 left-1/2 z-50 w-[26rem] space-y-3 rounded-lg border border-line bg-panel p-5 text-sm shadow-xl"
        >
          {what && <TraceForm {...what} onClose={onClose} />}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function TraceForm({ subject, part, onClose }: ToTrace & { onClose(): void }) {
  const store = useShotStore();
  const { plate, pictures } = useWorkbench();
  const marked = useView((s) => s.range);
  const found = useFound(part?.type === 'peel' ? part.id : '');
  const whole = { first: 0, last: plate.frames - 1 };
  const [onRange, setOnRange] = useState(marked !== null);
  const [tolerance, setTolerance] = useState(TOLERANCE.usual);
  const [area, setArea] = useState(AREA.usual);
  const [off, setOff] = useState(part !== null);
  const [share, setShare] = useState<number | null>(null);
  const [trace, setTrace] = useState<Trace | null>(null);
  const stop = useRef<AbortController | null>(null);
  const framesId = useId();
  useEffect(() => () => stop.current?.abort(), []);
  const range = onRange && marked ? marked : whole;
  const missing =
    part?.type === 'peel' ? Array.from({ length: range.last - range.first + 1 }, (_, i) => range.first + i).filter((f) => !found.has(f)).length : 0;
  const title = part ? `Trace ${part.name} into curves` : `Trace the matte of ${subject.name} into curves`;

  /** What was traced with another setting no longer counts. */
  const change = (set: (value: number) => void) => (value: number) => {
    set(value);
    setTrace(null);
  };
  const start = async () => {
    if (!pictures) return;
    stop.current = new AbortController();
    setTrace(null);
    setShare(0);
    try {
      const made = await traceMatte(
        pictures,
        { subject: subject.id, part: part?.id ?? null, range, tolerance, leastArea: area },
        setShare,
        stop.current.signal,
      );
      if (made.paths.length === 0) toast('There is nothing to trace: the matte is empty on all these frames.');
      else setTrace(made);
    } catch (error) {
      if ((error as Error).name !== 'AbortError') toast.error(error instanceof Error ? error.message : 'The matte could not be traced.');
    }
    setShare(null);
  };
  const add = () => {
    if (!trace) return;
    const name = `${part?.name ?? subject.name} as curves`.slice(0, 120);
    const lives = range.first === 0 && range.last === plate.frames - 1 ? null : range;
    const record = { ...newSpline(newId(), name, pathsFrom(trace, newId)), range: part?.range ?? lives };
    const index = part ? subject.parts.findIndex((p) => p.id === part.id) + 1 : subject.parts.length;
    const kept = part ? { ...record, operation: part.operation, inverted: part.inverted, opacity: part.opacity, enabled: off } : { ...record, enabled: false };
    const switched = part && off ? [{ kind: 'assign' as const, id: part.id, values: { enabled: false } }] : [];
    if (store.getState().commit('Trace into curves', [{ kind: 'insert', parent: subject.id, index, record: kept }, ...switched])) {
      store.getState().select(record.id);
      onClose();
    }
  };
  const { firstNumber } = plate;
  return (
    <>
      <Dialog.Title className="truncate font-semibold text-base">{title}</Dialog.Title>
      <div className="flex items-center gap-2">
        <label htmlFor={framesId} className="flex-1">
          Frames
        </label>
        <select
          id={framesId}
          className={`${TEXT_FIELD} !w-56`}
          value={onRange && marked ? 'range' : 'all'}
          disabled={share !== null}
          onChange={(e) => {
            setOnRange(e.target.value === 'range');
            setTrace(null);
          }}
        >
          <option value="all">
            All: {firstNumber} to {firstNumber + plate.frames - 1}
          </option>
          {marked && (
            <option value="range">
              Marked: {marked.first + firstNumber} to {marked.last + firstNumber}
            </option>
          )}
        </select>
      </div>
      <NumberRow label="Within" unit="px of the plate" limits={TOLERANCE} disabled={share !== null} onValue={change(setTolerance)} />
      <NumberRow label="Leave out pieces and holes under" unit="px²" limits={AREA} disabled={share !== null} onValue={change(setArea)} />
      {part && (
        <label className="flex items-center gap-2">
          <input type="checkbox" className="accent-current" checked={off} onChange={(e) => setOff(e.target.checked)} />
          Switch {part.name} off, and mask by the curves
        </label>
      )}
      {missing > 0 && (
        <p className="rounded border border-line px-2 py-1 text-xs">
          {missing === 1 ? 'One of these frames is' : `${missing} of these frames are`} not found yet, and would give no curve: carry the Peel first.
        </p>
      )}
      <div aria-live="polite" className="min-h-5 text-quiet text-xs">
        {share !== null && (
          <Progress.Root value={Math.floor(100 * share)} aria-label="Tracing" className="h-1.5 overflow-hidden rounded bg-well">
            <Progress.Indicator className="h-full bg-ink" style={{ width: `${100 * share}%` }} />
          </Progress.Root>
        )}
        {trace && wordsOf(trace)}
      </div>
      <div className="flex justify-end gap-2 pt-1">
        <Button onClick={() => (share === null ? onClose() : stop.current?.abort())}>{share === null ? 'Close' : 'Stop'}</Button>
        <Button tone={trace ? undefined : 'strong'} disabled={share !== null} onClick={start}>
          {trace ? 'Trace again' : 'Trace'}
        </Button>
        {trace && (
          <Button tone="strong" onClick={add}>
            Add the curves
          </Button>
        )}
      </div>
    </>
  );
}

function NumberRow(props: {
  label: string;
  unit: string;
  limits: { least: number; most: number; usual: number; step: number };
  disabled: boolean;
  onValue(value: number): void;
}) {
  const { label, unit, limits, disabled, onValue } = props;
  const id = useId();
  return (
    <div className="flex items-center gap-2">
      <label htmlFor={id} className="flex-1">
        {label}
      </label>
      <input
        id={id}
        type="number"
        min={limits.least}
        max={limits.most}
        step={limits.step}
        className={`${TEXT_FIELD} !w-20 text-right font-mono`}
        defaultValue={limits.usual}
        disabled={disabled}
        onChange={(e) => Number.isFinite(e.target.valueAsNumber) && onValue(clamp(e.target.valueAsNumber, limits.least, limits.most))}
      />
      <span className="w-24 text-quiet">{unit}</span>
    </div>
  );
}
