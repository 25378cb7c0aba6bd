/** Choosing the shot whose footage goes under the work of another. */
import { useId, useState } from 'react';
import type { ShotSummary } from '~/server/shots.ts';
import { Button } from './controls.tsx';
import { DialogBox } from './dialog-box.tsx';

/** Shots that can swap their footage with `shot`: of the same size, with a picture of their own. */
const partnersOf = (shot: ShotSummary, shots: readonly ShotSummary[]): ShotSummary[] =>
  shots.filter((s) => s.id !== shot.id && s.state === 'ready' && s.cover === s.plateId && s.width === shot.width && s.height === shot.height);

export function SwapFootage({
  shot,
  shots,
  onClose,
  onSwap,
}: {
  /** Null: closed. */
  shot: ShotSummary | null;
  shots: readonly ShotSummary[];
  onClose(): void;
  onSwap(other: ShotSummary): void;
}) {
  return (
    <DialogBox title={`Swap the footage of ${shot?.name}`} open={shot !== null} width="w-[28rem]" onClose={onClose}>
      {shot && <Choice shot={shot} partners={partnersOf(shot, shots)} onClose={onClose} onSwap={onSwap} />}
    </DialogBox>
  );
}

function Choice({
  shot,
  partners,
  onClose,
  onSwap,
}: {
  shot: ShotSummary;
  partners: readonly ShotSummary[];
  onClose(): void;
  onSwap(other: ShotSummary): void;
}) {
  const [chosen, setChosen] = useState<string | null>(null);
  const group = useId();
  const other = partners.find((s) => s.id === chosen);
  return (
    <form
      className="space-y-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (other) onSwap(other);
      }}
    >
      <p className="text-quiet">
        Bring the new take in as a shot of its own, then choose it here. What was made in each shot stays, on the footage of the other; swapping again takes it
        back. What lies beyond the end of shorter footage is kept and not seen.
      </p>
      {partners.length === 0 && (
        <p className="text-doubt">
          No other shot of this production is ready and {shot.width}×{shot.height}.
        </p>
      )}
      <ul className="max-h-64 overflow-auto">
        {partners.map((s) => (
          <li key={s.id}>
            <label className="flex items-center gap-2 py-1">
              <input type="radio" name={group} checked={chosen === s.id} onChange={() => setChosen(s.id)} />
              <span className="min-w-0 flex-1 truncate">
                {s.name} <span className="text-quiet text-xs">{s.sourceName}</span>
              </span>
              <span className="text-quiet text-xs">
                {s.frames} frames{s.frames === shot.frames ? '' : (s.frames ?? 0) > (shot.frames ?? 0) ? ', longer' : ', shorter'}
              </span>
            </label>
          </li>
        ))}
      </ul>
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Close</Button>
        <Button type="submit" tone="strong" disabled={!other}>
          Swap
        </Button>
      </div>
    </form>
  );
}
