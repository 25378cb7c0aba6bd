/** The cast: subjects near to far, and the parts of each, with the state of every one in sight. */

import { ChevronDown, CircleDashed, CircleDot, Lock, Plus, ScanEye } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { curvesFile } from '~/core/document/curves-file.ts';
import { placedPathsOf, shapeAt, standingAlone, unpinned } from '~/core/document/follow.ts';
import { removeEdits } from '~/core/document/leaders.ts';
import { newJoined } from '~/core/document/part-kinds/joined.ts';
import { newPeel } from '~/core/document/part-kinds/peel.ts';
import { newSpline } from '~/core/document/part-kinds/spline.ts';
import { findPart, pathsOf } from '~/core/document/parts.ts';
import { copyOf, newSubject } from '~/core/document/records.ts';
import type { Part, Subject } from '~/core/document/schema.ts';
import { NO_POINTS } from '../edits/points.ts';
import { type CurvesKind, writeCurves } from '../interchange/curves-in-out.ts';
import { faceOf } from '../settings/part-faces.tsx';
import { keepInLibrary } from '../state/library.ts';
import { useRemark } from '../state/remarks.ts';
import { saveFile } from '../state/save-file.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { EmptyNote, IconButton, PanelTitle } from '../ui/controls.tsx';
import { EyeSwitch } from '../ui/eye-switch.tsx';
import { type Named, RenameDialog } from '../ui/rename-dialog.tsx';
import { RowMenu } from '../ui/row-menu.tsx';
import { SortableList, useSortableRow } from '../ui/sortable.tsx';
import { OUTLINE_HEX } from '../viewer/curves-canvas.ts';
import { BringIn } from './bring-in.tsx';
import { CopyDialog } from './copy-dialog.tsx';
import { type ToTrace, TraceDialog } from './trace-dialog.tsx';
import { TrackList } from './track-list.tsx';

const ROW = 'group flex min-h-8 items-center gap-1 rounded px-1 text-sm';
const OPERATION_MARK: Record<Part['operation'], string> = { add: '+', subtract: '−', intersect: '∩', exclude: '⊻' };
const newId = () => crypto.randomUUID();

export function CastPanel() {
  const store = useShotStore();
  const { view } = useWorkbench();
  const cast = useShot((s) => s.history.settled.cast);
  const solo = useView((s) => s.solo);
  const soloName = findPart({ cast }, solo)?.name;
  const [naming, setNaming] = useState<Named | null>(null);
  const [copying, setCopying] = useState<Part | null>(null);
  const [bringing, setBringing] = useState<string | null>(null);
  const [tracing, setTracing] = useState<ToTrace | null>(null);
  const addSubject = () => {
    const id = newId();
    if (store.getState().commit('Add subject', [{ kind: 'insert', parent: 'cast', index: cast.length, record: newSubject(id, `Subject ${cast.length + 1}`) }]))
      store.getState().select(id);
  };
  return (
    <section aria-label="Cast" className="flex h-full min-h-0 flex-col bg-panel">
      <PanelTitle
        actions={
          <IconButton label="Add a subject" about="One more thing to be isolated, farther than the others." onClick={addSubject}>
            <Plus />
          </IconButton>
        }
      >
        Cast
      </PanelTitle>
      {soloName && (
        <p className="flex items-center gap-2 border-line border-b px-3 py-1 text-xs">
          <span className="min-w-0 flex-1 truncate">
            Only <b>{soloName}</b> is shown; outputs hold all parts.
          </span>
          <button type="button" className="underline" onClick={() => view.getState().set({ solo: null })}>
            Show all
          </button>
        </p>
      )}
      <div className="min-h-0 flex-1 overflow-auto p-1">
        {cast.length === 0 && (
          <EmptyNote>No subject yet. Press Z and paint on one, or D and draw round it: the first stroke or curve makes its own subject.</EmptyNote>
        )}
        <SortableList rows={cast} onMove={(id, index) => store.getState().commit('Change order', [{ kind: 'move', id, index }])}>
          <ul>
            {cast.map((subject) => (
              <SubjectRow
                key={subject.id}
                subject={subject}
                onRename={(id, name) => setNaming({ id, name })}
                onCopy={setCopying}
                onBring={() => setBringing(subject.id)}
                onTrace={setTracing}
              />
            ))}
          </ul>
        </SortableList>
        <TrackList onRename={(id, name) => setNaming({ id, name })} />
      </div>
      <RenameDialog of={naming} onClose={() => setNaming(null)} />
      <CopyDialog part={copying} onClose={() => setCopying(null)} />
      <TraceDialog what={tracing} onClose={() => setTracing(null)} />
      <BringIn subject={cast.find((s) => s.id === bringing) ?? null} onClose={() => setBringing(null)} />
    </section>
  );
}

