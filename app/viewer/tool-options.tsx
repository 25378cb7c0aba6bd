/** What the tool in hand can be set to, in a strip at the top of the picture. */
import { type ComponentType, useState } from 'react';
import { toast } from 'sonner';
import { findPart } from '~/core/document/parts.ts';
import { newPointTrack } from '~/core/document/records.ts';
import { clamp } from '~/core/math/clamp.ts';
import { flatten } from '~/core/path/path.ts';
import { READY_MADE, type ReadyMade } from '~/core/path/ready-made.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { closedShapes, suggestPoints } from '../state/track.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { BRUSH_LEAST, BRUSH_MOST } from '../tools/brush-tool.ts';
import { type ToolId, toolById } from '../tools/index.ts';
import { SHAPE_WORDS } from '../tools/shape-tool.ts';
import { StrokeSample } from '../ui/stroke-sample.tsx';

const SMALL = 'h-6 rounded border border-line bg-well px-1.5 text-xs';

const BRUSHES = [
  { kind: 'keep', label: 'Keep', title: 'What belongs to the subject (X changes over)' },
  { kind: 'drop', label: 'Drop', title: 'What does not belong to it (X changes over)' },
  { kind: 'loop', label: 'Loop', title: 'Drawn roughly round the subject: what lies outside is not it, what stands out inside is' },
  { kind: 'soft', label: 'Soft edge', title: 'Where the edge is hair, fur or blur: its alpha is worked out from the colours there' },
  { kind: 'erase', label: 'Erase', title: 'Takes away the parts of strokes that it goes over' },
] as const;
const BRUSH_INK = { keep: 'text-keep', drop: 'text-drop', loop: 'text-keep', soft: 'text-soft', erase: 'text-ink' } as const;

function Amount({
  label,
  unit,
  value,
  min,
  max,
  step = 1,
  onValue,
}: {
  label: string;
  unit: string;
  value: number;
  min: number;
  max: number;
  step?: number;
  onValue(v: number): void;
}) {
  return (
    <label className="flex items-center gap-1.5">
      <span>{label}</span>
      <input
        type="number"
        className={`${SMALL} w-16 text-right font-mono`}
        min={min}
        max={max}
        step={step}
        value={value}
        onChange={(e) => Number.isFinite(e.target.valueAsNumber) && onValue(clamp(e.target.valueAsNumber, min, max))}
      />
      <span className="text-quiet">{unit}</span>
    </label>
  );
}

function Toggle({ label, keys, on, onToggle }: { label: string; keys: string; on: boolean; onToggle(): void }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      title={`${label} (${keys})`}
      onClick={onToggle}
      className={`${SMALL} ${on ? 'border-edge bg-raised text-white' : 'text-quiet'}`}
    >
      {label}
    </button>
  );
}

/** Sets points where they can be followed well: inside the closed curves of what is selected, or anywhere in the picture. */
function SuggestPoints() {
  const store = useShotStore();
  const bench = useWorkbench();
  const [count, setCount] = useState(8);
  const [busy, setBusy] = useState(false);
  const document = useShot((s) => s.history.settled);
  const selected = useShot((s) => s.selected);
  const part = findPart(document, selected);
  const suggest = async () => {
    const { frame } = bench.view.getState();
    const { width, height } = bench.plate;
    const shapes = part?.type === 'spline' ? closedShapes(document, part, frame) : [];
    const outlines = shapes.length > 0 ? shapes.map((s) => flatten(s, 1, 1)) : [Float64Array.of(0, 0, width, 0, width, height, 0, height)];
    setBusy(true);
    try {
      const places = await suggestPoints(bench, frame, outlines, count);
      const { tracks } = store.getState().history.settled;
      const points = tracks.filter((t) => t.kind === 'point').length;
      const edits = Array.from({ length: places.length / 2 }, (_, i) => {
        const start = { id: crypto.randomUUID(), name: `Point ${points + i + 1}`, frame, lines: height };
        return { kind: 'insert' as const, parent: 'tracks', index: tracks.length + i, record: newPointTrack(start, places[2 * i], places[2 * i + 1]) };
      });
      if (edits.length === 0) toast('Nothing there stands out enough to be followed.');
      else if (store.getState().commit('Suggest points', edits)) store.getState().select(edits[0].record.id);
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'No points could be suggested.');
    }
    setBusy(false);
  };
  return (
    <>
      <Amount label="Points" unit="" value={count} min={1} max={200} onValue={(v) => setCount(Math.round(v))} />
      <button type="button" className={SMALL} disabled={busy} onClick={() => void suggest()}>
        {part?.type === 'spline' ? `Suggest points in ${part.name}` : 'Suggest points in the picture'}
      </button>
    </>
  );
}

