/** For judging the matte: gamma, change from frame to frame, and the difference from an earlier state. */
import { Trash2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import { applyChange } from '~/core/document/edits.ts';
import type { ShotDocument } from '~/core/document/schema.ts';
import type { SnapshotName } from '~/server/snapshots.ts';
import { send } from '../state/send.ts';
import { useShotStore } from '../state/shot-context.tsx';
import type { ShotStore } from '../state/shot-store.ts';
import { JUDGES, type Judge } from '../state/view-store.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button, IconButton } from '../ui/controls.tsx';
import { NameDialog } from '../ui/name-dialog.tsx';

const WORDS: Record<Judge, string> = { plain: 'As it is', flicker: 'Change from the frame before', difference: 'Difference from' };
const SELECT = 'h-7 rounded border border-line bg-well px-1 text-xs';
const BACK = [1, 5, 20] as const;

/** The document with the newest `count` steps taken back one by one, as far as this page knows them. */
function stepsBack(store: ShotStore, count: number): ShotDocument {
  const { history } = store.getState();
  let document = history.settled;
  const steps = [...history.log.map((l) => l.id), ...history.unsent.map((u) => (u.sent.role === 'do' ? u.sent.change.id : u.sent.id))];
  for (const id of steps.slice(-count).reverse()) {
    const inverse = history.inverses.get(id);
    if (!inverse) break;
    document = applyChange({ ...document, cast: document.cast.map((s) => ({ ...s, approved: [] })) }, inverse).document;
  }
  return document;
}

export function JudgeBar() {
  const { view, pictures } = useWorkbench();
  const store = useShotStore();
  const judge = useView((s) => s.judge);
  const gamma = useView((s) => s.matteGamma);
  const [snapshots, setSnapshots] = useState<SnapshotName[]>([]);
  const [naming, setNaming] = useState(false);
  const [against, setAgainst] = useState('back:1');
  const path = `/shots/${store.getState().shotId}/snapshots`;
  const say = (error: Error) => void toast.error(error.message);
  useEffect(() => {
    if (judge === 'difference') send<SnapshotName[]>(path).then(setSnapshots).catch(say);
  }, [judge, path]);
  const compare = async (to: string) => {
    const [kind, which] = to.split(':');
    try {
      const document = kind === 'back' ? stepsBack(store, Number(which)) : await send<ShotDocument>(`${path}/${which}`);
      setAgainst(to);
      void pictures?.render.setCompared(document);
      view.getState().set({ judge: 'difference', compared: to + Date.now() });
    } catch (error) {
      say(error as Error);
    }
  };
  const keep = (name: string) =>
    send<SnapshotName>(path, { body: { name, document: store.getState().history.settled } })
      .then((kept) => {
        setSnapshots((list) => [...list, kept]);
        toast.success(`The snapshot ${name} is kept with the shot.`);
      })
      .catch(say);
  const remove = (id: string) =>
    send(`${path}/${id}`, { method: 'DELETE' })
      .then(() => {
        setSnapshots((list) => list.filter((s) => s.id !== id));
        return compare('back:1');
      })
      .catch(say);
  return (
    <div
      role="group"
      aria-label="Judging the matte"
      className="absolute right-2 bottom-2 z-10 flex cursor-default items-center gap-2 rounded border border-line bg-panel/95 px-2 py-1"
      onPointerDown={(e) => e.stopPropagation()}
      onPointerMove={(e) => e.stopPropagation()}
    >
      <select
        aria-label="How the matte is shown"
        className={SELECT}
        value={judge}
        onChange={(e) => (e.target.value === 'difference' ? void compare(against) : view.getState().set({ judge: e.target.value as Judge }))}
      >
        {JUDGES.map((j) => (
          <option key={j} value={j}>
            {WORDS[j]}
          </option>
        ))}
      </select>
      {judge === 'difference' && (
        <>
          <select aria-label="Compared with" className={SELECT} value={against} onChange={(e) => void compare(e.target.value)}>
            {BACK.map((n) => (
              <option key={n} value={`back:${n}`}>
                {n === 1 ? 'before the last edit' : `before the last ${n} edits`}
              </option>
            ))}
            {snapshots.map((s) => (
              <option key={s.id} value={`snapshot:${s.id}`}>
                {s.name}
              </option>
            ))}
          </select>
          <Button className="!h-7 text-xs" title="Keeps the shot as it is now under a name, to compare with later" onClick={() => setNaming(true)}>
            Snapshot …
          </Button>
          {against.startsWith('snapshot:') && (
            <IconButton label="Delete this snapshot" about="The shot itself stays as it is." onClick={() => void remove(against.split(':')[1])}>
              <Trash2 />
            </IconButton>
          )}
          <NameDialog
            title="Keep a snapshot of this shot"
            label="Name"
            start={`Snapshot ${snapshots.length + 1}`}
            confirm="Keep"
            open={naming}
            onOpenChange={setNaming}
            onName={keep}
          />
        </>
      )}
      {judge === 'plain' && (
        <label className="flex items-center gap-1 text-quiet text-xs" title="Gamma of the matte as it is shown: up shows faint alpha, down shows holes">
          γ
          <input
            type="range"
            aria-label="Gamma of the matte as shown"
            min={-3}
            max={3}
            step={0.5}
            value={Math.log2(gamma)}
            onChange={(e) => view.getState().set({ matteGamma: 2 ** e.target.valueAsNumber })}
            className="w-16 accent-ink"
          />
          <span className="w-7 font-mono">{gamma.toFixed(gamma < 1 ? 2 : 1)}</span>
        </label>
      )}
    </div>
  );
}
