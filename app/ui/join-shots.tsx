/** Joining shots of a production: which, in which order, by which way, and who stays on top meanwhile. */
import { Link2 } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import { useRevalidator } from 'react-router';
import { toast } from 'sonner';
import { isJoinWay, JOIN_WAYS, type JoinWay, joinedTimes } from '~/core/compose/joined.ts';
import { wayElement } from '~/core/elements/way.ts';
import { toTimecode } from '~/core/time/timecode.ts';
import type { Showable } from '~/server/shots.ts';
import { send } from '../state/send.ts';
import { Button, TEXT_FIELD } from './controls.tsx';

const WAY = wayElement.settings.way;
const labelOf = (id: JoinWay): string => (WAY.kind === 'choice' ? (WAY.options.find((o) => o.id === id)?.label ?? id) : id);

export function JoinShots({ productionId, shots }: { productionId: string; shots: readonly Showable[] }) {
  const [open, setOpen] = useState(false);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger asChild>
        <Button className="mb-3" title="A new shot that shows some of these one after the other, with a way from each to the next">
          <Link2 className="size-4" aria-hidden /> Join shots …
        </Button>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content
          aria-describedby={undefined}
          className="-translate-x-1/2 fixed top-[8vh] left-1/2 z-50 flex max-h-[84vh] w-[min(34rem,94vw)] flex-col gap-3 overflow-auto rounded-lg border border-line bg-panel p-5 text-sm shadow-xl"
        >
          <Dialog.Title className="font-semibold text-base">Join shots</Dialog.Title>
          <Form productionId={productionId} shots={shots} onClose={() => setOpen(false)} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Field({ label, children }: { label: string; children: ReactNode }) {
  return (
    // The control is among the children.
    <label className="grid grid-cols-[7rem_1fr] items-center gap-2">
      <span className="text-quiet">{label}</span>
      {children}
    </label>
  );
}

const NOBODY = '';

function Form({ productionId, shots, onClose }: { productionId: string; shots: readonly Showable[]; onClose(): void }) {
  const { revalidate } = useRevalidator();
  const [order, setOrder] = useState<readonly string[]>([]);
  const [way, setWay] = useState<JoinWay>('dissolve');
  const [takes, setTakes] = useState(12);
  const [held, setHeld] = useState(NOBODY);
  const [given, setGiven] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const chosen = order.flatMap((id) => shots.find((s) => s.id === id) ?? []);
  const subjects = chosen.flatMap((s) => s.subjects.map((subject) => ({ id: `${s.id}/${subject.id}`, label: `${s.name}: ${subject.name}` })));
  const kept = subjects.some((s) => s.id === held) ? held : NOBODY;
  const name =
    given ??
    chosen
      .map((s) => s.name)
      .join(' to ')
      .slice(0, 120);
  const frames = chosen.length > 1 ? joinedTimes({ shots: chosen, takes }).frames : null;
  const toggle = (id: string) => setOrder((now) => (now.includes(id) ? now.filter((o) => o !== id) : [...now, id]));
  const join = async () => {
    setBusy(true);
    const [shot, subject] = kept.split('/');
    try {
      await send(`/productions/${productionId}/joined`, { body: { name, shots: order, way, takes, held: kept ? { shot, subject } : null } });
      toast.success(`"${name}" comes in. What it shows, and each way, is changed on its Compose bench.`);
      onClose();
      void revalidate();
    } catch (error) {
      toast.error((error as Error).message);
      setBusy(false);
    }
  };
  return (
    <form
      className="contents"
      onSubmit={(event) => {
        event.preventDefault();
        void join();
      }}
    >
      <fieldset>
        <legend className="mb-1 text-quiet">Shots, in the order in which they are chosen</legend>
        <ul className="max-h-60 space-y-1 overflow-auto">
          {shots.map((shot) => {
            const place = order.indexOf(shot.id);
            return (
              <li key={shot.id}>
                <label className="flex items-center gap-3 rounded px-1 py-1 hover:bg-raised">
                  <input type="checkbox" checked={place >= 0} onChange={() => toggle(shot.id)} className="size-4 accent-current" />
                  <span aria-hidden className="w-4 text-right font-mono text-quiet">
                    {place >= 0 ? place + 1 : ''}
                  </span>
                  <img src={`/plates/${shot.plateId}/proxy/${Math.floor(shot.frames / 2)}`} alt="" className="h-9 w-16 rounded bg-well object-cover" />
                  <span className="min-w-0 flex-1 truncate">{shot.name}</span>
                  <span className="text-quiet text-xs">{toTimecode(shot.finished ?? shot.frames, shot.rate)}</span>
                </label>
              </li>
            );
          })}
        </ul>
      </fieldset>
      <Field label="Way">
        <select className={TEXT_FIELD} value={way} onChange={(e) => isJoinWay(e.target.value) && setWay(e.target.value)}>
          {JOIN_WAYS.map((id) => (
            <option key={id} value={id}>
              {labelOf(id)}
            </option>
          ))}
        </select>
      </Field>
      <Field label="Takes, frames">
        <input
          type="number"
          min={0}
          max={10_000}
          className={TEXT_FIELD}
          value={takes}
          onChange={(e) => setTakes(Math.max(0, Math.min(10_000, Math.round(Number(e.target.value) || 0))))}
        />
      </Field>
      <Field label="Stays on top">
        <select className={TEXT_FIELD} value={kept} disabled={subjects.length === 0} onChange={(e) => setHeld(e.target.value)}>
          <option value={NOBODY}>{subjects.length === 0 ? 'No subject in these shots' : 'Nobody'}</option>
          {subjects.map(({ id, label }) => (
            <option key={id} value={id}>
              {label}
            </option>
          ))}
        </select>
      </Field>
      <Field label="Name">
        <input className={TEXT_FIELD} maxLength={120} value={name} onChange={(e) => setGiven(e.target.value)} />
      </Field>
      <p className="text-quiet text-xs">
        {frames === null
          ? 'Choose two shots or more.'
          : `A shot of ${frames} frames, as large and as fast as the first. It shows the finished pictures as they are: what is changed in those shots changes here.`}
      </p>
      <div className="flex justify-end gap-2">
        <Dialog.Close asChild>
          <Button>Cancel</Button>
        </Dialog.Close>
        <Button type="submit" tone="strong" disabled={busy || chosen.length < 2 || !name.trim()}>
          Join
        </Button>
      </div>
    </form>
  );
}
