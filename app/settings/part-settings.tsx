/** Settings of what is selected in the cast: a part with its curves, or the subject's edge. */
import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { OPERATIONS, type Path, type SplinePart, type Subject } from '~/core/document/schema.ts';
import { moveVertices } from '~/core/path/edit.ts';
import { hasKeys } from '~/core/time/animated.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useCurrentSubject, useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button, EmptyNote, IconButton, PanelTitle, TEXT_FIELD } from '../ui/controls.tsx';
import { shapeAt, shapeEdits } from '../viewer/path-edits.ts';
import { ChoiceSetting, NumberSetting, SwitchSetting } from './fields.tsx';

const OPERATION_WORDS = { add: 'Add', subtract: 'Subtract', intersect: 'Intersect', exclude: 'Exclude' } as const;

export function PartSettings() {
  const subject = useCurrentSubject();
  const selected = useShot((s) => s.selected);
  const activePath = useShot((s) => s.path);
  const part = subject?.parts.find((p) => p.id === selected || p.paths.some((q) => q.id === activePath)) ?? null;
  return (
    <section aria-label="Settings" className="flex h-full min-h-0 flex-col bg-panel">
      <PanelTitle>{part ? `Settings: ${part.name}` : 'Settings'}</PanelTitle>
      <div className="min-h-0 flex-1 overflow-auto py-2">
        {part ? (
          <PartFields part={part} />
        ) : subject ? (
          <EmptyNote>Select a part in the cast, or click a curve in the viewer, to see its settings.</EmptyNote>
        ) : (
          <EmptyNote>Nothing to set yet.</EmptyNote>
        )}
      </div>
    </section>
  );
}

function PartFields({ part }: { part: SplinePart }) {
  const store = useShotStore();
  const assign = (label: string, values: Record<string, string | boolean>) => store.getState().commit(label, [{ kind: 'assign', id: part.id, values }]);
  return (
    <>
      <ChoiceSetting
        label="Joins by"
        value={part.operation}
        options={OPERATIONS.map((id) => ({ id, label: OPERATION_WORDS[id] }))}
        onChange={(operation) => assign('Set operation', { operation })}
      />
      <SwitchSetting label="Invert" checked={part.inverted} onChange={(inverted) => assign(inverted ? 'Invert' : 'Invert back', { inverted })}>
        {part.inverted ? 'outside its curves' : 'inside its curves'}
      </SwitchSetting>
      <NumberSetting record={part.id} setting="opacity" value={part.opacity} label="Opacity" unit="%" min={0} max={100} step={1} factor={100} />
      <h3 className="mt-3 border-line border-t px-3 pt-2 pb-1 font-semibold text-xs">Curves</h3>
      {part.paths.length === 0 && <EmptyNote>Nothing drawn yet. Press D and click round the subject.</EmptyNote>}
      <ul>
        {part.paths.map((path, i) => (
          <PathRow key={path.id} path={path} number={i + 1} />
        ))}
      </ul>
      <PointFields part={part} />
    </>
  );
}

function PathRow({ path, number }: { path: Path; number: number }) {
  const store = useShotStore();
  const active = useShot((s) => s.path) === path.id;
  const frame = useView((s) => s.frame);
  const points = shapeAt(path, frame).length;
  const keys = hasKeys(path.shape) ? path.shape.keys.length : 0;
  return (
    <li className={`flex items-center gap-2 px-3 py-0.5 text-sm ${active ? 'bg-raised' : ''}`}>
      <button
        type="button"
        aria-pressed={active}
        className="min-w-0 flex-1 truncate py-1 text-left"
        onClick={() => store.getState().selectVertices(path.id, new Set())}
      >
        Curve {number}
        <span className="ml-2 text-quiet text-xs">
          {points} points, {keys === 0 ? 'no keys' : keys === 1 ? '1 key' : `${keys} keys`}
        </span>
      </button>
      <Button
        tone="bare"
        className="!h-6 !px-1.5 text-xs"
        title={path.closed ? 'The curve is closed and masks. Press to open it.' : 'The curve is open and masks nothing. Press to close it.'}
        onClick={() => store.getState().commit(path.closed ? 'Open curve' : 'Close curve', [{ kind: 'assign', id: path.id, values: { closed: !path.closed } }])}
      >
        {path.closed ? 'closed' : <span className="text-doubt">open</span>}
      </Button>
      <IconButton
        label={`Delete curve ${number}`}
        className="!size-6"
        onClick={() => store.getState().commit('Delete curve', [{ kind: 'remove', id: path.id }])}
      >
        <Trash2 />
      </IconButton>
    </li>
  );
}