function EditOptions() {
  const set = useWorkbench().view.getState().set;
  const soft = useView((s) => s.soft);
  const snap = useView((s) => s.snap);
  const transforming = useView((s) => s.transforming);
  const numbers = useView((s) => s.numbers);
  const onion = useView((s) => s.onion);
  const outlines = useView((s) => s.outlines);
  const empty = useShot((s) => s.document.cast.length === 0);
  // Nothing of it has an effect where there is no curve to be seen.
  if (!outlines || empty) return <Name of="edit" />;
  return (
    <>
      <Toggle label="Scale and turn" keys="G" on={transforming} onToggle={() => set({ transforming: !transforming, pivot: null })} />
      <Toggle label="Snap" keys="S" on={snap} onToggle={() => set({ snap: !snap })} />
      <Toggle label="Numbers" keys="U" on={numbers} onToggle={() => set({ numbers: !numbers })} />
      <Amount label="Neighbours follow within" unit="px" value={soft} min={0} max={2000} onValue={(v) => set({ soft: v })} />
      <Amount label="Onion skin" unit="keys" value={onion} min={0} max={5} onValue={(v) => set({ onion: Math.round(v) })} />
    </>
  );
}

function BrushOptions() {
  const set = useWorkbench().view.getState().set;
  const brush = useView((s) => s.brush);
  return (
    <>
      <span role="radiogroup" aria-label="What the brush paints" className="flex">
        {BRUSHES.map(({ kind: k, label, title }) => (
          <button
            key={k}
            type="button"
            role="radio"
            aria-checked={brush.kind === k}
            title={title}
            onClick={() => set({ brush: { ...brush, kind: k } })}
            className={`${SMALL} rounded-none first:rounded-l last:rounded-r aria-checked:bg-raised ${BRUSH_INK[k]} aria-checked:border-current`}
          >
            <span className="flex items-center gap-1.5">
              {label} {k !== 'erase' && <StrokeSample kind={k} />}
            </span>
          </button>
        ))}
      </span>
      <Amount
        label="Radius"
        unit="px"
        value={Math.round(brush.radius * 10) / 10}
        min={BRUSH_LEAST}
        max={BRUSH_MOST}
        onValue={(radius) => set({ brush: { ...brush, radius } })}
      />
      <Toggle
        label="Show what a click takes"
        keys="where the pointer rests"
        on={brush.ahead}
        onToggle={() => set({ brush: { ...brush, ahead: !brush.ahead } })}
      />
    </>
  );
}

function HandOptions() {
  const set = useWorkbench().view.getState().set;
  const tolerance = useView((s) => s.handTolerance);
  return <Amount label="Tolerance" unit="px" value={tolerance} min={0.3} max={30} step={0.1} onValue={(v) => set({ handTolerance: v })} />;
}

function ShapeOptions() {
  const set = useWorkbench().view.getState().set;
  const kind = useView((s) => s.readyMade);
  const options = useView((s) => s.shapeOptions);
  return (
    <>
      <label className="flex items-center gap-1.5">
        <span>Shape</span>
        <select aria-label="Shape" className={SMALL} value={kind} onChange={(e) => set({ readyMade: e.target.value as ReadyMade })}>
          {READY_MADE.map((k) => (
            <option key={k} value={k}>
              {SHAPE_WORDS[k]}
            </option>
          ))}
        </select>
      </label>
      {kind === 'rectangle' && (
        <Amount label="Round corners" unit="px" value={options.radius} min={0} max={2000} onValue={(radius) => set({ shapeOptions: { ...options, radius } })} />
      )}
      {(kind === 'polygon' || kind === 'star') && (
        <Amount
          label="Points"
          unit=""
          value={options.points}
          min={3}
          max={64}
          onValue={(points) => set({ shapeOptions: { ...options, points: Math.round(points) } })}
        />
      )}
      {kind === 'star' && (
        <Amount
          label="Inner"
          unit="%"
          value={Math.round(options.inner * 100)}
          min={5}
          max={95}
          onValue={(v) => set({ shapeOptions: { ...options, inner: v / 100 } })}
        />
      )}
    </>
  );
}

const Name = ({ of }: { of: ToolId }) => <span className="text-quiet">{toolById(of).strip ?? toolById(of).label}</span>;

/** Of tools that can be set to anything; the strip says the name of the others. */
const OPTIONS: Partial<Record<ToolId, ComponentType>> = { edit: EditOptions, brush: BrushOptions, mark: SuggestPoints, hand: HandOptions, shape: ShapeOptions };

export function ToolOptions() {
  const tool = useView((s) => s.tool);
  const Options = OPTIONS[tool];
  return (
    <div
      role="group"
      aria-label="Tool options"
      className="flex h-9 shrink-0 cursor-default items-center gap-3 overflow-x-auto whitespace-nowrap border-line border-b bg-panel px-2 text-xs"
    >
      {Options ? <Options /> : <Name of={tool} />}
    </div>
  );
}
