/** Copies of what is in lanes: to another subject of this shot, or to other shots of the production, as many as are chosen. */
import { useId, useState } from 'react';
import { toast } from 'sonner';
import type { Edit } from '~/core/document/edits.ts';
import { addedEdits, copiedItems } from '~/core/document/library.ts';
import { type LaneItem, ofSubject, type ShotDocument } from '~/core/document/schema.ts';
import { changeElsewhere } from '../state/change-elsewhere.ts';
import { send } from '../state/send.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useWorkbench } from '../state/workbench-context.tsx';
import { Button } from '../ui/controls.tsx';
import { DialogBox } from '../ui/dialog-box.tsx';

export interface ToCopy {
  /** In words: "Title 1", "what is behind Courier". */
  what: string;
  items: readonly LaneItem[];
}

const newId = () => crypto.randomUUID();

/** Edits that put copies at the end of the lanes of a document; what is of a subject comes to the one that is told. */
function insertEdits(document: ShotDocument, items: readonly LaneItem[], subjectFor: (item: LaneItem) => string | null): Edit[] {
  const placed = items.map((item) => ({ ...item, subject: ofSubject(item.lane) ? subjectFor(item) : null }));
  return addedEdits(document, copiedItems(document, placed, newId));
}

export function CopyItems({ copy, onClose }: { copy: ToCopy | null; onClose(): void }) {
  return (
    <DialogBox title={`Copy ${copy?.what}`} open={copy !== null} onClose={onClose}>
      {copy && <Targets copy={copy} onClose={onClose} />}
    </DialogBox>
  );
}

function Targets({ copy: { items, what }, onClose }: { copy: ToCopy; onClose(): void }) {
  const store = useShotStore();
  const { otherShots } = useWorkbench();
  const cast = useShot((s) => s.history.settled.cast);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [busy, setBusy] = useState(false);
  const isOfSubject = items.some((i) => ofSubject(i.lane));
  const from = new Set(items.map((i) => i.subject));
  const subjects = isOfSubject ? cast.filter((s) => !(from.size === 1 && from.has(s.id))) : [];
  const toggle = (id: string) => setChosen((now) => new Set(now.has(id) ? [...now].filter((n) => n !== id) : [...now, id]));

  const copyHere = (subject: string) => {
    const { document, commit } = store.getState();
    commit(
      `Copy ${what}`.slice(0, 120),
      insertEdits(document, items, () => subject),
    );
  };
  const copyThere = async (shot: string, name: string) => {
    const document = await send<ShotDocument>(`/shots/${shot}/document`);
    const subjectFor = (item: LaneItem): string => {
      const called = cast.find((s) => s.id === item.subject)?.name;
      const there = document.cast.find((s) => s.name === called) ?? (document.cast.length === 1 ? document.cast[0] : undefined);
      if (!there) throw new Error(`${name} has no subject called ${called ?? 'that'}: isolate one there, or give it that name.`);
      return there.id;
    };
    await changeElsewhere(shot, `Copy ${what} from another shot`, insertEdits(document, items, subjectFor));
  };
  const copyAll = async () => {
    setBusy(true);
    const done: string[] = [];
    for (const s of subjects) if (chosen.has(s.id)) copyHere(s.id);
    for (const shot of otherShots) {
      if (!chosen.has(shot.id)) continue;
      await copyThere(shot.id, shot.name).then(
        () => done.push(shot.name),
        (error: Error) => void toast.error(error.message, { duration: 15_000 }),
      );
    }
    if (done.length > 0) toast.success(`Copied to ${done.join(', ')}.`);
    onClose();
  };
  if (subjects.length + otherShots.length === 0) return <p>There is no other subject here and no other shot in the production to copy it to.</p>;
  return (
    <>
      <div className="max-h-72 space-y-1 overflow-auto">
        {subjects.map((s) => (
          <Choice key={s.id} label={`${s.name}, in this shot`} checked={chosen.has(s.id)} onChange={() => toggle(s.id)} />
        ))}
        {otherShots.map((s) => (
          <Choice key={s.id} label={`Shot ${s.name}`} checked={chosen.has(s.id)} onChange={() => toggle(s.id)} />
        ))}
      </div>
      <p className="text-quiet text-xs">
        Words, footage, keys and effects go along. What leads to tracks, curves or elements that are not there is let go of.
        {isOfSubject && ' In another shot it comes to the subject of the same name, or to the only one.'}
      </p>
      <div className="flex justify-end gap-2 pt-1">
        <Button onClick={onClose}>Cancel</Button>
        <Button tone="strong" disabled={busy || chosen.size === 0} onClick={() => void copyAll()}>
          Copy
        </Button>
      </div>
    </>
  );
}

function Choice({ label, checked, onChange }: { label: string; checked: boolean; onChange(): void }) {
  const id = useId();
  return (
    <div className="flex items-center gap-2">
      <input id={id} type="checkbox" checked={checked} onChange={onChange} className="size-4 accent-current" />
      <label htmlFor={id} className="min-w-0 flex-1 truncate">
        {label}
      </label>
    </div>
  );
}