/** Numbers for the selected point, so that nothing needs a pointer. */
function PointFields({ part }: { part: SplinePart }) {
  const store = useShotStore();
  const activeId = useShot((s) => s.path);
  const vertices = useShot((s) => s.vertices);
  const reach = useShot((s) => s.reach);
  const frame = useView((s) => s.frame);
  const { plate } = useWorkbench();
  const path = part.paths.find((p) => p.id === activeId);
  if (!path || vertices.size !== 1) return null;
  const [index] = vertices;
  const shape = shapeAt(path, frame);
  const vertex = shape[index];
  if (!vertex) return null;
  const move = (dx: number, dy: number) =>
    store.getState().commit('Move point', shapeEdits(path, frame, moveVertices(shape, new Set([index]), dx, dy), reach, plate.frames));
  return (
    <div className="mt-2 flex items-center gap-2 border-line border-t px-3 pt-2 text-sm">
      <span className="w-20 shrink-0">Point {index + 1}</span>
      <CoordinateField label="x" value={vertex.x} onValue={(x) => move(x - vertex.x, 0)} />
      <CoordinateField label="y" value={vertex.y} onValue={(y) => move(0, y - vertex.y)} />
    </div>
  );
}

function CoordinateField({ label, value, onValue }: { label: string; value: number; onValue(value: number): void }) {
  const [text, setText] = useState<string | null>(null);
  const take = () => {
    const typed = Number(text?.replace(',', '.'));
    setText(null);
    if (text?.trim() && Number.isFinite(typed) && typed !== value) onValue(typed);
  };
  return (
    <label className="flex min-w-0 flex-1 items-center gap-1">
      <span className="text-quiet">{label}</span>
      <input
        className={`${TEXT_FIELD} text-right font-mono text-xs`}
        inputMode="decimal"
        value={text ?? value.toFixed(2)}
        onChange={(e) => setText(e.target.value)}
        onFocus={(e) => e.target.select()}
        onBlur={take}
        onKeyDown={(e) => e.key === 'Enter' && take()}
      />
    </label>
  );
}

export function EdgeSettings() {
  const store = useShotStore();
  const subject = useCurrentSubject();
  return (
    <section aria-label="Edge" className="flex h-full min-h-0 flex-col bg-panel">
      <PanelTitle>{subject ? `Edge: ${subject.name}` : 'Edge'}</PanelTitle>
      <div className="min-h-0 flex-1 overflow-auto py-2">
        {!subject && <EmptyNote>The edge belongs to a subject. Isolate one first.</EmptyNote>}
        {subject && (
          <EdgeFields
            subject={subject}
            onFalloff={(falloff) => store.getState().commit('Set falloff', [{ kind: 'assign', id: subject.id, values: { 'edge.falloff': falloff } }])}
          />
        )}
      </div>
    </section>
  );
}

function EdgeFields({ subject, onFalloff }: { subject: Subject; onFalloff(falloff: string): void }) {
  const { edge, id } = subject;
  return (
    <>
      <NumberSetting record={id} setting="edge.grow" value={edge.grow} label="Grow" unit="px" min={-500} max={500} step={0.1} soft={[-40, 40]} />
      <NumberSetting record={id} setting="edge.featherIn" value={edge.featherIn} label="Feather in" unit="px" min={0} max={500} step={0.1} soft={[0, 60]} />
      <NumberSetting record={id} setting="edge.featherOut" value={edge.featherOut} label="Feather out" unit="px" min={0} max={500} step={0.1} soft={[0, 60]} />
      <ChoiceSetting
        label="Falloff"
        value={edge.falloff}
        options={[
          { id: 'smooth', label: 'Smooth' },
          { id: 'linear', label: 'Linear' },
        ]}
        onChange={onFalloff}
      />
      <p className="px-3 pt-2 text-quiet text-xs leading-relaxed">
        Widths are distances in plate pixels from the outline. Grow below zero pulls the edge inwards; feather in softens inside it, feather out outside it.
      </p>
    </>
  );
}
