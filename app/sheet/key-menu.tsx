/** What can be done with the keys of the marked range, in the columns that are picked or in all. */
import { ChevronDown } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Edit } from '~/core/document/edits.ts';
import { clamp } from '~/core/math/clamp.ts';
import type { FrameRange } from '~/core/time/ranges.ts';
import type { Column } from '../keys/columns.ts';
import {
  type CopiedKeys,
  copyKeys,
  deleteEdits,
  easeEdits,
  keyHereEdits,
  pasteEdits,
  reverseEdits,
  shiftEdits,
  smoothEdits,
  stretchEdits,
  thinEdits,
} from '../keys/key-work.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { useWorkbench } from '../state/workbench-context.tsx';
import { Button } from '../ui/controls.tsx';

const EASE_WORDS = { linear: 'Even', hold: 'Hold', 'ease-in': 'Ease in', 'ease-out': 'Ease out', 'ease-both': 'Ease both' } as const;

let copied: CopiedKeys[] = [];

/** Does the work and says so where there was nothing to do. */
export function useKeyWork(columns: readonly Column[], range: FrameRange) {
  const store = useShotStore();
  const { plate, view } = useWorkbench();
  const make = (label: string, edits: Edit[]) => {
    if (edits.length === 0) toast(`Nothing to do: there are no keys for it in ${range.first === range.last ? 'this frame' : 'the marked range'}.`);
    else store.getState().commit(label, edits);
  };
  return {
    keyHere: () => make('Key here', keyHereEdits(columns, view.getState().frame)),
    remove: () => make('Delete keys', deleteEdits(columns, range)),
    copy: () => {
      copied = copyKeys(columns, range);
      const n = copied.reduce((sum, c) => sum + c.keys.length, 0);
      toast(n === 0 ? 'There are no keys to copy here.' : `${n === 1 ? '1 key' : `${n} keys`} copied.`);
    },
    paste: () => make('Paste keys', copied.length === 0 ? [] : pasteEdits(columns, copied, view.getState().frame, plate.frames)),
    shift: (by: number) => {
      make('Move keys', shiftEdits(columns, range, by, plate.frames));
      view.getState().setRange({ first: Math.max(0, range.first + by), last: Math.min(plate.frames - 1, range.last + by) });
    },
    stretch: (factor: number) => make('Stretch keys', stretchEdits(columns, range, factor, plate.frames)),
    reverse: () => make('Reverse keys', reverseEdits(columns, range)),
    thin: (tolerance: number) => make('Thin keys', thinEdits(columns, range, tolerance)),
    smooth: (strength: number) => make('Smooth keys', smoothEdits(columns, range, strength)),
    ease: (ease: keyof typeof EASE_WORDS) => make('Set ease', easeEdits(columns, range, ease)),
  };
}

function Step({
  label,
  unit,
  start,
  min,
  max,
  step = 1,
  onDo,
}: {
  label: string;
  unit: string;
  start: number;
  min: number;
  max: number;
  step?: number;
  onDo(v: number): void;
}) {
  const [value, setValue] = useState(start);
  return (
    <form
      className="flex items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (Number.isFinite(value)) onDo(clamp(value, min, max));
      }}
    >
      <label className="flex flex-1 items-center gap-2">
        <span className="w-16">{label}</span>
        <input
          type="number"
          min={min}
          max={max}
          step={step}
          value={Number.isFinite(value) ? value : ''}
          onChange={(e) => setValue(e.target.valueAsNumber)}
          className="h-6 w-16 rounded border border-line bg-well px-1 text-right font-mono text-xs"
        />
        <span className="text-quiet text-xs">{unit}</span>
      </label>
      <Button type="submit" className="!h-6 text-xs">
        {label}
      </Button>
    </form>
  );
}

export function KeyMenu({ columns, range, words }: { columns: readonly Column[]; range: FrameRange; words: string }) {
  const work = useKeyWork(columns, range);
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button tone="bare" className="!h-7">
          Keys <ChevronDown className="size-3.5" aria-hidden />
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" className="z-50 w-72 space-y-2 rounded-md border border-line bg-panel p-3 text-sm shadow-xl" aria-label="Work on keys">
          <p className="text-quiet text-xs">{words}</p>
          <div className="flex flex-wrap gap-1">
            <Button
              className="!h-6 text-xs"
              title="A key on this frame for each setting that has keys. Alt K keys all settings of what is selected"
              onClick={work.keyHere}
            >
              Key here what has keys
            </Button>
            <Button className="!h-6 text-xs" onClick={work.copy}>
              Copy
            </Button>
            <Button className="!h-6 text-xs" onClick={work.paste}>
              Paste here
            </Button>
            <Button className="!h-6 text-xs" onClick={work.reverse}>
              Reverse
            </Button>
            <Button className="!h-6 text-xs" onClick={work.remove}>
              Delete
            </Button>
          </div>
          <div className="flex flex-wrap gap-1" role="group" aria-label="Ease after each key">
            {Object.entries(EASE_WORDS).map(([ease, label]) => (
              <Button key={ease} className="!h-6 text-xs" onClick={() => work.ease(ease as keyof typeof EASE_WORDS)}>
                {label}
              </Button>
            ))}
          </div>
          <Step label="Move" unit="frames" start={1} min={-100000} max={100000} onDo={(v) => work.shift(Math.round(v))} />
          <Step label="Stretch" unit="%" start={200} min={1} max={10000} onDo={(v) => work.stretch(v / 100)} />
          <Step label="Thin" unit="px kept" start={0.5} min={0} max={100} step={0.1} onDo={work.thin} />
          <Step label="Smooth" unit="%" start={50} min={1} max={100} onDo={(v) => work.smooth(v / 100)} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
