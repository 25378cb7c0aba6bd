/** Measuring for an effect: its settings are made such that what it changes becomes like something else. */
import { useState } from 'react';
import { toast } from 'sonner';
import type { How, Reference } from '~/core/compose/measure.ts';
import type { Edit } from '~/core/document/edits.ts';
import type { ElementEffect, LaneItem } from '~/core/document/schema.ts';
import { effectById } from '~/core/effects/index.ts';
import { clamp } from '~/core/math/clamp.ts';
import type { Animated } from '~/core/time/animated.ts';
import { LISTS, NUMBERS, type ValueKind } from '~/core/time/reach.ts';
import { valueEdit } from '../edits/path-edits.ts';
import { shownFootage } from '../state/footage.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { useReachContext, useWorkbench } from '../state/workbench-context.tsx';
import { Button } from '../ui/controls.tsx';
import { ChoiceSetting, CoordinateField } from './fields.tsx';

type Measured = Exclude<LaneItem, { type: 'element' }> | ElementEffect;

/** Edits that set what was measured: a constant stays one, what is keyed gets a key, as far as Reach says. */
function useTake(item: Measured): (label: string, values: Record<string, number | number[]>) => void {
  const store = useShotStore();
  const { view } = useWorkbench();
  const context = useReachContext();
  return (label, values) => {
    const { frame } = view.getState();
    const { reach } = store.getState();
    const edits = Object.entries(values).map(([key, value]): Edit => {
      const before = item.settings[key] ?? { constant: effectById(item.effect).settings[key].start };
      const kind = (Array.isArray(value) ? LISTS : NUMBERS) as ValueKind<unknown>;
      return valueEdit(item.id, `settings.${key}`, before as Animated<unknown>, { frame, value, reach, context }, kind);
    });
    store.getState().commit(label, edits);
  };
}

export function MeasureFields({ item }: { item: Measured }) {
  const { measures } = effectById(item.effect);
  if (measures === 'grain') return <MeasureGrain item={item} />;
  return measures === 'colour' ? <MeasureColour item={item} /> : null;
}

function MeasureGrain({ item }: { item: Measured }) {
  const { pictures, view } = useWorkbench();
  const take = useTake(item);
  const [busy, setBusy] = useState(false);
  const measure = async () => {
    setBusy(true);
    const found = await pictures?.render.measureGrain(view.getState().frame).catch(() => null);
    setBusy(false);
    if (found) take('Measure grain', found);
    else toast.error('The plate could not be read on this frame. Try another one.');
  };
  return (
    <div className="flex items-center gap-2 px-3 py-1">
      <Button className="!h-7" disabled={busy} title="Strength, size and colour as those of the plate on this frame" onClick={() => void measure()}>
        {busy ? 'Measuring …' : 'Like the plate’s'}
      </Button>
      <span className="text-quiet text-xs">measured on this frame</span>
    </div>
  );
}

const [UNDER, PLATE] = ['under', 'plate'];

function MeasureColour({ item }: { item: Measured }) {
  const { pictures, view, plate, otherShots } = useWorkbench();
  const take = useTake(item);
  const [busy, setBusy] = useState(false);
  const [like, setLike] = useState(UNDER);
  const [how, setHow] = useState<How>('curves');
  const [frame, setFrame] = useState(0);
  const other = otherShots.find((s) => s.plateId === like);
  const last = (other?.frames ?? plate.frames) - 1;
  const first = other ? 0 : plate.firstNumber;
  const measure = async () => {
    setBusy(true);
    const reference: Reference = like === UNDER ? { under: true } : { under: false, footage: other ? shownFootage(other) : null, frame: clamp(frame, 0, last) };
    const found = await pictures?.render.measureColour(item.id, view.getState().frame, reference, how).catch(() => null);
    setBusy(false);
    if (found) take('Match colour', found);
    else toast.error('There is nothing to measure: on this frame one of the two shows nothing.');
  };
  return (
    <>
      <ChoiceSetting
        label="Like"
        about="What it is to have the colours of."
        value={like}
        options={[
          { id: UNDER, label: item.type === 'element-effect' ? 'What lies under it' : 'What lies round it' },
          { id: PLATE, label: 'This plate, on a frame' },
          ...otherShots.map((s) => ({ id: s.plateId, label: s.name })),
        ]}
        onChange={setLike}
      />
      {like !== UNDER && (
        <div className="flex px-3 py-1 pl-[6.25rem] text-xs">
          <CoordinateField
            label="Its frame"
            digits={0}
            value={clamp(frame, 0, last) + first}
            onValue={(v) => setFrame(clamp(Math.round(v) - first, 0, last))}
          />
        </div>
      )}
      <ChoiceSetting<How>
        label="By"
        about="Value by value, or by the mean and the spread of each channel alone."
        value={how}
        options={[
          { id: 'curves', label: 'Each value' },
          { id: 'statistics', label: 'Mean and spread' },
        ]}
        onChange={setHow}
      />
      <div className="px-3 py-1 pl-[6.25rem]">
        <Button className="!h-7" disabled={busy} title="Sets the curves below from this frame; where they are keyed, a key here" onClick={() => void measure()}>
          {busy ? 'Measuring …' : 'Match on this frame'}
        </Button>
      </div>
    </>
  );
}
