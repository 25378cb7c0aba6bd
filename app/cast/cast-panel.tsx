/** The cast: subjects near to far, and the parts of each, with the state of every one in sight. */
import { ChevronDown, CircleDashed, CircleDot, Eye, EyeOff, Plus, Shapes } from 'lucide-react';
import { useState } from 'react';
import { newSpline, newSubject } from '~/core/document/records.ts';
import type { SplinePart, Subject } from '~/core/document/schema.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useWorkbench } from '../state/workbench-context.tsx';
import { EmptyNote, IconButton, PanelTitle } from '../ui/controls.tsx';
import { NameDialog } from '../ui/name-dialog.tsx';
import { RowMenu } from '../ui/row-menu.tsx';

const ROW = 'group flex h-8 items-center gap-1 rounded px-1 text-sm';
const OPERATION_MARK: Record<SplinePart['operation'], string> = { add: '+', subtract: '−', intersect: '∩', exclude: '⊻' };

export function CastPanel() {
  const store = useShotStore();
  const cast = useShot((s) => s.document.cast);
  const [naming, setNaming] = useState<{ id: string; name: string } | null>(null);
  const addSubject = () => {
    const id = crypto.randomUUID();
    if (store.getState().commit('Add subject', [{ kind: 'insert', parent: 'cast', index: cast.length, record: newSubject(id, `Subject ${cast.length + 1}`) }]))
      store.getState().select(id);
  };
  return (
    <section aria-label="Cast" className="flex h-full min-h-0 flex-col bg-panel">
      <PanelTitle
        actions={
          <IconButton label="Add a subject" onClick={addSubject}>
            <Plus />
          </IconButton>
        }
      >
        Cast
      </PanelTitle>
      <div className="min-h-0 flex-1 overflow-auto p-1">
        {cast.length === 0 && <EmptyNote>No subject yet. Add one with +, or press D and draw: the first curve makes its own subject.</EmptyNote>}
        <ul>
          {cast.map((subject) => (
            <SubjectRow key={subject.id} subject={subject} onRename={(id, name) => setNaming({ id, name })} />
          ))}
        </ul>
      </div>
      <NameDialog
        title="Rename"
        label="Name"
        confirm="Rename"
        start={naming?.name}
        open={naming !== null}
        onOpenChange={() => setNaming(null)}
        onName={(name) => naming && store.getState().commit('Rename', [{ kind: 'assign', id: naming.id, values: { name } }])}
      />
    </section>
  );
}

function SubjectRow({ subject, onRename }: { subject: Subject; onRename(id: string, name: string): void }) {
  const store = useShotStore();
  const selected = useShot((s) => s.selected);
  const lanes = useShot((s) => s.document.lanes);
  const addSpline = () => {
    const id = crypto.randomUUID();
    const spline = newSpline(id, `Spline ${subject.parts.length + 1}`);
    if (store.getState().commit('Add spline', [{ kind: 'insert', parent: subject.id, index: subject.parts.length, record: spline }]))
      store.getState().select(id);
  };
  const remove = () => {
    // Its effects go with it: they cannot be without a subject.
    const own = lanes.filter((l) => l.subject === subject.id).map((l) => ({ kind: 'remove' as const, id: l.id }));
    store.getState().commit('Delete subject', [...own, { kind: 'remove', id: subject.id }]);
  };
  return (
    <li>
      <div className={`${ROW} ${selected === subject.id ? 'bg-raised' : 'hover:bg-raised/60'}`}>
        <ChevronDown className="size-3.5 shrink-0 text-quiet" aria-hidden />
        <button
          type="button"
          className="min-w-0 flex-1 truncate text-left font-medium"
          aria-pressed={selected === subject.id}
          onClick={() => store.getState().select(subject.id)}
        >
          {subject.name}
        </button>
        <RowMenu quiet name={subject.name} onRename={() => onRename(subject.id, subject.name)} onDelete={remove} />
        <IconButton label={`Add a spline to ${subject.name}`} onClick={addSpline} className="!size-6">
          <Plus />
        </IconButton>
      </div>
      <ul className="ml-4 border-line border-l pl-1">
        {subject.parts.length === 0 && <li className="px-2 py-1 text-quiet text-xs">No part yet: press D and draw.</li>}
        {subject.parts.map((part) => (
          <PartRow key={part.id} part={part} onRename={() => onRename(part.id, part.name)} />
        ))}
      </ul>
    </li>
  );
}

function PartRow({ part, onRename }: { part: SplinePart; onRename(): void }) {
  const store = useShotStore();
  const { view } = useWorkbench();
  const selected = useShot((s) => s.selected);
  const open = part.paths.some((p) => !p.closed);
  const masks = part.paths.some((p) => p.closed);
  const state = part.paths.length === 0 ? 'nothing drawn' : !masks ? 'masks nothing' : open ? 'one curve is open' : part.inverted ? 'inverted' : '';
  return (
    <li className={`${ROW} ${selected === part.id ? 'bg-raised' : 'hover:bg-raised/60'} ${part.enabled ? '' : 'text-quiet'}`}>
      <span className="w-4 shrink-0 text-center font-mono text-quiet" title={part.operation} aria-hidden>
        {OPERATION_MARK[part.operation]}
      </span>
      <Shapes className="size-4 shrink-0 text-quiet" aria-hidden />
      <button
        type="button"
        className="min-w-0 flex-1 truncate text-left"
        aria-pressed={selected === part.id}
        onClick={() => {
          store.getState().select(part.id);
          store.getState().selectVertices(null, new Set());
        }}
        onDoubleClick={() => view.getState().setTool('edit')}
      >
        {part.name}
        {state && <span className="ml-1.5 text-quiet text-xs">{state}</span>}
      </button>
      <RowMenu quiet name={part.name} onRename={onRename} onDelete={() => store.getState().commit('Delete part', [{ kind: 'remove', id: part.id }])} />
      <span className="w-4" title={masks && !open ? 'All its curves are closed' : 'It has an open curve'}>
        {masks && !open ? (
          <CircleDot className="size-3.5 text-quiet" aria-label="closed" role="img" />
        ) : (
          <CircleDashed className="size-3.5 text-doubt" aria-label="open" role="img" />
        )}
      </span>
      <IconButton
        label={part.enabled ? `Switch ${part.name} off` : `Switch ${part.name} on`}
        pressed={part.enabled}
        className="!size-6 !border-transparent !bg-transparent"
        onClick={() =>
          store.getState().commit(part.enabled ? 'Switch part off' : 'Switch part on', [{ kind: 'assign', id: part.id, values: { enabled: !part.enabled } }])
        }
      >
        {part.enabled ? <Eye /> : <EyeOff />}
      </IconButton>
    </li>
  );
}
