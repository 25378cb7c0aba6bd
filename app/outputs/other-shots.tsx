/** The same outputs of other shots of the production. */
import { useState } from 'react';
import { toast } from 'sonner';
import type { OutputWish } from '~/core/document/library.ts';
import type { OutputSpec } from '~/server/outputs/format.ts';
import type { Showable } from '~/server/shots.ts';
import { send } from '../state/send.ts';
import { useWorkbench } from '../state/workbench-context.tsx';
import { Button } from '../ui/controls.tsx';
import { DialogBox } from '../ui/dialog-box.tsx';

interface Props {
  /** Null: closed. */
  wishes: readonly OutputWish[] | null;
  /** Of each: the name of the subject that it is of here. */
  subjectNames: readonly (string | null)[];
  onClose(): void;
}

export function OtherShots({ wishes, subjectNames, onClose }: Props) {
  return (
    <DialogBox title="The same of other shots" open={wishes !== null} onClose={onClose}>
      {wishes && <Choice wishes={wishes} subjectNames={subjectNames} onClose={onClose} />}
    </DialogBox>
  );
}

/** The subject of another shot that is meant: the one of that name, or the only one there is. */
const subjectIn = (shot: Showable, name: string | null) =>
  shot.subjects.find((s) => s.name === name) ?? (shot.subjects.length === 1 ? shot.subjects[0] : undefined);

function Choice({ wishes, subjectNames, onClose }: Props & { wishes: readonly OutputWish[] }) {
  const { otherShots, formats } = useWorkbench();
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [busy, setBusy] = useState(false);
  const isOfSubject = (wish: OutputWish) => formats.find((f) => f.id === wish.kind)?.of === 'subject';
  /** What cannot be written of a shot, in words. */
  const lacks = (shot: Showable): string | null =>
    wishes.some((wish, i) => isOfSubject(wish) && !subjectIn(shot, subjectNames[i]))
      ? shot.subjects.length === 0
        ? 'no subject yet'
        : `no subject called ${subjectNames.find((name) => name && !subjectIn(shot, name)) ?? 'so'}`
      : null;
  const toggle = (id: string) => setChosen((now) => new Set(now.has(id) ? [...now].filter((n) => n !== id) : [...now, id]));
  const write = async () => {
    setBusy(true);
    let asked = 0;
    try {
      for (const shot of otherShots.filter((s) => chosen.has(s.id))) {
        const outputs = wishes.map(({ kind, options, delivery }, i): OutputSpec => {
          const subject = isOfSubject(wishes[i]) ? { subject: subjectIn(shot, subjectNames[i])?.id } : {};
          return { kind, ...subject, ...options, first: 0, last: shot.frames - 1, delivery };
        });
        await send(`/shots/${shot.id}/outputs`, { body: { outputs } });
        asked++;
      }
      toast.success(`${asked} ${asked === 1 ? 'shot is' : 'shots are'} being written. What was written is on the Output bench of each.`);
      onClose();
    } catch (error) {
      toast.error(`${asked} of ${chosen.size} shots are being written. ${(error as Error).message}`);
    } finally {
      setBusy(false);
    }
  };
  return (
    <form
      className="space-y-3"
      onSubmit={(e) => {
        e.preventDefault();
        void write();
      }}
    >
      <p className="text-quiet">All frames of each shot. What is of a subject is of the one with the same name, or of the only one.</p>
      <ul className="max-h-64 overflow-auto">
        {otherShots.map((shot) => (
          <li key={shot.id}>
            <label className="flex items-center gap-2 py-1">
              <input type="checkbox" disabled={lacks(shot) !== null} checked={chosen.has(shot.id)} onChange={() => toggle(shot.id)} />
              <span className="min-w-0 flex-1 truncate">{shot.name}</span>
              <span className="text-quiet text-xs">{lacks(shot) ?? `${shot.frames} frames`}</span>
            </label>
          </li>
        ))}
      </ul>
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Close</Button>
        <Button type="submit" tone="strong" disabled={busy || chosen.size === 0}>
          Write {chosen.size > 0 ? `${chosen.size} ${chosen.size === 1 ? 'shot' : 'shots'}` : ''}
        </Button>
      </div>
    </form>
  );
}
