/** For judging the matte: gamma, change from frame to frame, and the difference from an earlier state. */
import { useState } from 'react';
import { applyChange } from '~/core/document/edits.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { JUDGES, type Judge } from '../state/view-store.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button } from '../ui/controls.tsx';

const WORDS: Record<Judge, string> = { plain: 'As it is', flicker: 'Change from the frame before', difference: 'Difference from' };
const SELECT = 'h-7 rounded border border-line bg-well px-1 text-xs';
const BACK = [1, 5, 20] as const;

export function JudgeBar() {
  const { view, pictures } = useWorkbench();
  const store = useShotStore();
  const judge = useView((s) => s.judge);
  const gamma = useView((s) => s.matteGamma);
  const [snapshots, setSnapshots] = useState<{ name: string; document: ReturnType<typeof store.getState>['document'] }[]>([]);
  const [against, setAgainst] = useState('back:1');
  const compare = (to: string) => {
    setAgainst(to);
    const { history } = store.getState();
    const [kind, which] = to.split(':');
    let document = snapshots[Number(which)]?.document ?? history.settled;
    if (kind === 'back') {
      // The newest steps taken back one by one, as far as this page knows them.
      document = history.settled;
      const steps = [...history.log.map((l) => l.id), ...history.unsent.map((u) => (u.sent.role === 'do' ? u.sent.change.id : u.sent.id))];
      for (const id of steps.slice(-Number(which)).reverse()) {
        const inverse = history.inverses.get(id);
        if (!inverse) break;
        document = applyChange({ ...document, cast: document.cast.map((s) => ({ ...s, approved: [] })) }, inverse).document;
      }
    }
    void pictures?.render.setCompared(document);
    view.getState().set({ judge: 'difference', compared: to + Date.now() });
  };
  return (
    <div
      role="group"
      aria-label="Judging the matte"
      className="absolute right-2 bottom-2 z-10 flex cursor-default items-center gap-2 rounded border border-line bg-panel/95 px-2 py-1"
      onPointerDown={(e) => e.stopPropagation()}
      onPointerMove={(e) => e.stopPropagation()}
      onKeyDown={(e) => e.stopPropagation()}
    >
      <select
        aria-label="How the matte is shown"
        className={SELECT}
        value={judge}
        onChange={(e) => (e.target.value === 'difference' ? compare(against) : view.getState().set({ judge: e.target.value as Judge }))}
      >
        {JUDGES.map((j) => (
          <option key={j} value={j}>
            {WORDS[j]}
          </option>
        ))}
      </select>
      {judge === 'difference' && (
        <>
          <select aria-label="Compared with" className={SELECT} value={against} onChange={(e) => compare(e.target.value)}>
            {BACK.map((n) => (
              <option key={n} value={`back:${n}`}>
                {n === 1 ? 'before the last edit' : `before the last ${n} edits`}
              </option>
            ))}
            {snapshots.map((s, i) => (
              <option key={s.name} value={`snapshot:${i}`}>
                {s.name}
              </option>
            ))}
          </select>
          <Button
            className="!h-7 text-xs"
            title="Keeps the matte as it is now to compare with, while this page is open"
            onClick={() => setSnapshots([...snapshots, { name: `Snapshot ${snapshots.length + 1}`, document: store.getState().history.settled }])}
          >
            Snapshot
          </Button>
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