function SubjectRow({
  subject,
  onRename,
  onCopy,
  onBring,
  onTrace,
}: {
  subject: Subject;
  onRename(id: string, name: string): void;
  onCopy(part: Part): void;
  onBring(): void;
  onTrace(what: ToTrace): void;
}) {
  const store = useShotStore();
  const selected = useShot((s) => s.selected);
  const lanes = useShot((s) => s.history.settled.lanes);
  const place = useShot((s) => s.history.settled.cast.indexOf(subject));
  const { view } = useWorkbench();
  const { rowRef, style, grip } = useSortableRow(subject.id);
  const addSpline = () => {
    const id = newId();
    const spline = newSpline(id, `Spline ${subject.parts.length + 1}`);
    if (store.getState().commit('Add spline', [{ kind: 'insert', parent: subject.id, index: subject.parts.length, record: spline }]))
      store.getState().select(id);
  };
  const addPeel = () => {
    const id = newId();
    const peel = newPeel(id, `Peel ${subject.parts.filter((p) => p.type === 'peel').length + 1}`);
    if (!store.getState().commit('Add Peel', [{ kind: 'insert', parent: subject.id, index: subject.parts.length, record: peel }])) return;
    store.getState().select(id);
    view.getState().setTool('brush');
  };
  const remove = () => {
    // Its effects go with it: they cannot be without a subject.
    const own = lanes.filter((l) => l.subject === subject.id).map((l) => l.id);
    store.getState().commit('Delete subject', removeEdits(store.getState().document, ...own, subject.id));
  };
  const duplicate = () => {
    const record = { ...copyOf(subject, newId), name: `${subject.name} copy` };
    if (store.getState().commit('Duplicate subject', [{ kind: 'insert', parent: 'cast', index: place + 1, record }])) store.getState().select(record.id);
  };
  const others = useShot((s) => s.history.settled.cast).filter((s) => s.id !== subject.id);
  /** A subject of its own of both, or of this one less the other; it stays what they are. */
  const join = (other: Subject, operation: 'add' | 'subtract') => {
    const name = `${subject.name} ${operation === 'add' ? 'and' : 'without'} ${other.name}`.slice(0, 120);
    const parts = [newJoined(newId(), subject.name, subject.id), { ...newJoined(newId(), other.name, other.id), operation }];
    const record = { ...newSubject(newId(), name), parts };
    if (store.getState().commit('Join subjects', [{ kind: 'insert', parent: 'cast', index: place, record }])) store.getState().select(record.id);
  };
  return (
    <li ref={rowRef} style={style}>
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
        {grip(`Move ${subject.name} nearer or farther`)}
        <RowMenu
          quiet
          name={subject.name}
          onRename={() => onRename(subject.id, subject.name)}
          onDelete={remove}
          more={[
            { label: 'Duplicate', act: duplicate },
            { label: 'Add a Peel', act: addPeel },
            { label: 'Bring in curves or a matte …', act: onBring },
            { label: 'Trace its matte into curves …', act: () => onTrace({ subject, part: null }) },
            ...others.flatMap((other) => [
              { label: `New subject: with ${other.name}`, act: () => join(other, 'add') },
              { label: `New subject: without ${other.name}`, act: () => join(other, 'subtract') },
            ]),
          ]}
        />
        <IconButton label={`Add a spline to ${subject.name}`} about="An empty one, to be drawn into." onClick={addSpline} className="!size-6">
          <Plus />
        </IconButton>
      </div>
      <SortableList rows={subject.parts} onMove={(id, index) => store.getState().commit('Change order', [{ kind: 'move', id, index }])}>
        <ul className="ml-4 border-line border-l pl-1">
          {subject.parts.length === 0 && <li className="px-2 py-1 text-quiet text-xs">No part yet: press Z and paint, or D and draw.</li>}
          {subject.parts.map((part) => (
            <PartRow
              key={part.id}
              part={part}
              subject={subject}
              onRename={() => onRename(part.id, part.name)}
              onCopy={() => onCopy(part)}
              onTrace={() => onTrace({ subject, part })}
            />
          ))}
        </ul>
      </SortableList>
    </li>
  );
}

function PartRow({ part, subject, onRename, onCopy, onTrace }: { part: Part; subject: Subject; onRename(): void; onCopy(): void; onTrace(): void }) {
  const store = useShotStore();
  const { view, plate, productionId } = useWorkbench();
  const selected = useShot((s) => s.selected);
  const solo = useView((s) => s.solo) === part.id;
  const { rowRef, style, grip } = useSortableRow(part.id);
  const { icon: Icon, tool } = faceOf(part);
  const paths = pathsOf(part);
  const sound = part.type !== 'spline' || (paths.length > 0 && paths.every((p) => p.closed));
  const remark = useRemark(part.id);
  const assign = (label: string, values: Record<string, boolean>) => store.getState().commit(label, [{ kind: 'assign', id: part.id, values }]);
  const duplicate = () => {
    const record = { ...copyOf(part, newId), name: `${part.name} copy` };
    const index = subject.parts.indexOf(part) + 1;
    if (store.getState().commit('Duplicate part', [{ kind: 'insert', parent: subject.id, index, record }])) store.getState().select(record.id);
  };
  const write = (kind: CurvesKind) => {
    if (part.type !== 'spline') return;
    saveFile(writeCurves(standingAlone(store.getState().document, part), plate, view.getState().frame, kind));
  };
  /** Keeps the curves as they are on this frame, one shape for all time. */
  const keep = async () => {
    const { frame } = view.getState();
    const still = placedPathsOf(store.getState().document, part).map((p) => ({ ...p, shape: { constant: unpinned(shapeAt(p, frame)) } }));
    try {
      const content = curvesFile(part.name, { width: plate.width, height: plate.height }, still);
      await keepInLibrary(productionId, { kind: 'shape', name: part.name, content });
      toast.success(`${part.name} is in the library, for all productions.`);
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'The shape could not be kept.');
    }
  };
  return (
    <li ref={rowRef} style={style} className={`${ROW} ${selected === part.id ? 'bg-raised' : 'hover:bg-raised/60'} ${part.enabled ? '' : 'text-quiet'}`}>
      <span className="w-4 shrink-0 text-center font-mono text-quiet" title={part.operation} aria-hidden>
        {OPERATION_MARK[part.operation]}
      </span>
      <Icon
        className={`size-4 shrink-0 ${part.type === 'spline' ? '' : 'text-quiet'}`}
        style={part.type === 'spline' ? { color: OUTLINE_HEX[part.colour] } : undefined}
        aria-hidden
      />
      <button
        type="button"
        className="min-w-0 flex-1 truncate text-left"
        aria-pressed={selected === part.id}
        onClick={() => {
          store.getState().select(part.id);
          store.getState().selectPoints(NO_POINTS, null);
        }}
        onDoubleClick={() => view.getState().setTool(tool)}
      >
        <span className="block truncate">
          {part.name} {part.inverted && <span className="ml-1.5 text-quiet text-xs">inverted</span>}
        </span>
        {remark && <span className="block pb-1 text-doubt text-xs leading-tight">{remark}</span>}
      </button>
      {grip(`Move ${part.name} up or down`)}
      <RowMenu
        quiet
        name={part.name}
        onRename={onRename}
        onDelete={() => store.getState().commit('Delete part', removeEdits(store.getState().document, part.id))}
        more={[
          { label: 'Duplicate', act: duplicate },
          { label: 'Copy to …', act: onCopy },
          { label: part.locked ? 'Unlock' : 'Lock', act: () => assign(part.locked ? 'Unlock' : 'Lock', { locked: !part.locked }) },
          ...(part.type === 'spline'
            ? [
                { label: 'Write as SVG of this frame', act: () => write('svg') },
                { label: 'Write as SVG, a file a frame', act: () => write('svg-frames') },
                { label: 'Write as SVG that moves', act: () => write('svg-moving') },
                { label: 'Write as JSON', act: () => write('json') },
                { label: 'Save to the library', act: () => void keep() },
              ]
            : [{ label: 'Trace into curves …', act: onTrace }]),
          { label: solo ? 'Show all parts' : 'Show this part alone', act: () => view.getState().set({ solo: solo ? null : part.id }) },
        ]}
      />
      {part.locked && <Lock className="size-3.5 shrink-0 text-quiet" role="img" aria-label="locked" />}
      {solo && <ScanEye className="size-3.5 shrink-0" role="img" aria-label="shown alone" />}
      <span className="w-4" title={part.type !== 'spline' ? undefined : sound ? 'All its curves are closed' : 'It has an open curve'}>
        {part.type !== 'spline' ? null : sound ? (
          <CircleDot className="size-3.5 text-quiet" aria-label="closed" role="img" />
        ) : (
          <CircleDashed className="size-3.5 text-doubt" aria-label="open" role="img" />
        )}
      </span>
      <EyeSwitch
        label={part.enabled ? `Switch ${part.name} off` : `Switch ${part.name} on`}
        about="Switched off, it has no part in the matte."
        on={part.enabled}
        known={part.type !== 'foreign'}
        onSwitch={() => assign(part.enabled ? 'Switch part off' : 'Switch part on', { enabled: !part.enabled })}
      />
    </li>
  );
}
